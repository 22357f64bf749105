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
