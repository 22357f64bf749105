import type { Board } from '../board.js';

/** The landing overview: what failed, who gave what to whom, what reads too much, what waits, what went quiet. */
export const desk: Board = {
  title: 'Desk',
  for: 'desk',
  refresh: 60,
  cards: [
    {
      id: 'failed',
      title: 'Failed sign-ins today',
      hunt: "ask account 'Account' choices from account any\nfrom signin\nwhere outcome = 'failure'\nwhere account = $account\ntally count() as failed, every 15m",
      picture: { kind: 'line', usual: 4, total: true },
      window: { last: 'day' },
    },
    {
      id: 'why',
      title: 'Why they failed',
      hunt: "ask account 'Account' choices from account any\nfrom signin\nwhere outcome = 'failure'\nwhere account = $account\ntally count() as failed per reason\nsort failed desc\nfirst 5",
      picture: { kind: 'bars' },
    },
    {
      id: 'who',
      title: 'Who is affected',
      hunt: "ask account 'Account' choices from account any\nfrom signin\nwhere user is not null\nwhere account = $account\ntally count(where outcome = 'failure') as failed, count(where outcome = 'success') as entered per user\nwhere failed > 0\nset then = if(entered > 0, 'got in', 'never got in')\nsort failed desc\nfirst 7\nshow user, failed, then",
      picture: { kind: 'rows' },
      click: 'dossier',
    },
    {
      id: 'rights',
      title: 'Rights granted',
      hunt: "ask account 'Account' choices from account any\nfrom rights\nwhere account = $account\nset did = if(operation like '%remove%' or operation like '%revoke%', 'took', 'gave')\nset what = coalesce(group_name, operation)\nset on_what = coalesce(host, resource, application)\nsort time desc\nfirst 40\nshow time, user, did, what, target_user, on_what",
      picture: {
        kind: 'sentences',
        template: '{user} {did} *{what}* to {target_user} on {on_what}',
        same: { columns: ['user', 'target_user'], words: 'to itself' },
      },
    },
    {
      id: 'acting',
      title: 'Acting as another',
      hunt: "ask account 'Account' choices from account any\nfrom acting\nwhere acting_as is not null\nwhere account = $account\ntally count() as times, max(time) as last per user, acting_as\nsort times\nfirst 20\nshow last, user, acting_as, times",
      picture: { kind: 'sentences', template: '{user} acted as {acting_as}, {times}×' },
    },
    {
      id: 'reads',
      title: 'Unusually large reads',
      hunt: "ask account 'Account' choices from account any\nfrom query, object\nwhere records is not null\nwhere account = $account\nswing max(records) as largest per user, application, entity every 1d against 28d\nwhere largest >= 100 and largest > 3 * usual\njoin (\n  from query\n  sort records desc\n  once per user, entity\n) as read on user, entity keep unmatched\nsort ratio desc\nfirst 5\nshow user, application, entity, largest, usual, round(ratio, 1) as times, read.query_text as query",
      picture: { kind: 'dots' },
      window: { last: '30d' },
      click: 'dossier',
    },
    { id: 'alerts', title: 'Alerts waiting', shows: 'alerts' },
    { id: 'cases', title: 'My open cases', shows: 'cases' },
    { id: 'sources', title: 'Sources quiet or late', shows: 'sources' },
    { id: 'set-aside', title: 'Records set aside', shows: 'set-aside' },
  ],
  layout: [
    { card: 'failed', x: 0, y: 0, w: 5, h: 7 },
    { card: 'why', x: 0, y: 7, w: 2, h: 6 },
    { card: 'who', x: 2, y: 7, w: 3, h: 6 },
    { card: 'rights', x: 5, y: 0, w: 4, h: 4 },
    { card: 'acting', x: 5, y: 4, w: 4, h: 4 },
    { card: 'reads', x: 5, y: 8, w: 4, h: 5 },
    { card: 'alerts', x: 9, y: 0, w: 3, h: 4 },
    { card: 'cases', x: 9, y: 4, w: 3, h: 3 },
    { card: 'sources', x: 9, y: 7, w: 3, h: 4 },
    { card: 'set-aside', x: 9, y: 11, w: 3, h: 2 },
  ],
};
