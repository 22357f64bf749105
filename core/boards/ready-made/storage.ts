import type { Board } from '../board.js';

/** Access to stored objects that failed. */
export const storage: Board = {
  title: 'Storage access errors',
  about: 'Refused reads and writes of stored objects, by code with what it means, and by whom.',
  refresh: 300,
  cards: [
    {
      id: 'codes',
      title: 'By code',
      hunt: "ask account 'Account' choices from account any\nfrom object\nwhere outcome = 'failure' and account = $account\ntally count() as refused per status_code, reason\nsort refused desc\nfirst 12",
      picture: { kind: 'ranked' },
      window: { last: '7d' },
    },
    {
      id: 'who',
      title: 'Who is refused',
      hunt: "ask account 'Account' choices from account any\nfrom object\nwhere account = $account\ntally count(where outcome = 'failure') as refused, count(where outcome = 'success') as allowed per user\nwhere refused > 0\nsort refused desc\nfirst 12",
      picture: { kind: 'paired' },
      window: { last: '7d' },
    },
    {
      id: 'trend',
      title: 'Refused by hour',
      hunt: "ask account 'Account' choices from account any\nfrom object\nwhere outcome = 'failure' and account = $account\ntally count() as refused per status_code, every 1h",
      picture: { kind: 'stacked' },
      window: { last: '7d' },
    },
    {
      id: 'newest',
      title: 'Newest refused',
      hunt: "ask account 'Account' choices from account any\nfrom object\nwhere outcome = 'failure' and account = $account\nsort time desc\nfirst 50\nshow time, user, operation, resource, status_code, reason, src_ip",
      picture: { kind: 'rows' },
      window: { last: '7d' },
    },
  ],
  layout: [
    { card: 'codes', x: 0, y: 0, w: 4, h: 6 },
    { card: 'who', x: 4, y: 0, w: 4, h: 6 },
    { card: 'trend', x: 8, y: 0, w: 4, h: 6 },
    { card: 'newest', x: 0, y: 6, w: 12, h: 7 },
  ],
};
