import type { Board } from '../board.js';

/** What other systems found. */
export const findings: Board = {
  title: 'Findings',
  about: 'Detections of other systems by type, account and region, and whom they are about.',
  refresh: 300,
  cards: [
    {
      id: 'types',
      title: 'By type',
      hunt: "ask account 'Account' choices from account any\nfrom finding\nwhere account = $account\ntally count() as findings per finding\nsort findings desc\nfirst 20",
      picture: { kind: 'words' },
      window: { last: '30d' },
    },
    {
      id: 'severity',
      title: 'By severity, by day',
      hunt: "ask account 'Account' choices from account any\nfrom finding\nwhere account = $account\ntally count() as findings per severity, every 1d",
      picture: { kind: 'stacked' },
      window: { last: '30d' },
    },
    {
      id: 'regions',
      title: 'By account and region',
      hunt: "ask account 'Account' choices from account any\nfrom finding\nwhere account = $account\ntally count() as findings per account, region\nsort findings desc\nfirst 20",
      picture: { kind: 'ranked' },
      window: { last: '30d' },
    },
    {
      id: 'hosts',
      title: 'By host and type',
      hunt: "ask account 'Account' choices from account any\nfrom finding\nwhere account = $account and host is not null\ntally count() as findings per host, finding\nsort findings desc\nfirst 200",
      picture: { kind: 'heat' },
      window: { last: '30d' },
    },
    {
      id: 'users',
      title: 'Whom they are about',
      hunt: "ask account 'Account' choices from account any\nfrom finding\nwhere account = $account and user is not null\ntally count() as findings, last(finding) as newest, max(time) as last per user\nsort findings desc\nfirst 12",
      picture: { kind: 'rows' },
      window: { last: '30d' },
      click: 'dossier',
    },
  ],
  layout: [
    { card: 'types', x: 0, y: 0, w: 8, h: 3 },
    { card: 'severity', x: 8, y: 0, w: 4, h: 6 },
    { card: 'hosts', x: 0, y: 3, w: 8, h: 8 },
    { card: 'regions', x: 8, y: 6, w: 4, h: 5 },
    { card: 'users', x: 0, y: 11, w: 8, h: 5 },
  ],
};
