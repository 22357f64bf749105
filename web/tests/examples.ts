import type { SubjectKind } from '../../core/subjects/kinds.js';
import type { Dossier } from '../../core/wire/dossiers.js';
import type { AlertDetail } from '../../core/wire/alerts.js';
import type { RuleWire } from '../../core/wire/rules.js';
import type { ListPage, ListSummary } from '../../core/wire/lists.js';
import type { Pull } from '../../core/wire/pulls.js';
import type { Reread } from '../../core/wire/rereads.js';
import type { RecipeTried, Source } from '../../core/wire/sources.js';

// What the server answers, with something in every field; tests change what they are about.

export const source = (more: Partial<Source> = {}): Source => ({
  name: 'dock-auth',
  title: 'Dock sign-ins',
  description: 'sshd and sudo at the quay',
  recipe: 'dock-auth',
  recipeVersion: 3,
  format: 'syslog',
  state: 'flowing',
  stored: 12_345,
  known: 7,
  setAside: 0,
  lastEvent: '2026-11-14T08:03:12Z',
  lastReceived: '2026-11-14T08:03:13Z',
  keyEnding: 'wxyz',
  perHour: [0, 2, 4],
  lag: { median: 2, most: 5 },
  usualSeconds: 40,
  silentSeconds: 3,
  gaps: [],
  retentionDays: null,
  heldFrom: null,
  syslog: null,
  zone: null,
  ...more,
});

export const list = (more: Partial<ListSummary> = {}): ListSummary => ({
  name: 'people',
  description: 'everyone',
  match: 'exact',
  key: 'login',
  rows: 2,
  expired: 0,
  bytes: 100,
  updated: '2026-11-14T08:00:00Z',
  usedBy: [],
  columns: ['login', 'floor'],
  ...more,
});

export const listPage = (more: Partial<ListPage> = {}): ListPage => ({
  list: list(),
  columns: ['login', 'floor'],
  found: 2,
  rows: [
    { position: 0, cells: { login: 'teo.marrash', floor: 3 }, expires: null },
    { position: 1, cells: { login: 'runa.keel', floor: null }, expires: null },
  ],
  ...more,
});

export const pull = (more: Partial<Pull> = {}): Pull => ({
  into: 'list',
  name: 'people',
  address: 'http://10.30.0.9/people',
  everySeconds: 300,
  items: 'people',
  next: 'next',
  cursorParameter: 'cursor',
  hasToken: false,
  enabled: true,
  allowPrivate: true,
  cursor: null,
  fetched: 274,
  lastRun: '2026-11-14T08:00:00Z',
  lastFetched: 137,
  error: null,
  failures: 0,
  nextRun: '2026-11-14T08:05:00Z',
  speaks: 'json',
  follow: 'cursor',
  sinceParameter: '',
  overlapSeconds: 0,
  tokenAddress: '',
  clientId: '',
  scope: '',
  kind: null,
  ...more,
});

export const reread = (more: Partial<Reread> = {}): Reread => ({
  id: 4,
  source: 'dock-auth',
  recipe: 'dock-auth',
  version: 3,
  discard: false,
  state: 'done',
  by: 'ottilie.brandt',
  created: '2026-11-14T08:00:00Z',
  ended: '2026-11-14T08:01:00Z',
  total: 2000,
  done: 2000,
  changed: 12,
  unreadable: 0,
  discarded: 0,
  reasons: [],
  error: null,
  ...more,
});

export const tried = (more: Partial<RecipeTried> = {}): RecipeTried => ({
  recipe: { name: 'dock-auth', format: 'syslog' },
  recognised: { format: 'syslog', share: 1 },
  mistake: null,
  records: [
    { raw: 'first', became: 'event', fields: {}, event: { user: 'teo.marrash' }, unread: [], reason: null },
    { raw: 'second', became: 'set-aside', fields: null, event: null, unread: [], reason: 'no syslog line' },
    { raw: 'third', became: 'discarded', fields: {}, event: null, unread: [], reason: 'a heading' },
  ],
  coverage: [
    { field: 'user', records: 2, example: 'teo.marrash', columns: ['user'], used: true },
    { field: 'pid', records: 2, example: '77', columns: [], used: false },
    { field: 'app', records: 2, example: 'sshd', columns: [], used: true },
  ],
  fitting: [],
  suggestions: [{ field: 'pid', column: 'process_id', because: 'by its name' }],
  ...more,
});

export const alert = (more: Partial<AlertDetail> = {}): AlertDetail => ({
  id: 1,
  rule: '8d7f0a52-0000-4000-8000-000000000001',
  ruleVersion: 2,
  title: 'Many failed sign-ins of one user',
  level: 'high',
  subject: 'user teo.marrash',
  subjectFields: { user: 'teo.marrash' },
  state: 'unread',
  verdict: null,
  owner: null,
  matches: 31,
  firstEvent: '2026-11-14T06:41:00Z',
  lastEvent: '2026-11-14T06:47:00Z',
  created: '2026-11-14T06:47:01Z',
  updated: '2026-11-14T06:47:01Z',
  evidence: [],
  evidenceTotal: 0,
  changes: [],
  reason: null,
  mergedInto: null,
  why: [],
  similar: [],
  deliveries: [],
  responses: [],
  cases: [],
  ...more,
});

export const rule = (more: Partial<RuleWire> = {}): RuleWire => ({
  id: '8d7f0a52-0000-4000-8000-000000000001',
  title: 'Many failed sign-ins of one user',
  level: 'high',
  type: 'correlation',
  onMatch: 'alert',
  state: 'on',
  version: 2,
  liveVersion: 2,
  owner: 'joris.penhale',
  tags: ['attack.t1110.001'],
  updated: '2026-11-14T08:00:00Z',
  alerts: 3,
  recent: 41,
  problem: null,
  sources: ['harbour-id'],
  text: 'title: Many failed sign-ins of one user\nlogsource: {}\n',
  replayed: null,
  ...more,
});

/** A dossier as the server gives it. */
export const dossierOf = (kind: SubjectKind, name: string, more: Partial<Dossier> = {}): Dossier => ({
  subject: { kind, name },
  window: { from: '2026-11-28T00:00:00Z', to: '2026-11-29T00:00:00Z' },
  known: { first: '2026-10-30T08:00:00Z', last: '2026-11-28T08:00:00Z' },
  names: [{ value: 'u-1002', by: 'list', where: 'people, id', from: null, to: null }],
  told: [],
  looksLike: [],
  facts: [
    { list: 'people', column: 'title', value: 'fares analyst' },
    { list: 'people', column: 'manager', value: 'runa.keel' },
  ],
  sentence: [
    'First sign-in ever from Canada; 41 failed sign-ins; acted as ',
    { name: 'ottilie.brandt' },
    '.',
  ],
  normal: ['Usually Monday to Friday 08:00 – 17:00.'],
  usual: [{ lane: 'sign-in', usual: 3, hours: [8, 9] }],
  firsts: [
    {
      what: 'country',
      value: 'Canada',
      time: '2026-11-28T07:58:00Z',
      events: 3,
      before: 0,
      ever: 0,
      hunt: `from all\nwhere about ${kind} '${name}' and country = 'Canada'`,
    },
    {
      what: 'address',
      value: '198.18.40.77',
      time: '2026-11-28T07:41:00Z',
      events: 40,
      before: 0,
      ever: 3,
      hunt: `from all\nwhere about ${kind} '${name}' and src_ip = '198.18.40.77'`,
    },
  ],
  state: [],
  makers: [],
  neighbours: [
    { kind: 'host', name: 'quay-tk-07', shared: ['nobody else'], events: 9, score: 3.4, alerts: 5 },
    {
      kind: 'user',
      name: 'bram.dahl',
      shared: ['host bridge-05', 'host bridge-01'],
      events: 4,
      score: 2,
      alerts: 0,
    },
  ],
  alerts: [alert()],
  cases: [],
  board: {
    title: 'Dossier of a user',
    cards: [
      { id: 'firsts', title: 'New in this Beam', shows: 'firsts' },
      { id: 'alerts-about', title: 'Alerts and cases', shows: 'alerts-about' },
      { id: 'neighbours', title: 'Neighbours', shows: 'neighbours' },
    ],
    layout: [
      { card: 'firsts', x: 0, y: 0, w: 4, h: 6 },
      { card: 'alerts-about', x: 4, y: 0, w: 4, h: 6 },
      { card: 'neighbours', x: 8, y: 0, w: 4, h: 6 },
    ],
  },
  ...more,
});
