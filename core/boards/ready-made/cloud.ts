import type { Board } from '../board.js';

const ASK =
  "ask account 'Account' choices from account any\nask operation 'Operation, exact' choices from operation any\nfrom cloud, rights, account\nwhere account = $account and operation = $operation\n";

/** What changed in the cloud, by whom, and what it was before. */
export const cloud: Board = {
  title: 'Cloud changes',
  about:
    'Changes to cloud resources by account, group and severity, those that failed with their reason, before and after.',
  refresh: 60,
  cards: [
    {
      id: 'accounts',
      title: 'By account',
      hunt: `${ASK}tally count() as changes per account\nsort changes desc\nfirst 10`,
      picture: { kind: 'bars' },
    },
    {
      id: 'groups',
      title: 'By resource group',
      hunt: `${ASK}tally count() as changes per resource_group\nsort changes desc\nfirst 10`,
      picture: { kind: 'bars' },
    },
    {
      id: 'severity',
      title: 'By severity',
      hunt: `${ASK}tally count() as changes per severity\nsort changes desc\nfirst 6`,
      picture: { kind: 'bars' },
    },
    {
      id: 'operations',
      title: 'Operations, rarest first',
      hunt: `${ASK}tally count() as changes, last(user) as by, max(time) as last per operation\nsort changes\nfirst 20`,
      picture: { kind: 'rows' },
      window: { last: '30d' },
    },
    {
      id: 'failed',
      title: 'Failed, and why',
      hunt: `${ASK}where outcome = 'failure'\nsort time desc\nfirst 50\nshow time, user, operation, resource, reason, status_code`,
      picture: { kind: 'rows' },
      window: { last: '7d' },
    },
    {
      id: 'changed',
      title: 'Before and after',
      hunt: `${ASK}where changes is not null\nsort time desc\nfirst 50\nshow time, user, operation, resource, changes`,
      picture: { kind: 'rows' },
      window: { last: '7d' },
    },
    {
      id: 'full',
      title: 'Newest, in full',
      hunt: `${ASK}sort time desc\nfirst 100`,
      picture: { kind: 'rows' },
      note: 'Hunt these opens each record as it came.',
    },
    {
      id: 'trend',
      title: 'Changes by hour',
      hunt: `${ASK}tally count() as changes per account, every 1h`,
      picture: { kind: 'stacked' },
    },
  ],
  layout: [
    { card: 'accounts', x: 0, y: 0, w: 3, h: 5 },
    { card: 'groups', x: 3, y: 0, w: 3, h: 5 },
    { card: 'severity', x: 6, y: 0, w: 2, h: 5 },
    { card: 'trend', x: 8, y: 0, w: 4, h: 5 },
    { card: 'operations', x: 0, y: 5, w: 6, h: 6 },
    { card: 'failed', x: 6, y: 5, w: 6, h: 6 },
    { card: 'changed', x: 0, y: 11, w: 6, h: 6 },
    { card: 'full', x: 6, y: 11, w: 6, h: 6 },
  ],
};
