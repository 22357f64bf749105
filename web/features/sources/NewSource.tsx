import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type ChangeEvent, type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { listRecipes, saveRecipe, tryRecipe } from '../../../core/wire/endpoints/recipes.js';
import { sendRecords } from '../../../core/wire/endpoints/intake.js';
import { addSource } from '../../../core/wire/endpoints/sources.js';
import type { SentBodyOf } from '../../../core/wire/endpoint.js';
import type { RecipeTried } from '../../../core/wire/sources.js';
import { about, addressOf, answerTo, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { Dialog } from '../../kit/Dialog.js';
import { ChoiceField, FieldsForm, TextField } from '../../kit/form.js';
import { counted } from '../../ui/format.js';
import { Failed, Reading } from '../../ui/State.js';
import { sampleOf } from './sample-of.js';
import { ShownKey } from './ShownKey.js';

type NewSourceBody = SentBodyOf<typeof addSource>;

/** The recipe of its own that is made from the sample, among the choices. */
const OWN = ' own';

/** Adds a source: a pasted sample finds its recipe, or makes one; then its key is shown, this once. */
export function NewSource({ onMade }: { onMade: (name: string) => void }): JSX.Element | null {
  const person = usePerson();
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const [sample, setSample] = useState('');
  const recipes = useQuery({ ...answerTo(listRecipes), enabled: open });
  const found = useMutation({ mutationFn: (text: string) => call(tryRecipe, { body: { sample: text } }) });
  const add = useMutation({
    mutationFn: async (body: NewSourceBody) => {
      if (body.recipe !== OWN) return call(addSource, { body });
      const draft = { ...found.data?.recipe, name: body.name, title: body.title };
      await call(saveRecipe, { body: draft as never });
      return call(addSource, { body: { ...body, recipe: body.name } });
    },
    onSuccess: () => client.invalidateQueries(about('sources')),
  });
  const send = useMutation({
    mutationFn: async ({ source, key }: { source: string; key: string }) => {
      const response = await fetch(`/api/v1${addressOf(sendRecords, { params: { source } })}`, {
        method: 'POST',
        headers: { Authorization: `Bearer ${key}` },
        body: sample,
      });
      const told = (await response.json()) as { stored?: number; setAside?: number; detail?: string };
      if (!response.ok) throw new Error(told.detail ?? 'They were not taken.');
      return told;
    },
    onSuccess: () => client.invalidateQueries(about('sources')),
  });
  if (person.role !== 'admin') return null;
  const close = (): void => {
    setOpen(false);
    if (add.isSuccess) onMade(add.variables.name);
    add.reset();
    found.reset();
    send.reset();
    setSample('');
  };
  const look = (text: string): void => {
    setSample(text);
    if (text.trim() === '') found.reset();
    else found.mutate(text);
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
                    disabled={send.isPending || send.isSuccess}
                    onClick={() => send.mutate({ source: add.variables.name, key: add.data.key })}
                  >
                    Send the sample as its first records
                  </Button>
                  <span className="sm" role="status">
                    {send.isSuccess &&
                      `${counted(send.data.stored ?? 0, 'event')} stored${
                        (send.data.setAside ?? 0) > 0 ? `, ${send.data.setAside} set aside` : ''
                      }`}
                  </span>
                </div>
              )}
              {send.isError && <Failed title="They were not sent">{send.error.message}</Failed>}
            </>
          ) : recipes.data === undefined ? (
            <Reading title="Fetching the recipes" />
          ) : (
            <>
              <Sample text={sample} busy={found.isPending} onLook={look} />
              {found.isError && <Failed title="The sample cannot be looked at">{found.error.message}</Failed>}
              {found.data !== undefined && <Seen tried={found.data} />}
              <FieldsForm<NewSourceBody>
                key={found.data === undefined ? '' : `${found.submittedAt}`}
                label="Source"
                className="d-grid gap-2"
                begin={{
                  name: '',
                  title: '',
                  recipe:
                    found.data === undefined
                      ? (recipes.data.recipes[0]?.name ?? '')
                      : (found.data.fitting[0]?.name ?? OWN),
                }}
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
                  choices={choicesOf(recipes.data.recipes, found.data)}
                />
              </FieldsForm>
            </>
          )}
        </Dialog>
      )}
    </>
  );
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

function Sample({
  text,
  busy,
  onLook,
}: {
  text: string;
  busy: boolean;
  onLook: (text: string) => void;
}): JSX.Element {
  return (
    <Form.Group controlId="source-sample" className="mb-2">
      <Form.Label className="sm mb-0">
        A sample of its records: paste some lines, or choose a file{' '}
        {busy && <span className="soft">(looking)</span>}
      </Form.Label>
      <Form.Control
        as="textarea"
        rows={4}
        autoFocus
        className="mono sm"
        value={text}
        placeholder="Nov 14 08:03:12 gate-01 sshd[811]: Failed password for teo.marrash from 198.18.40.77 port 51234 ssh2"
        onChange={(event) => onLook(event.target.value)}
      />
      <input
        type="file"
        className="sm mt-1"
        aria-label="A file as the sample"
        onChange={(event: ChangeEvent<HTMLInputElement>) => {
          const file = event.target.files?.[0];
          if (file !== undefined) void sampleOf(file).then(onLook);
        }}
      />
    </Form.Group>
  );
}

const SHOWN = 3;
const LEFT_OUT: ReadonlySet<string> = new Set(['message', 'received']);

/** What was seen in the sample, and the first records as a recipe of its own would read them. */
function Seen({ tried }: { tried: RecipeTried }): JSX.Element {
  const left = tried.coverage.filter(({ used }) => !used).length;
  const events = tried.records.filter(({ became }) => became === 'event');
  return (
    <div className="sm mb-2" role="status">
      <p className="mb-1">
        {counted(tried.records.length, 'record')}
        {tried.fitting.length > 0
          ? `: ${tried.fitting[0]?.title ?? ''} reads them.`
          : ` of ${tried.recognised.format}. No recipe that ships reads them: one of its own is made, ${
              left === 0
                ? 'with nothing left to map'
                : `with ${counted(left, 'field')} left as the source calls them`
            }.`}
      </p>
      {tried.fitting.length === 0 && (
        <ul className="mono xs mb-0 anywhere">
          {events.slice(0, SHOWN).map(({ raw, event }) => (
            <li key={raw}>
              {Object.entries(event ?? {})
                .filter(([name]) => !LEFT_OUT.has(name))
                .map(([name, value]) => `${name}=${String(value)}`)
                .join(' ')}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
