import type { Board } from '../board.js';

/** How the sources are doing. */
export const sources: Board = {
  title: 'Sources and lag',
  about: 'What comes in, what comes late, where there are gaps.',
  refresh: 60,
  cards: [
    { id: 'state', title: 'Quiet or late now', shows: 'sources' },
    { id: 'aside', title: 'Records set aside', shows: 'set-aside' },
    {
      id: 'volume',
      title: 'Events by source',
      hunt: 'from all\ntally count() as events per source, every 1h',
      picture: { kind: 'stacked' },
    },
    {
      id: 'gaps',
      title: 'Hour by hour: what is pale sent nothing',
      hunt: 'from all\ntally count() as events per source, every 1h\nfill',
      picture: { kind: 'heat' },
      window: { last: '24h' },
    },
    {
      id: 'late',
      title: 'Which came late',
      hunt: 'from all\nset minutes = round(seconds_between(time, received) / 60, 1)\nwhere minutes > 60\ntally count() as events, max(minutes) as worst per source\nsort events desc\nfirst 12',
      picture: { kind: 'ranked' },
      note: 'More than an hour after it happened.',
    },
  ],
  layout: [
    { card: 'state', x: 0, y: 0, w: 4, h: 5 },
    { card: 'aside', x: 0, y: 5, w: 4, h: 2 },
    { card: 'volume', x: 4, y: 0, w: 8, h: 7 },
    { card: 'gaps', x: 0, y: 7, w: 8, h: 8 },
    { card: 'late', x: 8, y: 7, w: 4, h: 8 },
  ],
};
