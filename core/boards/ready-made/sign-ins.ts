import type { Board } from '../board.js';

const ASK = "ask who 'User' choices from user any\nfrom signin\nwhere user = $who\n";

/** Who gets in and who does not. */
export const signIns: Board = {
  title: 'Sign-ins',
  about: 'How many get in and how many do not, why, who is hit, and who got in after failing.',
  refresh: 60,
  cards: [
    {
      id: 'failed',
      title: 'Failed',
      hunt: `${ASK}where outcome = 'failure'\ntally count() as failed`,
      picture: { kind: 'number', usual: 4 },
    },
    {
      id: 'entered',
      title: 'Got in',
      hunt: `${ASK}where outcome = 'success'\ntally count() as entered`,
      picture: { kind: 'number', usual: 4 },
    },
    {
      id: 'today',
      title: 'Failed today',
      hunt: `${ASK}where outcome = 'failure'\ntally count() as failed, every 15m`,
      picture: { kind: 'line', usual: 4, total: true },
      window: { last: 'day' },
    },
    {
      id: 'trend',
      title: 'Four weeks by outcome',
      hunt: `${ASK}tally count() as events per outcome, every 1d`,
      picture: { kind: 'stacked' },
      window: { last: '30d' },
    },
    {
      id: 'why',
      title: 'Why they failed',
      hunt: `${ASK}where outcome = 'failure'\ntally count() as failed per reason\nsort failed desc\nfirst 6`,
      picture: { kind: 'bars' },
    },
    {
      id: 'who',
      title: 'Who is hit',
      hunt: `${ASK}where outcome = 'failure' and user is not null\ntally count() as failed per user\nsort failed desc\nfirst 10`,
      picture: { kind: 'ranked' },
    },
    {
      id: 'then',
      title: 'Then got in',
      hunt: `${ASK}streak outcome = 'failure' until outcome = 'success' per user within 1h as attempts\nwhere attempts >= 3\nsort attempts desc\nfirst 20\nshow user, attempts, ended, closing.src_ip as address, closing.country as country`,
      picture: { kind: 'rows' },
    },
    {
      id: 'week',
      title: 'When in the week they fail',
      hunt: `${ASK}where outcome = 'failure'\ntally count() as failed, every 1h`,
      picture: { kind: 'hours' },
      window: { last: '30d' },
    },
    {
      id: 'where',
      title: 'Where they come from',
      hunt: `${ASK}where lat is not null\ntally count() as events per country, city, lat, lon\nsort events desc\nfirst 300`,
      picture: { kind: 'map' },
    },
  ],
  layout: [
    { card: 'failed', x: 0, y: 0, w: 3, h: 2 },
    { card: 'entered', x: 0, y: 2, w: 3, h: 2 },
    { card: 'today', x: 3, y: 0, w: 5, h: 6 },
    { card: 'trend', x: 8, y: 0, w: 4, h: 6 },
    { card: 'why', x: 0, y: 4, w: 3, h: 7 },
    { card: 'who', x: 3, y: 6, w: 5, h: 7 },
    { card: 'where', x: 8, y: 6, w: 4, h: 7 },
    { card: 'then', x: 3, y: 13, w: 5, h: 6 },
    { card: 'week', x: 8, y: 13, w: 4, h: 6 },
  ],
};
