import { useState, type JSX } from 'react';
import { Button, Form } from 'react-bootstrap';
import type { Shared } from '../../../core/wire/boards.js';
import { Dialog } from '../../kit/Dialog.js';
import type { BoardPage } from './use-board-page.js';

type Who = 'me' | 'everyone' | 'named';

/** Who sees a board: its owner, people by name, or everyone. */
export function ShareBoard({ page, onClose }: { page: BoardPage; onClose: () => void }): JSX.Element {
  const { kept, board, keep } = page;
  const before = kept?.shared ?? 'me';
  const [who, setWho] = useState<Who>(Array.isArray(before) ? 'named' : before);
  const [names, setNames] = useState(Array.isArray(before) ? before.join(', ') : '');
  const list = names
    .split(/[\s,;]+/)
    .map((name) => name.trim().toLowerCase())
    .filter((name) => name !== '');
  const shared: Shared = who === 'named' ? list : who;
  const send = (): void => {
    if (board !== null) keep.mutate({ next: board, shared }, { onSuccess: onClose });
  };
  return (
    <Dialog
      title="Who sees this board"
      onClose={onClose}
      onSend={send}
      foot={
        <Button
          type="submit"
          variant="primary"
          disabled={keep.isPending || (who === 'named' && list.length === 0)}
        >
          Share it so
        </Button>
      }
    >
      <Form.Check
        type="radio"
        name="who"
        id="who-me"
        label="only me"
        checked={who === 'me'}
        onChange={() => setWho('me')}
      />
      <Form.Check
        type="radio"
        name="who"
        id="who-named"
        label="these people"
        checked={who === 'named'}
        onChange={() => setWho('named')}
      />
      {who === 'named' && (
        <Form.Control
          size="sm"
          className="mono mb-2"
          aria-label="Names, with commas between them"
          placeholder="joris.penhale, runa.keel"
          value={names}
          onChange={(event) => setNames(event.target.value)}
        />
      )}
      <Form.Check
        type="radio"
        name="who"
        id="who-everyone"
        label="everyone who may sign in"
        checked={who === 'everyone'}
        onChange={() => setWho('everyone')}
      />
      <p className="xs soft mt-2 mb-0">
        They look at it and may make it theirs; only its owner changes it. The link in the address carries the
        Beam and the inputs as they stand.
      </p>
      {keep.isError && (
        <p className="card-mistake" role="alert">
          {keep.error.message}
        </p>
      )}
    </Dialog>
  );
}
