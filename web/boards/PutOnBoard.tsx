import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { Board, Card } from '../../core/boards/board.js';
import { addCard, freshId } from '../../core/boards/layout.js';
import { type PictureKind, pictureKinds } from '../../core/boards/picture-kinds.js';
import { addBoard, changeBoard, listBoards, readBoard } from '../../core/wire/endpoints/boards.js';
import { about, answerTo, call } from '../api/call.js';
import { usePerson } from '../api/session.js';
import { beamSearch } from '../beam/beam.js';
import { FieldsDialog } from '../kit/FieldsDialog.js';
import { ChoiceField, TextField } from '../kit/form.js';
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

interface Putting {
  /** Id of a board, or nothing for a new one. */
  readonly board: string;
  readonly boardTitle: string;
  readonly title: string;
  readonly kind: PictureKind;
}

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
  const put = useMutation({
    mutationFn: async ({ board, boardTitle, title, kind }: Putting) => {
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
    <FieldsDialog<Putting>
      title="On a board"
      begin={{ board: NEW, boardTitle: 'My board', title: suggested.slice(0, 120), kind: picture }}
      onSend={(what) => put.mutate(what)}
      send="Put it there"
      maySend={({ board, boardTitle, title }) =>
        title.trim() !== '' && (board !== NEW || boardTitle.trim() !== '')
      }
      isSending={put.isPending}
      failure={put.error}
      failed="It was not put there"
      done={
        put.data && (
          <>
            It is on{' '}
            <Link to={`/dashboards/${put.data.id}${beamSearch(parameters)}`}>{put.data.board.title}</Link>.
          </>
        )
      }
      onClose={onClose}
    >
      {({ board }) => (
        <>
          <ChoiceField<Putting>
            name="board"
            label="Board"
            choices={[[NEW, 'a new one'], ...own.map(({ id, title }) => [id, title] as const)]}
          />
          {board === NEW && (
            <TextField<Putting> name="boardTitle" label="Title of the board" maxLength={120} />
          )}
          <TextField<Putting> name="title" label="Title of the card" maxLength={120} autoFocus />
          <ChoiceField<Putting>
            name="kind"
            label="Picture"
            choices={pictureKinds.map((one) => [one, pictureNames[one]])}
          />
        </>
      )}
    </FieldsDialog>
  );
}
