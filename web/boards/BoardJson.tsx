import { useMutation } from '@tanstack/react-query';
import { useState, type JSX } from 'react';
import { Button } from 'react-bootstrap';
import type { Board } from '../../core/boards/board.js';
import { checkBoard } from '../../core/wire/endpoints/boards.js';
import { call } from '../api/call.js';
import { Dialog } from '../kit/Dialog.js';
import { DocumentEditor } from '../ui/DocumentEditor.js';

/** A board as JSON: to be taken elsewhere, or changed here. Every mistake is told with its place. */
export function BoardJson({
  board,
  onTake,
  onClose,
}: {
  readonly board: Board;
  /** Takes the text as the board; null where it may not be changed. */
  readonly onTake: ((board: Board) => void) | null;
  readonly onClose: () => void;
}): JSX.Element {
  const [text, setText] = useState(() => `${JSON.stringify(board, null, 2)}\n`);
  const check = useMutation({
    mutationFn: () => call(checkBoard, { body: { text } }),
    onSuccess: ({ board: read }) => {
      if (read !== null) onTake?.(read);
    },
  });
  const mistakes = check.data?.mistakes ?? [];
  const save = (): void => {
    const link = document.createElement('a');
    link.href = `data:application/json;charset=utf-8,${encodeURIComponent(text)}`;
    link.download = `${board.title.replace(/[^\p{L}\p{N}]+/gu, '-').toLowerCase()}.json`;
    link.click();
  };
  return (
    <Dialog
      title="The board as JSON"
      size="xl"
      onClose={onClose}
      foot={
        <>
          <Button variant="outline-secondary" onClick={save}>
            Save as a file
          </Button>
          {onTake !== null && (
            <Button variant="primary" disabled={check.isPending} onClick={() => check.mutate()}>
              Take it
            </Button>
          )}
        </>
      }
    >
      {onTake !== null && (
        <p className="sm">
          Change it here, or put another one in its place{' '}
          <input
            type="file"
            className="sm"
            accept=".json,application/json"
            aria-label="A file to put in its place"
            onChange={(event) => void event.target.files?.[0]?.text().then(setText)}
          />
        </p>
      )}
      <div className="board-json">
        <DocumentEditor
          language="json"
          label="The board as JSON"
          text={text}
          mistake={mistakes[0] ?? null}
          readOnly={onTake === null}
          onChange={setText}
          onKeep={() => check.mutate()}
        />
      </div>
      {check.isError && (
        <p className="card-mistake" role="alert">
          {check.error.message}
        </p>
      )}
      {mistakes.length > 0 && (
        <ul className="card-mistake" role="alert">
          {mistakes.map(({ line, column, message }) => (
            <li key={`${line} ${column} ${message}`}>
              Line {line}, column {column}: {message}
            </li>
          ))}
        </ul>
      )}
    </Dialog>
  );
}
