import type { Board } from '../board.js';

/** What rules found in the last week. */
export const rulesAndAlerts: Board = {
  title: 'Rules and alerts of the week',
  about: 'What waits, which rules matched most, and what other systems found meanwhile.',
  refresh: 60,
  cards: [
    { id: 'waiting', title: 'Alerts waiting', shows: 'alerts' },
    { id: 'cases', title: 'My open cases', shows: 'cases' },
    { id: 'rules', title: 'Rules that matched in the last seven days', shows: 'rules' },
    {
      id: 'findings',
      title: 'Findings of other systems, by day',
      hunt: 'from finding\ntally count() as findings per severity, every 1d',
      picture: { kind: 'stacked' },
      window: { last: '7d' },
    },
    {
      id: 'stopped',
      title: 'What was refused or stopped, by hour',
      hunt: "from all\nwhere outcome in ('failure', 'blocked')\ntally count() as events per kind, every 1h",
      picture: { kind: 'stacked' },
      window: { last: '7d' },
    },
  ],
  layout: [
    { card: 'waiting', x: 0, y: 0, w: 4, h: 4 },
    { card: 'cases', x: 0, y: 4, w: 4, h: 5 },
    { card: 'rules', x: 4, y: 0, w: 4, h: 13 },
    { card: 'findings', x: 8, y: 0, w: 4, h: 6 },
    { card: 'stopped', x: 8, y: 6, w: 4, h: 7 },
  ],
};
