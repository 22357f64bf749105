import { Reading } from '../../ui/State.js';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button } from 'react-bootstrap';
import type { SentBodyOf } from '../../../core/wire/endpoint.js';
import { listRecipes } from '../../../core/wire/endpoints/recipes.js';
import { addSource } from '../../../core/wire/endpoints/sources.js';
import { about, answerTo, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { Dialog } from '../../kit/Dialog.js';
import { ChoiceField, FieldsForm, TextField } from '../../kit/form.js';
import { ShownKey } from './ShownKey.js';

type NewSourceBody = SentBodyOf<typeof addSource>;

/** Adds a source: a name, a title, a recipe; then its key is shown, this once. */
export function NewSource({ onMade }: { onMade: (name: string) => void }): JSX.Element | null {
  const person = usePerson();
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const recipes = useQuery({ ...answerTo(listRecipes), enabled: open });
  const add = useMutation({
    mutationFn: (body: NewSourceBody) => call(addSource, { body }),
    onSuccess: () => client.invalidateQueries(about('sources')),
  });
  if (person.role !== 'admin') return null;
  const close = (): void => {
    setOpen(false);
    if (add.isSuccess) onMade(add.variables.name);
    add.reset();
  };
  return (
    <>
      <Button variant="outline-secondary" onClick={() => setOpen(true)}>
        Add a source
      </Button>
      {open && (
        <Dialog title="Add a source" onClose={close}>
          {add.data !== undefined ? (
            <ShownKey source={add.variables.name} secret={add.data.key} />
          ) : recipes.data === undefined ? (
            <Reading title="Fetching the recipes" />
          ) : (
            <FieldsForm<NewSourceBody>
              label="Source"
              className="d-grid gap-2"
              begin={{ name: '', title: '', recipe: recipes.data.recipes[0]?.name ?? '' }}
              onSend={add.mutate}
              send="Add it"
              isSending={add.isPending}
              failure={add.error}
              failed="It was not added"
            >
              <TextField<NewSourceBody>
                name="name"
                label="Name"
                hint="As senders and hunts write it: small letters, digits, _ . -"
                required
                pattern="[a-z0-9][a-z0-9_.\-]{0,62}"
                title="Small letters, digits, _ . -"
              />
              <TextField<NewSourceBody> name="title" label="Title" required />
              <ChoiceField<NewSourceBody>
                name="recipe"
                label="Recipe"
                choices={recipes.data.recipes.map((one) => [one.name, one.title])}
              />
            </FieldsForm>
          )}
        </Dialog>
      )}
    </>
  );
}
