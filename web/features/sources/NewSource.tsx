import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useDebouncedCallback } from 'use-debounce';
import { listRecipes, saveRecipe, tryRecipe } from '../../../core/wire/endpoints/recipes.js';
import { uploadFile } from '../../../core/wire/endpoints/intake.js';
import { addSource } from '../../../core/wire/endpoints/sources.js';
import type { SentBodyOf } from '../../../core/wire/endpoint.js';
import type { RecipeTried } from '../../../core/wire/sources.js';
import { about, answerTo, call, send } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { Dialog } from '../../kit/Dialog.js';
import { FieldsForm, TextField } from '../../kit/form.js';
import { counted } from '../../ui/format.js';
import { Failed, Reading } from '../../ui/State.js';
import { ShownKey } from './ShownKey.js';
import { Sample, Seen } from './SourceSample.js';

type NewSourceBody = SentBodyOf<typeof addSource>;
type Named = Pick<NewSourceBody, 'name' | 'title'>;

/** A sample that is typed is looked at when the keys have rested so long. */
const REST_MILLISECONDS = 300;

/** The recipe of its own that is made from the sample, among the choices. */
const OWN = ' own';

/** Adds a source: a pasted sample finds its recipe, or makes one; then its key is shown, this once. */
export function NewSource({ onMade }: { onMade: (name: string) => void }): JSX.Element | null {
  const person = usePerson();
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const [sample, setSample] = useState('');
  /** What somebody chose themselves; null while the sample decides. */
  const [chosen, setChosen] = useState<string | null>(null);
  const recipes = useQuery({ ...answerTo(listRecipes), enabled: open });
  const found = useMutation({ mutationFn: (text: string) => call(tryRecipe, { body: { sample: text } }) });
  const known = recipes.data?.recipes ?? [];
  const recipe =
    chosen ?? (found.data === undefined ? known[0]?.name : (found.data.fitting[0]?.name ?? OWN)) ?? '';
  const add = useMutation({
    mutationFn: async (named: Named) => {
      if (recipe !== OWN) return call(addSource, { body: { ...named, recipe } });
      // A recipe of that name may be others' already: theirs is left alone.
      const free = freeName(named.name, known);
      await call(saveRecipe, { body: { ...found.data?.recipe, ...named, name: free } as never });
      return call(addSource, { body: { ...named, recipe: free } });
    },
    onSuccess: () => client.invalidateQueries(about('sources')),
  });
  const first = useMutation({
    mutationFn: (source: string) => send(uploadFile, new Blob([sample]), { params: { source } }),
    onSuccess: () => client.invalidateQueries(about('sources')),
  });
  const look = useDebouncedCallback((text: string) => {
    setChosen(null);
    if (text.trim() === '') found.reset();
    else found.mutate(text);
  }, REST_MILLISECONDS);
  if (person.role !== 'admin') return null;
  const close = (): void => {
    setOpen(false);
    if (add.isSuccess) onMade(add.variables.name);
    add.reset();
    found.reset();
    first.reset();
    setSample('');
    setChosen(null);
  };
  const put = (text: string): void => {
    setSample(text);
    look(text);
  };
  return (
    <>
      <Button variant="outline-secondary" onClick={() => setOpen(true)}>
        Add a source
      </Button>
      {open && (
        <Dialog title="Add a source" size="lg" onClose={close}>
          {add.data !== undefined ? (
            <>
              <ShownKey source={add.variables.name} secret={add.data.key} />
              {sample.trim() !== '' && (
                <div className="d-flex gap-2 align-items-center pt-2">
                  <Button
                    size="sm"
                    variant="primary"
                    disabled={first.isPending || first.isSuccess}
                    onClick={() => first.mutate(add.variables.name)}
                  >
                    Send the sample as its first records
                  </Button>
                  <span className="sm" role="status">
                    {first.isSuccess &&
                      `${counted(first.data.stored, 'event')} stored${
                        first.data.setAside > 0 ? `, ${first.data.setAside} set aside` : ''
                      }`}
                  </span>
                </div>
              )}
              {first.isError && <Failed title="They were not sent">{first.error.message}</Failed>}
            </>
          ) : recipes.data === undefined ? (
            <Reading title="Fetching the recipes" />
          ) : (
            <>
              <Sample text={sample} busy={found.isPending} onLook={put} />
              {found.isError && <Failed title="The sample cannot be looked at">{found.error.message}</Failed>}
              {found.data !== undefined && <Seen tried={found.data} />}
              <FieldsForm<Named>
                label="Source"
                className="d-grid gap-2"
                begin={{ name: '', title: '' }}
                onSend={add.mutate}
                send="Add it"
                isSending={add.isPending}
                failure={add.error}
                failed="It was not added"
              >
                <TextField<Named>
                  name="name"
                  label="Name"
                  hint="As senders and hunts write it: small letters, digits, _ . -"
                  required
                  pattern="[a-z0-9][a-z0-9_.\-]{0,62}"
                  title="Small letters, digits, _ . -"
                />
                <TextField<Named> name="title" label="Title" required />
                <Form.Group controlId="source-recipe">
                  <Form.Label className="sm mb-0">Recipe</Form.Label>
                  <Form.Select size="sm" value={recipe} onChange={(event) => setChosen(event.target.value)}>
                    {choicesOf(known, found.data).map(([name, shown]) => (
                      <option key={name} value={name}>
                        {shown}
                      </option>
                    ))}
                  </Form.Select>
                </Form.Group>
              </FieldsForm>
            </>
          )}
        </Dialog>
      )}
    </>
  );
}

/** A name that no recipe has yet. */
function freeName(name: string, known: readonly { readonly name: string }[]): string {
  const taken = new Set(known.map((one) => one.name));
  for (let i = 1; ; i++) {
    const free = i === 1 ? name : `${name.slice(0, 58)}-${i}`;
    if (!taken.has(free)) return free;
  }
}

/** Those that fit the sample first, then one of its own, then all others. */
function choicesOf(
  all: readonly { readonly name: string; readonly title: string }[],
  tried: RecipeTried | undefined,
): (readonly [string, string])[] {
  const fitting = tried?.fitting ?? [];
  const first = new Set(fitting.map(({ name }) => name));
  return [
    ...fitting.map(({ name, title }) => [name, `fits: ${title}`] as const),
    ...(tried === undefined ? [] : [[OWN, 'a recipe of its own, made from the sample'] as const]),
    ...all.filter(({ name }) => !first.has(name)).map(({ name, title }) => [name, title] as const),
  ];
}
