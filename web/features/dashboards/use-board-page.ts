import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { type Board, type Card, refreshOf, USUAL_REFRESH } from '../../../core/boards/board.js';
import { addCard, freshId, removeCard } from '../../../core/boards/layout.js';
import type { Shared, StoredBoard } from '../../../core/wire/boards.js';
import { addBoard, changeBoard, readBoard, removeBoard } from '../../../core/wire/endpoints/boards.js';
import { about, answerTo, call, keyOf } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { boardAsks } from '../../boards/BoardInputs.js';
import { useBoardAnswers } from '../../boards/use-board-answers.js';
import { useOwnRefresh } from '../../boards/use-own-refresh.js';
import { readHuntAddress, writeHuntAddress } from '../../results/hunt-address.js';
import { useHuntOptions } from '../../wick/use-hunt-options.js';

/** A board with nothing on it. */
export const EMPTY_BOARD: Board = { title: 'New board', about: '', cards: [], layout: [] };

/** Boards that stand at a place of the product: everyone changes a copy of their own there. */
const isPlace = (id: string): boolean => id === 'desk' || id.startsWith('dossier-');

/** Where such a board is looked at. @param subject whose dossier led here */
const placeOf = (id: string, subject: string | undefined): string =>
  id === 'desk'
    ? '/desk'
    : subject === undefined
      ? '/dashboards'
      : `/dossier/${id.slice('dossier-'.length)}/${encodeURIComponent(subject)}`;

/** What a new card begins with. */
const FIRST_CARD_HUNT = 'from signin\ntally count() as events per outcome\nsort events desc\nfirst 10';

/** One board as it is looked at and changed; the views of the page show it. */
export function useBoardPage(id: string) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const person = usePerson();
  const { at: askedAt, again: askAgain } = useAsked();
  const { beam } = useBeam(askedAt);
  const [parameters, setParameters] = useSearchParams();
  const search = beamSearch(parameters);
  const isNew = id === 'new';
  const stored = useQuery({ ...answerTo(readBoard, { params: { id } }), enabled: !isNew, retry: false });
  const kept: StoredBoard | null = stored.data ?? null;
  const [draft, setDraft] = useState<Board | null>(isNew ? EMPTY_BOARD : null);
  const [past, setPast] = useState<readonly Board[]>([]);
  const changing = parameters.get('card');
  const [editing, setEditing] = useState(isNew || isPlace(id));
  const board = draft ?? kept?.board ?? null;
  const isPlaced = isPlace(id);
  const mine = isNew || isPlaced || kept?.owner === person.name;
  const isEditing = mine && (editing || changing !== null || draft !== null);

  const blanks = useMemo(() => readHuntAddress(parameters).blanks, [parameters]);
  const answers = useBoardAnswers(board, draft === null && !isNew ? id : null, beam, blanks, askedAt);
  const help = useHuntOptions(beam);
  const options = useMemo(
    () => ({ ...help.options, parameters: blanks, writing: true }),
    [help.options, blanks],
  );

  const put = useCallback(
    (next: Board) => {
      setPast((before) => (board === null ? before : [...before, board].slice(-100)));
      setDraft(next);
    },
    [board],
  );
  const openCard = useCallback(
    (card: string | null) =>
      setParameters(
        (before) => {
          const next = new URLSearchParams(before);
          if (card === null) next.delete('card');
          else next.set('card', card);
          return next;
        },
        { replace: true },
      ),
    [setParameters],
  );

  const keep = useMutation({
    mutationFn: ({ next, shared }: { next: Board; shared?: Shared }) =>
      isNew || !mine
        ? call(addBoard, { body: { board: next, ...(shared !== undefined && { shared }) } })
        : call(changeBoard, {
            params: { id },
            body: {
              board: next,
              ...(shared !== undefined && { shared }),
              ...(kept !== null && { basedOn: kept.version }),
            },
          }),
    onSuccess: (made) => {
      client.setQueryData(keyOf(readBoard, { params: { id: made.id } }), made);
      void client.invalidateQueries(about('boards'));
      if (isPlaced) void client.invalidateQueries(about('dossiers'));
      setDraft(null);
      setPast([]);
      setEditing(false);
      if (isPlaced) void navigate(`${placeOf(id, blanks['subject'])}${search}`);
      else if (made.id !== id) void navigate(`/dashboards/${made.id}${search}`, { replace: true });
      else openCard(null);
    },
  });

  // An open board asks again by itself; not while nobody sees it, or while it is changed.
  const refresh = (board === null ? USUAL_REFRESH : refreshOf(board)) * 1000;
  const follows = beam.last !== null && draft === null;
  useOwnRefresh(follows, refresh, answers.isAsking, askAgain);

  return {
    id,
    isNew,
    isPlaced,
    mine,
    person,
    stored,
    kept,
    board,
    draft,
    beam,
    search,
    parameters,
    blanks,
    asks: boardAsks(board),
    answers,
    help,
    options,
    changing,
    isEditing,
    changes: past.length,
    keep,
    put,
    openCard,
    again: () => {
      answers.beFresh(askAgain());
    },
    fill: (filled: Readonly<Record<string, string>>) =>
      setParameters((before) => writeHuntAddress(before, { blanks: filled }), { replace: true }),
    edit: (card: string | null = null) => {
      setEditing(true);
      openCard(card);
    },
    /** Takes the last change back. */
    undo: () => {
      const before = past.at(-1);
      setPast(past.slice(0, -1));
      setDraft(past.length <= 1 && !isNew ? null : (before ?? null));
    },
    leave: () => {
      setDraft(isNew ? EMPTY_BOARD : null);
      setPast([]);
      setEditing(isNew);
      if (isPlaced) void navigate(`${placeOf(id, blanks['subject'])}${search}`);
      else openCard(null);
    },
    /** Gives a board that stands at a place back for the one that ships. */
    giveBack: () =>
      void call(removeBoard, { params: { id } }).then(() => {
        void client.invalidateQueries(about('boards'));
        void client.invalidateQueries(about('dossiers'));
        void navigate(`${placeOf(id, blanks['subject'])}${search}`);
      }),
    leaveWall: () =>
      setParameters((before) => {
        const next = new URLSearchParams(before);
        next.delete('wall');
        return next;
      }),
    add: () => {
      const of = board ?? EMPTY_BOARD;
      const card: Card = {
        id: freshId(of, 'card'),
        title: 'New card',
        hunt: FIRST_CARD_HUNT,
        picture: { kind: 'ranked' },
      };
      put(addCard(of, card));
      setEditing(true);
      openCard(card.id);
    },
    remove: (card: string) => {
      if (board !== null) put(removeCard(board, card));
      openCard(null);
    },
  };
}

export type BoardPage = ReturnType<typeof useBoardPage>;
