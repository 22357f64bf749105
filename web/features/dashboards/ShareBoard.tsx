import type { JSX } from 'react';
import type { Shared } from '../../../core/wire/boards.js';
import { FieldsDialog } from '../../kit/FieldsDialog.js';
import { RadiosField, TextField } from '../../kit/form.js';
import type { BoardPage } from './use-board-page.js';

interface Sharing {
  readonly who: 'me' | 'everyone' | 'named';
  readonly names: string;
}

const namesIn = (text: string): string[] =>
  text
    .split(/[\s,;]+/)
    .map((name) => name.trim().toLowerCase())
    .filter((name) => name !== '');

/** Who sees a board: its owner, people by name, or everyone. */
export function ShareBoard({ page, onClose }: { page: BoardPage; onClose: () => void }): JSX.Element {
  const { kept, board, keep } = page;
  const before: Shared = kept?.shared ?? 'me';
  const send = ({ who, names }: Sharing): void => {
    if (board !== null)
      keep.mutate({ next: board, shared: who === 'named' ? namesIn(names) : who }, { onSuccess: onClose });
  };
  return (
    <FieldsDialog<Sharing>
      title="Who sees this board"
      begin={Array.isArray(before) ? { who: 'named', names: before.join(', ') } : { who: before, names: '' }}
      onSend={send}
      send="Share it so"
      maySend={({ who, names }) => who !== 'named' || namesIn(names).length > 0}
      isSending={keep.isPending}
      failure={keep.error}
      failed="It was not shared"
      onClose={onClose}
    >
      {({ who }) => (
        <>
          <RadiosField<Sharing>
            name="who"
            label="Who sees it"
            choices={[
              ['me', 'only me'],
              ['named', 'these people'],
              ['everyone', 'everyone who may sign in'],
            ]}
          />
          {who === 'named' && (
            <TextField<Sharing>
              name="names"
              label="Names, with commas between them"
              className="mono"
              placeholder="joris.penhale, runa.keel"
              autoFocus
            />
          )}
          <p className="xs soft mb-0">
            They look at it and may make it theirs; only its owner changes it. The link in the address carries
            the Beam and the inputs as they stand.
          </p>
        </>
      )}
    </FieldsDialog>
  );
}
