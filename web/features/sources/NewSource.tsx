import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, type JSX, useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { listRecipes } from '../../../core/wire/endpoints/recipes.js';
import { addSource } from '../../../core/wire/endpoints/sources.js';
import { about, answerTo, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { ShownKey } from './ShownKey.js';

/** Adds a source: a name, a title, a recipe; then its key is shown, this once. */
export function NewSource({ onMade }: { onMade: (name: string) => void }): JSX.Element | null {
  const person = usePerson();
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState('');
  const [title, setTitle] = useState('');
  const [recipe, setRecipe] = useState('');
  const recipes = useQuery({ ...answerTo(listRecipes), enabled: open });
  const chosen = recipe === '' ? (recipes.data?.recipes[0]?.name ?? '') : recipe;
  const add = useMutation({
    mutationFn: () => call(addSource, { body: { name, title, recipe: chosen } }),
    onSuccess: () => client.invalidateQueries(about('sources')),
  });
  if (person.role !== 'admin') return null;
  const close = (): void => {
    setOpen(false);
    if (add.isSuccess) onMade(name);
    add.reset();
    setName('');
    setTitle('');
  };
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    add.mutate();
  };
  return (
    <>
      <Button variant="outline-secondary" onClick={() => setOpen(true)}>
        Add a source
      </Button>
      <Modal show={open} onHide={close} aria-label="Add a source">
        <Modal.Header closeButton>
          <Modal.Title>Add a source</Modal.Title>
        </Modal.Header>
        {add.data !== undefined ? (
          <Modal.Body>
            <ShownKey source={name} secret={add.data.key} />
          </Modal.Body>
        ) : (
          <form onSubmit={submit}>
            <Modal.Body className="d-grid gap-2">
              <Form.Group controlId="source-name">
                <Form.Label className="sm mb-0">Name</Form.Label>
                <Form.Control
                  required
                  pattern="[a-z0-9][a-z0-9_.\-]{0,62}"
                  title="Small letters, digits, _ . -"
                  value={name}
                  onChange={(event) => setName(event.target.value)}
                />
                <Form.Text className="xs">
                  As senders and hunts write it: small letters, digits, _ . -
                </Form.Text>
              </Form.Group>
              <Form.Group controlId="source-title">
                <Form.Label className="sm mb-0">Title</Form.Label>
                <Form.Control required value={title} onChange={(event) => setTitle(event.target.value)} />
              </Form.Group>
              <Form.Group controlId="source-recipe">
                <Form.Label className="sm mb-0">Recipe</Form.Label>
                <Form.Select value={chosen} onChange={(event) => setRecipe(event.target.value)}>
                  {recipes.data?.recipes.map((one) => (
                    <option key={one.name} value={one.name}>
                      {one.title}
                    </option>
                  ))}
                </Form.Select>
              </Form.Group>
              {add.isError && (
                <p className="sm" role="alert" style={{ color: 'var(--sev-4)' }}>
                  {add.error.message}
                </p>
              )}
            </Modal.Body>
            <Modal.Footer>
              <Button type="submit" variant="primary" disabled={add.isPending}>
                Add it
              </Button>
            </Modal.Footer>
          </form>
        )}
      </Modal>
    </>
  );
}
