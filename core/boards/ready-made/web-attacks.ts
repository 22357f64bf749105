import type { Board } from '../board.js';

const ASK =
  "ask gate 'Gate' choices from host any\nask address 'Source address' any\nfrom web\nwhere finding is not null\nwhere host = $gate and src_ip = $address\n";

/** Attacks on web applications: what is blocked, what gets through, and where it comes from. */
export const webAttacks: Board = {
  title: 'Web attacks at the gates',
  about: 'What is blocked and what is let through, by kind and gate, and who sends it.',
  refresh: 60,
  cards: [
    {
      id: 'blocked',
      title: 'Attacks blocked per hour',
      hunt: `${ASK}where outcome = 'blocked'\ntally count() as attacks per finding, every 1h`,
      picture: { kind: 'stacked', scale: 'attacks' },
    },
    {
      id: 'through',
      title: 'Let through per hour',
      hunt: `${ASK}where outcome = 'allowed'\ntally count() as attacks per finding, every 1h`,
      picture: { kind: 'stacked', scale: 'attacks' },
    },
    {
      id: 'origins',
      title: 'Where they come from',
      hunt: `${ASK}where lat is not null\ntally count() as attacks per country, city, lat, lon\nsort attacks desc\nfirst 300`,
      picture: { kind: 'map' },
    },
    {
      id: 'types',
      title: 'Attack types by count',
      hunt: `${ASK}tally count() as attacks per finding\nsort attacks desc\nfirst 20`,
      picture: { kind: 'words' },
      click: 'carry',
    },
    {
      id: 'gates',
      title: 'Attacks per gate and type',
      hunt: `${ASK}tally count() as attacks per host, finding\nsort host\nfirst 200`,
      picture: { kind: 'heat' },
    },
    {
      id: 'paired',
      title: 'Blocked or not, per gate',
      hunt: `${ASK}tally count(where outcome = 'blocked') as blocked, count(where outcome = 'allowed') as allowed per host\nsort host\nfirst 24`,
      picture: { kind: 'paired' },
    },
    {
      id: 'sources',
      title: 'Top ten sources',
      hunt: `${ASK}where user_agent not like '%crawler-bot%'\ntally count() as attacks per src_ip, country, as_name\nsort attacks desc\nfirst 10`,
      picture: { kind: 'ranked' },
      window: { last: '30d' },
      hide: ['country', 'as_name'],
    },
    {
      id: 'newest',
      title: 'Newest let through',
      hunt: `${ASK}where outcome = 'allowed'\nsort time desc\nfirst 50\nshow time, host, src_ip, country, finding, resource`,
      picture: { kind: 'rows' },
    },
    {
      id: 'sessions',
      title: 'Sessions that were attacked and went on',
      hunt: `${ASK}where session is not null\ntally count() as attacks, min(time) as first, max(time) as last per session, src_ip\nsort attacks desc\nfirst 10`,
      picture: { kind: 'rows' },
    },
  ],
  layout: [
    { card: 'blocked', x: 0, y: 0, w: 5, h: 4 },
    { card: 'through', x: 5, y: 0, w: 3, h: 4 },
    { card: 'origins', x: 8, y: 0, w: 4, h: 6 },
    { card: 'types', x: 0, y: 4, w: 8, h: 2 },
    { card: 'gates', x: 0, y: 6, w: 5, h: 5 },
    { card: 'paired', x: 5, y: 6, w: 3, h: 5 },
    { card: 'sources', x: 8, y: 6, w: 4, h: 7 },
    { card: 'newest', x: 0, y: 11, w: 8, h: 4 },
    { card: 'sessions', x: 8, y: 13, w: 4, h: 4 },
  ],
};
