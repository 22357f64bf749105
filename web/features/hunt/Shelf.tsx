import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, type JSX, lazy, Suspense, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import {
  changeSavedHunt,
  keepHunt,
  listSavedHunts,
  removeSavedHunt,
} from '../../../core/wire/endpoints/saved-hunts.js';
import type { NewSavedHunt, SavedHunt, SavedHuntChange } from '../../../core/wire/saved-hunts.js';
import { OnABoard } from '../../boards/OnABoard.js';
import { about, answerTo, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { RemoveButton } from '../../kit/RemoveButton.js';
import { Empty, Failed } from '../../ui/State.js';

const HuntVersions = lazy(async () => ({ default: (await import('./HuntVersions.js')).HuntVersions }));

interface ShelfProps {
  /** The text that would be kept. */
  readonly text: string;
  readonly onOpen: (text: string) => void;
}

const fits = ({ name, description, folder, tags }: SavedHunt, looked: string): boolean =>
  [name, description, folder, ...tags].join(' ').toLowerCase().includes(looked.trim().toLowerCase());

/** Hunts by folder, in the order they come. */
function byFolder(hunts: readonly SavedHunt[]): [string, SavedHunt[]][] {
  const folders = new Map<string, SavedHunt[]>();
  for (const hunt of hunts) folders.set(hunt.folder, [...(folders.get(hunt.folder) ?? []), hunt]);
  return [...folders];
}

/** Hunts that are kept: one's own and those that are shared, to open, keep and change. */
export function Shelf({ text, onOpen }: ShelfProps): JSX.Element {
  const person = usePerson();
  const client = useQueryClient();
  const [looked, setLooked] = useState('');
  const [keeping, setKeeping] = useState(false);
  /** A hunt whose versions are looked at. */
  const [versions, setVersions] = useState<SavedHunt | null>(null);
  /** A hunt whose removal waits for a second press: its versions go with it. */
  const hunts = useQuery(answerTo(listSavedHunts));
  const refresh = (): void => {
    setKeeping(false);
    void client.invalidateQueries(about('saved-hunts'));
  };
  const keep = useMutation({
    mutationFn: (body: NewSavedHunt) => call(keepHunt, { body }),
    onSuccess: refresh,
  });
  const change = useMutation({
    mutationFn: ({ id, ...body }: SavedHuntChange & { id: number }) =>
      call(changeSavedHunt, { params: { id }, body }),
    onSuccess: refresh,
  });
  const remove = useMutation({
    mutationFn: (id: number) => call(removeSavedHunt, { params: { id } }),
    onSuccess: refresh,
  });
  const shown = (hunts.data?.hunts ?? []).filter((hunt) => fits(hunt, looked));
  const failure = keep.error ?? change.error ?? remove.error;
  return (
    <section aria-label="Saved hunts">
      {failure !== null && <Failed title="It was not saved">{failure.message}</Failed>}
      {keeping && <KeepForm text={text} pending={keep.isPending} onKeep={(hunt) => keep.mutate(hunt)} />}
      <div className="inset py-2 d-flex gap-2 align-items-center">
        <Form.Control
          size="sm"
          type="search"
          placeholder="Find by name, tag or folder"
          aria-label="Find a hunt"
          value={looked}
          onChange={(event) => setLooked(event.target.value)}
        />
        <button type="button" className="link xs nowrap" onClick={() => setKeeping(!keeping)}>
          {keeping ? 'Cancel' : 'Save this hunt'}
        </button>
      </div>
      {hunts.isSuccess && shown.length === 0 && (
        <Empty title={looked === '' ? 'Nothing is saved yet' : 'No hunt fits'}>
          {looked === ''
            ? 'Save a hunt that you will want again; shared, the others see it too.'
            : 'Try another word.'}
        </Empty>
      )}
      {byFolder(shown).map(([folder, inside]) => (
        <div key={folder}>
          <h2 className="inset xs soft pt-2 mb-0">{folder === '' ? 'Without a folder' : folder}</h2>
          {inside.map((hunt) => (
            <div key={hunt.id} className="row-line saved-hunt">
              <button
                type="button"
                className="link"
                title={hunt.description}
                onClick={() => onOpen(hunt.text)}
              >
                {hunt.name}
              </button>
              {!hunt.shared && <span className="xs soft">only you</span>}
              {hunt.owner === person.name && (
                <span className="own-actions">
                  {text.trim() !== hunt.text.trim() && (
                    <button
                      type="button"
                      className="link xs"
                      onClick={() => change.mutate({ id: hunt.id, text, basedOn: hunt.version })}
                      title={`Version ${hunt.version + 1} with the steps above`}
                    >
                      replace
                    </button>
                  )}
                  {hunt.version > 1 && (
                    <button type="button" className="link xs" onClick={() => setVersions(hunt)}>
                      versions
                    </button>
                  )}
                  <button
                    type="button"
                    className="link xs"
                    onClick={() => change.mutate({ id: hunt.id, shared: !hunt.shared })}
                  >
                    {hunt.shared ? 'unshare' : 'share'}
                  </button>
                  <RemoveButton
                    label="remove"
                    what={hunt.name}
                    className="link xs"
                    onRemove={() => remove.mutate(hunt.id)}
                  />
                </span>
              )}
              <OnABoard hunt={{ saved: hunt.id, version: hunt.version }} title={hunt.name} />
            </div>
          ))}
        </div>
      ))}
      {versions !== null && (
        <Suspense fallback={null}>
          <HuntVersions
            hunt={versions}
            onOpen={(chosen) => {
              setVersions(null);
              onOpen(chosen);
            }}
            onClose={() => setVersions(null)}
          />
        </Suspense>
      )}
    </section>
  );
}

function KeepForm({
  text,
  pending,
  onKeep,
}: {
  text: string;
  pending: boolean;
  onKeep: (hunt: NewSavedHunt) => void;
}): JSX.Element {
  const [name, setName] = useState('');
  const [folder, setFolder] = useState('');
  const [description, setDescription] = useState('');
  const [tags, setTags] = useState('');
  const [shared, setShared] = useState(false);
  const send = (event: FormEvent): void => {
    event.preventDefault();
    onKeep({
      name: name.trim(),
      folder: folder.trim(),
      description: description.trim(),
      tags: tags
        .split(',')
        .map((tag) => tag.trim())
        .filter((tag) => tag !== ''),
      shared,
      text,
    });
  };
  const field = (id: string, label: string, value: string, set: (value: string) => void, most: number) => (
    <Form.Group controlId={id} className="d-flex gap-2 align-items-center pb-1">
      <Form.Label className="sm mb-0 field-name">{label}</Form.Label>
      <Form.Control
        size="sm"
        value={value}
        maxLength={most}
        autoFocus={id === 'keep-name'}
        onChange={(event) => set(event.target.value)}
      />
    </Form.Group>
  );
  return (
    <Form className="inset py-1" aria-label="Save this hunt" onSubmit={send}>
      {field('keep-name', 'Name', name, setName, 120)}
      {field('keep-folder', 'Folder', folder, setFolder, 80)}
      {field('keep-about', 'What for', description, setDescription, 2000)}
      {field('keep-tags', 'Tags', tags, setTags, 200)}
      <div className="d-flex gap-3 align-items-center">
        <Button type="submit" size="sm" variant="outline-secondary" disabled={name.trim() === '' || pending}>
          Save
        </Button>
        <Form.Check
          id="keep-shared"
          label="Share with everyone"
          checked={shared}
          onChange={(event) => setShared(event.target.checked)}
        />
      </div>
    </Form>
  );
}
