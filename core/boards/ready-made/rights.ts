import type { Board } from '../board.js';

const ASK = "ask account 'Account' choices from account any\n";

/** Who may do what, who changed it, and who acts as whom. */
export const rights: Board = {
  title: 'Rights and acting',
  about: 'Rights given and taken, accounts made and closed, and who worked in whose name.',
  refresh: 60,
  cards: [
    {
      id: 'given',
      title: 'Given and taken, newest first',
      hunt: `${ASK}from rights\nwhere account = $account\nset did = if(operation like '%remove%' or operation like '%revoke%', 'took', 'gave')\nset what = coalesce(group_name, operation)\nset on_what = coalesce(host, resource, application)\nsort time desc\nfirst 50\nshow time, user, did, what, target_user, on_what`,
      picture: {
        kind: 'sentences',
        template: '{user} {did} *{what}* to {target_user} on {on_what}',
        same: { columns: ['user', 'target_user'], words: 'to itself' },
      },
      window: { last: '7d' },
    },
    {
      id: 'accounts',
      title: 'Accounts made, changed and closed',
      hunt: `${ASK}from account\nwhere account = $account\nset whom = coalesce(target_user, resource)\nsort time desc\nfirst 50\nshow time, user, operation, whom, outcome`,
      picture: { kind: 'sentences', template: '{user}: *{operation}* of {whom}' },
      window: { last: '30d' },
    },
    {
      id: 'acting',
      title: 'Acting as another, rarest first',
      hunt: `${ASK}from acting\nwhere acting_as is not null and account = $account\ntally count() as times, max(time) as last per user, acting_as\nsort times\nfirst 20`,
      picture: { kind: 'rows' },
    },
    {
      id: 'flow',
      title: 'Who acts as whom',
      hunt: `${ASK}from acting\nwhere acting_as is not null and account = $account\ntally count() as times per user, acting_as\nsort times desc\nfirst 40`,
      picture: { kind: 'flow' },
      window: { last: '30d' },
    },
    {
      id: 'refused',
      title: 'Acting that was refused',
      hunt: `${ASK}from acting\nwhere outcome = 'failure' and account = $account\ntally count() as refused per user, acting_as\nsort refused desc\nfirst 10`,
      picture: { kind: 'ranked' },
      window: { last: '30d' },
    },
    {
      id: 'trend',
      title: 'Changes of rights by day',
      hunt: `${ASK}from rights, account, acting\nwhere account = $account\ntally count() as events per kind, every 1d`,
      picture: { kind: 'stacked' },
      window: { last: '30d' },
    },
  ],
  layout: [
    { card: 'given', x: 0, y: 0, w: 5, h: 7 },
    { card: 'accounts', x: 5, y: 0, w: 4, h: 7 },
    { card: 'refused', x: 9, y: 0, w: 3, h: 7 },
    { card: 'acting', x: 0, y: 7, w: 5, h: 7 },
    { card: 'flow', x: 5, y: 7, w: 4, h: 12 },
    { card: 'trend', x: 9, y: 7, w: 3, h: 7 },
  ],
};
