import type { Board } from '../board.js';

const FIREWALL = "ask firewall 'Source' choices from source any\nfrom network\nwhere source = $firewall\n";

/** What firewalls let through and what they stop. */
export const firewall: Board = {
  title: 'Firewall decisions',
  about: 'What is let through and what is stopped, by country, port and operating system.',
  refresh: 60,
  cards: [
    {
      id: 'actions',
      title: 'Decisions by hour',
      hunt: `${FIREWALL}tally count() as decisions per outcome, every 1h`,
      picture: { kind: 'stacked' },
    },
    {
      id: 'systems',
      title: 'Operating systems that came',
      hunt: 'from all\nwhere os is not null\ntally count() as events per os\nsort events desc\nfirst 12',
      picture: { kind: 'words' },
      note: 'Of every source that tells them.',
    },
    {
      id: 'countries',
      title: 'Countries that were stopped',
      hunt: `${FIREWALL}where outcome = 'blocked' and country is not null\ntally count() as stopped per country\nsort stopped desc\nfirst 10`,
      picture: { kind: 'ranked' },
    },
    {
      id: 'ports',
      title: 'Ports that were tried',
      hunt: `${FIREWALL}where outcome = 'blocked' and dst_port is not null\ntally count() as tries per dst_port, protocol\nsort tries desc\nfirst 12`,
      picture: { kind: 'ranked' },
    },
    {
      id: 'sides',
      title: 'Stopped and let through, by interface',
      hunt: `${FIREWALL}where interface is not null\ntally count(where outcome = 'blocked') as blocked, count(where outcome = 'allowed') as allowed per interface\nsort interface\nfirst 12`,
      picture: { kind: 'paired' },
    },
    {
      id: 'talkers',
      title: 'Who is stopped most',
      hunt: `${FIREWALL}where outcome = 'blocked' and src_ip is not null\ntally count() as stopped, count(distinct dst_port) as ports per src_ip\nsort stopped desc\nfirst 10`,
      picture: { kind: 'ranked' },
    },
    {
      id: 'map',
      title: 'Where they come from',
      hunt: `${FIREWALL}where outcome = 'blocked' and lat is not null\ntally count() as stopped per country, city, lat, lon\nsort stopped desc\nfirst 300`,
      picture: { kind: 'map' },
    },
  ],
  layout: [
    { card: 'actions', x: 0, y: 0, w: 8, h: 5 },
    { card: 'map', x: 8, y: 0, w: 4, h: 7 },
    { card: 'systems', x: 0, y: 5, w: 8, h: 2 },
    { card: 'countries', x: 0, y: 7, w: 4, h: 7 },
    { card: 'ports', x: 4, y: 7, w: 4, h: 7 },
    { card: 'talkers', x: 8, y: 7, w: 4, h: 7 },
    { card: 'sides', x: 0, y: 14, w: 4, h: 6 },
  ],
};
