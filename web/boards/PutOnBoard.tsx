import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type JSX } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useSearchParams } from 'react-router';
import type { Board, Card } from '../../core/boards/board.js';
import { addCard, freshId } from '../../core/boards/layout.js';
import { type PictureKind, pictureKinds } from '../../core/boards/picture-kinds.js';
import { addBoard, changeBoard, listBoards, readBoard } from '../../core/wire/endpoints/boards.js';
import { about, answerTo, call } from '../api/call.js';
import { usePerson } from '../api/session.js';
import { beamSearch } from '../beam/beam.js';
import { Dialog } from '../kit/Dialog.js';
import { pictureNames } from './picture-glyphs.js';

const NEW = '';
const SIZES: Partial<Record<PictureKind, { readonly w: number; readonly h: number }>> = {
  rows: { w: 6, h: 6 },
  number: { w: 3, h: 2 },
  words: { w: 6, h: 2 },
  map: { w: 5, h: 6 },
  heat: { w: 5, h: 6 },
  flow: { w: 5, h: 8 },
};

/** Asks which board a hunt goes on, under which title and as which picture. */
export function PutOnBoard({
  hunt,
  title: suggested,
  picture,
  onClose,
}: {
  readonly hunt: NonNullable<Card['hunt']>;
  readonly title: string;
  readonly picture: PictureKind;
  readonly onClose: () => void;
}): JSX.Element {
  const client = useQueryClient();
  const { name } = usePerson();
  const [parameters] = useSearchParams();
  const list = useQuery(answerTo(listBoards));
  const own = (list.data?.boards ?? []).filter(({ owner }) => owner === name);
  const [board, setBoard] = useState(NEW);
  const [boardTitle, setBoardTitle] = useState('My board');
  const [title, setTitle] = useState(suggested.slice(0, 120));
  const [kind, setKind] = useState(picture);
  const put = useMutation({
    mutationFn: async () => {
      const stored = board === NEW ? null : await call(readBoard, { params: { id: board } });
      const before: Board = stored?.board ?? { title: boardTitle, cards: [], layout: [] };
      const card: Card = {
        id: freshId(before, title),
        title,
        hunt,
        picture: { kind, ...(kind === 'sentences' && { template: '{user}' }) },
      };
      const next = addCard(before, card, SIZES[kind]);
      return stored === null
        ? call(addBoard, { body: { board: next } })
        : call(changeBoard, { params: { id: board }, body: { board: next, basedOn: stored.version } });
    },
    onSuccess: () => void client.invalidateQueries(about('boards')),
  });
  return (
    <Dialog
      title="On a board"
      onClose={onClose}
      onSend={() => put.mutate()}
      foot={
        put.isSuccess ? (
          <Button variant="primary" onClick={onClose}>
            Done
          </Button>
        ) : (
          <Button
            type="submit"
            variant="primary"
            disabled={put.isPending || title.trim() === '' || (board === NEW && boardTitle.trim() === '')}
          >
            Put it there
          </Button>
        )
      }
    >
      {put.isSuccess ? (
        <p className="mb-0" role="status">
          It is on{' '}
          <Link to={`/dashboards/${put.data.id}${beamSearch(parameters)}`}>{put.data.board.title}</Link>.
        </p>
      ) : (
        <>
          <Form.Group controlId="put-board" className="pb-2">
            <Form.Label className="sm mb-0">Board</Form.Label>
            <Form.Select size="sm" value={board} onChange={(event) => setBoard(event.target.value)}>
              <option value={NEW}>a new one</option>
              {own.map(({ id, title: called }) => (
                <option key={id} value={id}>
                  {called}
                </option>
              ))}
            </Form.Select>
          </Form.Group>
          {board === NEW && (
            <Form.Group controlId="put-board-title" className="pb-2">
              <Form.Label className="sm mb-0">Title of the board</Form.Label>
              <Form.Control
                size="sm"
                maxLength={120}
                value={boardTitle}
                onChange={(event) => setBoardTitle(event.target.value)}
              />
            </Form.Group>
          )}
          <Form.Group controlId="put-title" className="pb-2">
            <Form.Label className="sm mb-0">Title of the card</Form.Label>
            <Form.Control
              size="sm"
              maxLength={120}
              value={title}
              onChange={(event) => setTitle(event.target.value)}
            />
          </Form.Group>
          <Form.Group controlId="put-picture">
            <Form.Label className="sm mb-0">Picture</Form.Label>
            <Form.Select
              size="sm"
              value={kind}
              onChange={(event) => setKind(event.target.value as PictureKind)}
            >
              {pictureKinds.map((one) => (
                <option key={one} value={one}>
                  {pictureNames[one]}
                </option>
              ))}
            </Form.Select>
          </Form.Group>
          {put.isError && (
            <p className="card-mistake" role="alert">
              {put.error.message}
            </p>
          )}
        </>
      )}
    </Dialog>
  );
}
