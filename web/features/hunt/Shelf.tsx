import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, lazy, Suspense, useState } from 'react';
import { Form } from 'react-bootstrap';
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
import { FieldsForm, SwitchField, TextField } from '../../kit/form.js';
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

interface Keeping {
  readonly name: string;
  readonly folder: string;
  readonly description: string;
  /** Commas between them. */
  readonly tags: string;
  readonly shared: boolean;
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
  return (
    <FieldsForm<Keeping>
      label="Save this hunt"
      className="inset py-1 d-grid gap-1"
      begin={{ name: '', folder: '', description: '', tags: '', shared: false }}
      send="Save"
      maySend={({ name }) => name.trim() !== ''}
      isSending={pending}
      failure={null}
      onSend={({ name, folder, description, tags, shared }) =>
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
        })
      }
    >
      <TextField<Keeping> name="name" label="Name" autoFocus maxLength={120} />
      <TextField<Keeping> name="folder" label="Folder" maxLength={80} />
      <TextField<Keeping> name="description" label="What for" maxLength={2000} />
      <TextField<Keeping> name="tags" label="Tags" maxLength={200} />
      <SwitchField<Keeping> name="shared" label="Share with everyone" />
    </FieldsForm>
  );
}
