import { useCallback, useEffect, useReducer } from 'react';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import type { HuntRow, RowEvent } from '../../api/hunt-stream.js';

/** Rows that are kept on screen; older ones of the live rows make room. */
export const MAX_LIVE_ROWS = 1000;
/** The rate is reckoned over so many pieces of news: about ten seconds. */
const PIECES = 20;
/** Between two pieces of news, seconds. */
const PIECE_SECONDS = 0.5;

interface Rows {
  readonly rows: readonly HuntRow[];
  readonly events: readonly RowEvent[];
}

interface News extends Rows {
  readonly read: number;
  readonly matched: number;
  readonly passedOver: number;
}

/** A hunt that is followed while events come in. */
export interface Followed extends Rows {
  readonly status: 'opening' | 'following' | 'lost' | 'refused';
  readonly columns: readonly HuntColumn[];
  readonly notes: readonly string[];
  /** Nothing new is shown until it is asked for. */
  readonly paused: boolean;
  /** The pointer is over the rows: they stand still for as long. */
  readonly pointedAt: boolean;
  /** Rows that have come while nothing new was to be shown, newest first. */
  readonly waiting: Rows;
  readonly matched: number;
  readonly passedOver: number;
  readonly lately: readonly { readonly read: number; readonly matched: number }[];
}

type Change =
  | { readonly change: 'begun' }
  | { readonly change: 'columns'; readonly columns: readonly HuntColumn[]; readonly notes: readonly string[] }
  | { readonly change: 'news'; readonly news: News }
  | { readonly change: 'lost'; readonly forGood: boolean }
  | { readonly change: 'pause'; readonly paused: boolean }
  | { readonly change: 'point'; readonly over: boolean };

const none: Rows = { rows: [], events: [] };

export const notFollowed: Followed = {
  status: 'opening',
  columns: [],
  notes: [],
  ...none,
  paused: false,
  pointedAt: false,
  waiting: none,
  matched: 0,
  passedOver: 0,
  lately: [],
};

const onTop = (fresh: Rows, older: Rows): Rows => ({
  rows: [...fresh.rows, ...older.rows].slice(0, MAX_LIVE_ROWS),
  events: [...fresh.events, ...older.events].slice(0, MAX_LIVE_ROWS),
});

/** With the rows that waited put on top. */
const shown = (followed: Followed): Followed => ({
  ...followed,
  ...onTop(followed.waiting, followed),
  waiting: none,
});

/** What is followed, after something has changed. */
export function followStep(followed: Followed, change: Change): Followed {
  switch (change.change) {
    case 'begun':
      return { ...notFollowed, paused: followed.paused, pointedAt: followed.pointedAt };
    case 'columns':
      // The stream may have begun anew after a break: what had come stays.
      return { ...followed, status: 'following', columns: change.columns, notes: change.notes };
    case 'news': {
      const { news } = change;
      const lately = [...followed.lately, { read: news.read, matched: news.matched }].slice(-PIECES);
      const counted = {
        ...followed,
        status: 'following' as const,
        lately,
        matched: followed.matched + news.matched,
        passedOver: followed.passedOver + news.passedOver,
      };
      if (news.rows.length === 0) return counted;
      return followed.paused || followed.pointedAt
        ? { ...counted, waiting: onTop(news, followed.waiting) }
        : { ...counted, ...onTop(news, followed) };
    }
    case 'lost':
      return { ...followed, status: change.forGood ? 'refused' : 'lost' };
    case 'pause':
      // Whoever asks for the rows gets them, wherever the pointer is.
      return change.paused ? { ...followed, paused: true } : shown({ ...followed, paused: false });
    case 'point':
      return change.over || followed.paused
        ? { ...followed, pointedAt: change.over }
        : shown({ ...followed, pointedAt: false });
  }
}

/** Events a second, and those the hunt keeps, over the last moments. */
export function paceOf({ lately }: Followed): { read: number; matched: number } {
  const seconds = Math.max(1, lately.length) * PIECE_SECONDS;
  const sum = (of: 'read' | 'matched'): number => lately.reduce((total, piece) => total + piece[of], 0);
  return { read: sum('read') / seconds, matched: sum('matched') / seconds };
}

/** Follows a hunt while it is switched on; a connection that breaks is opened again by the browser. */
export function useFollow(
  text: string,
  blanks: Readonly<Record<string, string>>,
  carried: readonly string[],
  on: boolean,
): { followed: Followed; pause: (paused: boolean) => void; point: (over: boolean) => void } {
  const [followed, dispatch] = useReducer(followStep, notFollowed);
  const filled = JSON.stringify(blanks);
  const besides = JSON.stringify(carried);
  useEffect(() => {
    if (!on) return undefined;
    dispatch({ change: 'begun' });
    const stream = new EventSource(
      `/api/v1/hunts/follow?${new URLSearchParams({ text, parameters: filled, carried: besides })}`,
    );
    const hear = <T>(event: string, tell: (data: T) => void): void =>
      stream.addEventListener(event, (message: MessageEvent<string>) => tell(JSON.parse(message.data) as T));
    hear<{ columns: HuntColumn[]; notes: string[] }>('columns', (told) =>
      dispatch({ change: 'columns', ...told }),
    );
    hear<News>('news', (news) => dispatch({ change: 'news', news }));
    stream.addEventListener('error', () =>
      dispatch({ change: 'lost', forGood: stream.readyState === EventSource.CLOSED }),
    );
    return () => stream.close();
  }, [text, filled, besides, on]);
  const pause = useCallback((paused: boolean) => dispatch({ change: 'pause', paused }), []);
  const point = useCallback((over: boolean) => dispatch({ change: 'point', over }), []);
  return { followed, pause, point };
}
