import type { Board } from '../board.js';

/** Reads of business data by application, with the query as it was asked. */
export const reads: Board = {
  title: 'Large reads',
  about: 'Who reads more than usual, of which application and data, with the exact query.',
  refresh: 60,
  cards: [
    {
      id: 'against',
      title: 'Against the usual',
      hunt: "ask application 'Application' choices from application any\nfrom query, object\nwhere records is not null and application = $application\nswing max(records) as largest per user, application, entity every 1d against 28d\nwhere largest > 2 * usual\nsort ratio desc\nfirst 10\nshow user, application, entity, largest, usual, round(ratio, 1) as times",
      picture: { kind: 'dots' },
      window: { last: '30d' },
    },
    {
      id: 'largest',
      title: 'Largest single reads',
      hunt: "ask application 'Application' choices from application any\nfrom query, object\nwhere records is not null and application = $application\nsort records desc\nfirst 30\nshow time, user, acting_as, application, entity, records, query_text, src_ip",
      picture: { kind: 'rows' },
    },
    {
      id: 'applications',
      title: 'Records by application and data',
      hunt: "ask application 'Application' choices from application any\nfrom query, object\nwhere records is not null and application = $application\ntally sum(records) as records, count() as reads per application, entity\nsort records desc\nfirst 15",
      picture: { kind: 'ranked' },
    },
    {
      id: 'readers',
      title: 'Who reads most',
      hunt: "ask application 'Application' choices from application any\nfrom query, object\nwhere records is not null and application = $application\ntally sum(records) as records per user\nsort records desc\nfirst 10",
      picture: { kind: 'ranked' },
    },
    {
      id: 'trend',
      title: 'Records read by day',
      hunt: "ask application 'Application' choices from application any\nfrom query, object\nwhere records is not null and application = $application\ntally sum(records) as records per application, every 1d",
      picture: { kind: 'line', usual: 4 },
      window: { last: '30d' },
    },
  ],
  layout: [
    { card: 'against', x: 0, y: 0, w: 5, h: 9 },
    { card: 'trend', x: 5, y: 0, w: 7, h: 5 },
    { card: 'applications', x: 5, y: 5, w: 4, h: 8 },
    { card: 'readers', x: 9, y: 5, w: 3, h: 8 },
    { card: 'largest', x: 0, y: 13, w: 12, h: 7 },
  ],
};

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

const NAMES =
  "ask without 'Without the word' default 'nothing-like-this'\nfrom dns\nwhere dst_host not like $without\n";

/** Names that hosts ask for. */
export const namesAsked: Board = {
  title: 'Names asked for',
  about: 'Which names hosts look up, most and least, and where they lead.',
  refresh: 60,
  cards: [
    {
      id: 'top',
      title: 'Asked for most',
      hunt: `${NAMES}where dst_host is not null\ntally count() as asked, count(distinct src_ip) as by per dst_host\nsort asked desc\nfirst 15`,
      picture: { kind: 'ranked' },
    },
    {
      id: 'bottom',
      title: 'Asked for least',
      hunt: `${NAMES}where dst_host is not null\ntally count() as asked, last(src_ip) as by per dst_host\nsort asked\nfirst 15`,
      picture: { kind: 'rows' },
    },
    {
      id: 'countries',
      title: 'Countries they lead to',
      hunt: `${NAMES}where dst_country is not null\ntally count() as asked per dst_country\nsort asked desc\nfirst 12`,
      picture: { kind: 'words' },
    },
    {
      id: 'random',
      title: 'Names that look made up',
      hunt: `${NAMES}where dst_host is not null\nset surprise = entropy(dst_host)\nwhere surprise > 3.5\ntally count() as asked, max(surprise) as surprise per dst_host\nsort surprise desc\nfirst 15`,
      picture: { kind: 'rows' },
    },
    {
      id: 'ports',
      title: 'Traffic to port 53, by who sends it',
      hunt: 'from network\nwhere dst_port = 53\ntally count() as flows, count(distinct dst_ip) as servers per src_ip\nsort flows desc\nfirst 10',
      picture: { kind: 'ranked' },
    },
  ],
  layout: [
    { card: 'top', x: 0, y: 0, w: 4, h: 9 },
    { card: 'bottom', x: 4, y: 0, w: 4, h: 9 },
    { card: 'countries', x: 8, y: 0, w: 4, h: 3 },
    { card: 'ports', x: 8, y: 3, w: 4, h: 6 },
    { card: 'random', x: 0, y: 9, w: 8, h: 6 },
  ],
};

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

const HOSTS = "ask host 'Host' choices from host any\nfrom process\nwhere host = $host\n";

/** Programs, and with what rights they run. */
export const programs: Board = {
  title: 'Programs and their rights',
  about: 'What runs with full rights, what was never seen before, and where.',
  refresh: 300,
  cards: [
    {
      id: 'elevation',
      title: 'Rights in words',
      hunt: `${HOSTS}set rights = if(elevation = 'full', 'full administrator rights', if(elevation = 'limited', 'limited rights', if(elevation = 'default', 'the rights of the user', 'not told')))\ntally count() as starts per rights\nsort starts desc`,
      picture: { kind: 'bars' },
    },
    {
      id: 'full',
      title: 'With full rights, rarest first',
      hunt: `${HOSTS}where elevation = 'full'\ntally count() as starts, last(user) as by, max(time) as last per process, host\nsort starts\nfirst 20`,
      picture: { kind: 'rows' },
      window: { last: '7d' },
    },
    {
      id: 'new',
      title: 'Never run on this host before',
      hunt: "ask host 'Host' choices from host any\nfrom process\nwhere host = $host and process is not null\ndebut process per host in last 1d, count() as starts\nsort starts\nfirst 20\nshow host, process, first_seen, starts, first.user as by",
      picture: { kind: 'rows' },
      window: { last: '30d' },
    },
    {
      id: 'parents',
      title: 'What starts what',
      hunt: `${HOSTS}where parent_process is not null and process is not null\ntally count() as starts per parent_process, process\nsort starts desc\nfirst 30`,
      picture: { kind: 'flow' },
    },
    {
      id: 'scripts',
      title: 'Scripts by host and day',
      hunt: `${HOSTS}where operation = 'script.run'\ntally count() as scripts per host, every 1d`,
      picture: { kind: 'heat' },
      window: { last: '7d' },
    },
  ],
  layout: [
    { card: 'elevation', x: 0, y: 0, w: 3, h: 5 },
    { card: 'full', x: 3, y: 0, w: 5, h: 7 },
    { card: 'new', x: 8, y: 0, w: 4, h: 7 },
    { card: 'parents', x: 0, y: 7, w: 6, h: 12 },
    { card: 'scripts', x: 6, y: 7, w: 6, h: 8 },
  ],
};

/** How the sources are doing. */
export const sources: Board = {
  title: 'Sources and lag',
  about: 'What comes in, what comes late, where there are gaps.',
  refresh: 60,
  cards: [
    { id: 'state', title: 'Quiet or late now', shows: 'sources' },
    { id: 'aside', title: 'Records set aside', shows: 'set-aside' },
    {
      id: 'volume',
      title: 'Events by source',
      hunt: 'from all\ntally count() as events per source, every 1h',
      picture: { kind: 'stacked' },
    },
    {
      id: 'gaps',
      title: 'Hour by hour: what is pale sent nothing',
      hunt: 'from all\ntally count() as events per source, every 1h\nfill',
      picture: { kind: 'heat' },
      window: { last: '24h' },
    },
    {
      id: 'late',
      title: 'Which came late',
      hunt: 'from all\nset minutes = round(seconds_between(time, received) / 60, 1)\nwhere minutes > 60\ntally count() as events, max(minutes) as worst per source\nsort events desc\nfirst 12',
      picture: { kind: 'ranked' },
      note: 'More than an hour after it happened.',
    },
  ],
  layout: [
    { card: 'state', x: 0, y: 0, w: 4, h: 5 },
    { card: 'aside', x: 0, y: 5, w: 4, h: 2 },
    { card: 'volume', x: 4, y: 0, w: 8, h: 7 },
    { card: 'gaps', x: 0, y: 7, w: 8, h: 8 },
    { card: 'late', x: 8, y: 7, w: 4, h: 8 },
  ],
};

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
