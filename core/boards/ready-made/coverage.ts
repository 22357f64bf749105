import type { Board } from '../board.js';

/** Which techniques rules look for, beside what they rest on: the sources, and what came of which rule. */
export const coverage: Board = {
  title: 'Coverage',
  about: 'Techniques by tactic, what the rules behind them matched, and whether their sources tell anything.',
  refresh: '5m',
  cards: [
    { id: 'techniques', title: 'Techniques that rules look for', shows: 'coverage' },
    { id: 'rules', title: 'Rules that matched in the last seven days', shows: 'rules' },
    { id: 'sources', title: 'Sources quiet or late', shows: 'sources' },
    {
      id: 'told',
      title: 'What other systems found',
      hunt: 'from finding\ntally count() as findings per finding\nsort findings desc\nfirst 30',
      picture: { kind: 'ranked' },
      window: { last: '30d' },
    },
  ],
  layout: [
    { card: 'techniques', x: 0, y: 0, w: 9, h: 16 },
    { card: 'rules', x: 9, y: 0, w: 3, h: 7 },
    { card: 'sources', x: 9, y: 7, w: 3, h: 4 },
    { card: 'told', x: 9, y: 11, w: 3, h: 5 },
  ],
};
