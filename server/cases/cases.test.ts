import {
  addRule,
  Caller,
  send,
  signInRecord,
  TEST_TIME,
  testServer,
  type TestServer,
} from '../tests/server.js';
import { uuid5 } from './reports.js';

let server: TestServer;
let analyst: Caller;
let admin: Caller;
let reader: Caller;
let alerts: { id: number; subject: string; lastEvent: string }[];
let event: string;
const at = (seconds: number): string =>
  new Date(Date.parse('2026-11-14T08:00:00Z') + seconds * 1000).toISOString();
const EVIL = '<script>alert(1)</script>\u202e';
const RULE = `title: Refused
id: 6b0a3f61-2222-4c22-9d33-2a44bb55cc66
level: high
tags: [attack.credential_access, attack.t1110.001]
logsource: { product: harbour-id }
detection: { failed: { outcome: failure }, condition: failed }
`;

const call = (method: string, path: string, body?: object, who = analyst) =>
  who.call(method, `/cases${path}`, body);
const alertOf = (user: string) => alerts.find(({ subject }) => subject === user) ?? alerts[0];
const pinOf = (user: string) => ({
  kind: 'alert',
  ref: String(alertOf(user)?.id),
  title: `Refused: ${user}`,
  time: alertOf(user)?.lastEvent,
});
/** A case with an alert, an event and a hunt. */
async function open(title = 'Who was it'): Promise<any> {
  const { json } = await call('POST', '', { title, pins: [pinOf('teo.marrash')] });
  await call('POST', `/${json.id}/pins`, {
    kind: 'event',
    ref: event,
    title: 'the first',
    time: at(0),
    why: EVIL,
  });
  return (await call('POST', `/${json.id}/pins`, { kind: 'hunt', ref: '/hunt?q=from all', title: 'a hunt' }))
    .json;
}
const pool = () => server.database.pool;

beforeAll(async () => {
  server = await testServer();
  analyst = await new Caller(server).signIn('analyst');
  admin = await new Caller(server).signIn('admin');
  reader = await new Caller(server).signIn('reader');
  await addRule(analyst, RULE);
  const denied = (seconds: number, user: string): string =>
    signInRecord({ at: at(seconds), user, address: '198.18.40.77', denied: 'bad_secret' });
  await send(
    server,
    'harbour-id',
    [
      denied(0, 'teo.marrash'),
      denied(100, 'teo.marrash'),
      denied(5, 'ines.vaal'),
      denied(9, 'runa.keel'),
    ].join('\n'),
  );
  alerts = (await analyst.call('GET', '/alerts')).json.alerts;
  const found = await analyst.call('POST', '/hunts/run', {
    text: `from signin\nwhere user = 'teo.marrash'\nsort time\nshow time, user`,
    window: TEST_TIME,
  });
  event = found.json.events[0].id;
});
afterAll(() => server.stop());
beforeEach(() => pool().query('TRUNCATE cases CASCADE'));

describe('a case', () => {
  it('has a number of its year, holds its story in order, and what its evidence names', async () => {
    const one = await open();
    const year = new Date().getUTCFullYear() % 100;
    expect(one.number).toBe(`${year}-1`);
    expect((await call('POST', '', { title: 'Another' })).json.number).toBe(`${year}-2`);
    expect(one.pinned.map(({ kind }: any) => kind)).toEqual(['event', 'alert', 'hunt']);
    expect(one.pinned[1]).toMatchObject({
      level: 'high',
      key: false,
      sha256: expect.stringMatching(/^[0-9a-f]{64}$/),
    });
    expect(one.techniques).toEqual([{ id: 'T1110.001', name: expect.stringContaining('guessing') }]);
    expect(one.subjects).toContainEqual({ kind: 'user', name: 'teo.marrash', role: null });
    const { json: alert } = await analyst.call('GET', `/alerts/${alertOf('teo.marrash')?.id}`);
    expect(alert.cases).toEqual([{ id: one.id, title: 'Who was it' }]);
    expect(alert.changes.map(({ what }: any) => what)).toContain(`pinned to case ${one.id}`);
    // Again: what is pinned stays as it was.
    expect((await call('POST', `/${one.id}/pins`, pinOf('teo.marrash'))).json.pins).toBe(3);
  });

  it('is marked, given roles and tasks, handed over with a line, and waits', async () => {
    const { id, pinned } = await open();
    await call('PATCH', `/${id}/pins/${pinned[0].id}`, { key: true, why: 'it began here', marking: 'red' });
    await call('PUT', `/${id}/subjects`, { kind: 'user', name: 'teo.marrash', role: 'victim' });
    await call('POST', `/${id}/tasks`, { what: 'Renew the password', owner: 'admin', due: at(0) });
    const task = (await call('GET', `/${id}`)).json.tasks[0].id;
    await call('PATCH', `/${id}/tasks/${task}`, { done: true });
    await call('PATCH', `/${id}`, { owner: 'admin', line: 'ask him first', waitingOn: 'the harbour' });
    const { json } = await call('GET', `/${id}`);
    expect(json.pinned[0]).toMatchObject({ key: true, why: 'it began here', marking: 'red' });
    expect(json.subjects[0]).toEqual({ kind: 'user', name: 'teo.marrash', role: 'victim' });
    expect(json.tasks[0]).toMatchObject({ owner: 'admin', doneBy: 'analyst' });
    expect(json).toMatchObject({
      owner: 'admin',
      waitingOn: 'the harbour',
      handed: { by: 'analyst', line: 'ask him first' },
    });
    expect(json.notes.filter(({ isLine }: any) => isLine).map(({ text }: any) => text)).toEqual([
      'done: Renew the password',
      'handed to admin: ask him first, waits for the harbour',
    ]);
    await call('PUT', `/${id}/subjects`, { kind: 'user', name: 'teo.marrash', role: null });
    expect((await call('GET', `/${id}`)).json.subjects).toContainEqual({
      kind: 'user',
      name: 'teo.marrash',
      role: null,
    });
    expect((await call('POST', `/${id}/tasks`, { what: 'x', owner: 'nobody.here' })).status).toBe(422);
  });

  it('closes with a verdict, and its alerts alike where that is asked', async () => {
    const { id } = await open();
    expect((await call('PATCH', `/${id}`, { state: 'closed' })).json.code).toBe('needs-verdict');
    expect(
      (await call('PATCH', `/${id}`, { state: 'closed', verdict: 'real', settle: true })).json,
    ).toMatchObject({
      state: 'closed',
      verdict: 'real',
    });
    const { json } = await analyst.call('GET', `/alerts/${alertOf('teo.marrash')?.id}`);
    expect(json).toMatchObject({ state: 'settled', verdict: 'real', reason: `with case ${id}` });
    await analyst.call('PATCH', `/alerts/${json.id}`, { state: 'looking' });
    expect((await call('PATCH', `/${id}`, { state: 'open' })).json.state).toBe('open');
  });

  it('takes in another, which says where it went', async () => {
    const { id } = await open();
    const other = (
      await call('POST', '', { title: 'The same', pins: [pinOf('teo.marrash'), pinOf('ines.vaal')] })
    ).json;
    await call('POST', `/${other.id}/notes`, { text: 'she was at sea' });
    const { json } = await call('POST', `/${id}/merge`, { from: other.id });
    expect(json.pins).toBe(4);
    expect(json.notes.map(({ text }: any) => text)).toContain('she was at sea');
    expect((await call('GET', `/${other.id}`)).json).toMatchObject({ state: 'closed', mergedInto: id });
    expect((await call('POST', `/${other.id}/notes`, { text: 'x' })).status).toBe(404);
    expect((await call('POST', `/${id}/merge`, { from: other.id })).status).toBe(404);
    expect((await call('POST', `/${id}/merge`, { from: id })).json.code).toBe('into-itself');
  });

  it('suggests what shares a name, the rarest first, and nothing that is pinned', async () => {
    const { id } = await open();
    const { suggested } = (await call('GET', `/${id}/suggestions`)).json;
    expect(suggested).toEqual([]);
    await call('PUT', `/${id}/subjects`, { kind: 'user', name: 'runa.keel', role: 'affected' });
    const again = (await call('GET', `/${id}/suggestions`)).json.suggested;
    expect(again.map(({ subject, shares, rarity }: any) => [subject, shares, rarity])).toEqual([
      ['runa.keel', ['runa.keel'], 1],
    ]);
    const other = await open('Another');
    await call('PUT', `/${other.id}/subjects`, { kind: 'user', name: 'runa.keel', role: 'victim' });
    expect((await call('GET', `/${id}/suggestions`)).json.suggested.at(-1)).toMatchObject({
      kind: 'case',
      id: other.id,
    });
  });

  it('that is not there, or pins what is not there, is told; readers only read', async () => {
    expect((await call('GET', '/7')).status).toBe(404);
    expect((await call('POST', '/7/notes', { text: 'x' })).status).toBe(404);
    for (const ref of ['99999', 'no number', '-1', '9'.repeat(400)])
      expect(
        (await call('POST', '', { title: 'x', pins: [{ kind: 'alert', ref, title: 'x' }] })).status,
      ).toBe(404);
    const gone = [{ kind: 'event', ref: 'e'.repeat(32), title: 'x' }];
    expect((await call('POST', '', { title: 'x', pins: gone })).status).toBe(404);
    expect((await call('GET', '')).json.cases).toEqual([]);
    const { id, pinned } = await open();
    for (const [method, path, body] of [
      ['PATCH', `/${id}`, { title: 'x' }],
      ['POST', `/${id}/notes`, { text: 'x' }],
      ['PUT', `/${id}/draft`, { text: 'x' }],
      ['DELETE', `/${id}/pins/${pinned[0].id}`, undefined],
      ['POST', `/${id}/tasks`, { what: 'x', owner: 'admin' }],
      ['POST', '/import', {}],
    ] as const)
      expect([path, (await call(method, path, body, reader)).status]).toEqual([path, 403]);
    expect((await reader.fetch('GET', `/cases/${id}/report?form=html`)).status).toBe(200);
  });
});

describe('evidence', () => {
  it('is what it was after the event is deleted and the rule is changed', async () => {
    const { id, pinned } = await open();
    const content = async (i: number) => (await call('GET', `/${id}/pins/${pinned[i].id}`)).json;
    const [before, alert] = [await content(0), await content(1)];
    expect(before).toMatchObject({ holds: true, frozen: { event: { id: event, user: 'teo.marrash' } } });
    expect(alert.frozen.rule).toMatchObject({ version: 1, text: RULE, tags: ['attack.t1110.001'] });
    expect(alert.table.total).toBe(2);
    const client = await pool().connect();
    try {
      await client.query('BEGIN');
      await client.query('DELETE FROM events WHERE id = $1', [event]);
      await client.query('UPDATE rule_versions SET text = $1', ['title: other']);
      await client.query('COMMIT');
    } finally {
      client.release();
    }
    expect([await content(0), await content(1)]).toEqual([before, alert]);
    await pool().query('UPDATE rule_versions SET text = $1', [RULE]);
    expect((await call('GET', `/${id}/verify`)).json.holds).toBe(true);
  });

  it('that was tampered with is told by name', async () => {
    // Of an alert: its event may be gone by now.
    const { json } = await call('POST', '', { title: 'x', pins: [pinOf('ines.vaal'), pinOf('runa.keel')] });
    await pool().query('UPDATE case_pins SET frozen = replace(frozen, $1, $2)', ['ines.vaal', 'dov.aster']);
    const { holds, pins } = (await call('GET', `/${json.id}/verify`)).json;
    expect([holds, pins.map((pin: any) => [pin.title, pin.holds])]).toEqual([
      false,
      [
        ['Refused: ines.vaal', false],
        ['Refused: runa.keel', true],
      ],
    ]);
    const file = JSON.parse(await (await analyst.fetch('GET', `/cases/${json.id}/report?form=json`)).text());
    const read = await call('POST', '/import', file);
    expect([read.status, read.json.detail]).toEqual([422, expect.stringContaining('Refused: ines.vaal')]);
  });

  it('of a case is bounded, so that its report can be read', async () => {
    const { json } = await call('POST', '', { title: 'x', pins: [pinOf('ines.vaal')] });
    await pool().query("UPDATE case_pins SET frozen = repeat('x', 39999999)");
    const more = await call('POST', `/${json.id}/pins`, pinOf('runa.keel'));
    expect([more.json.code, more.json.detail]).toEqual(['case-full', expect.stringContaining('40,000,000')]);
    // What it says stands beside it: the story is shown all the same.
    expect((await call('GET', `/${json.id}`)).json.pinned).toMatchObject([{ level: 'high' }]);
  });

  it('taken off leaves a line with its hash; a snapshot that a case holds is not removed', async () => {
    const { json: snapshot } = await analyst.call('POST', '/snapshots', {
      name: 'Who signed in',
      question: {
        text: 'from signin\nshow time, user',
        window: TEST_TIME,
      },
    });
    const pins = [{ kind: 'snapshot', ref: String(snapshot.id), title: 'Who signed in' }];
    const { json: one } = await call('POST', '', { title: 'x', pins });
    const kept = await analyst.call('DELETE', `/snapshots/${snapshot.id}`);
    expect([kept.status, kept.json.detail]).toEqual([409, expect.stringContaining(one.number)]);
    await call('POST', `/${one.id}/notes`, { text: 'on it', pin: one.pinned[0].id });
    const { json: left } = await call('DELETE', `/${one.id}/pins/${one.pinned[0].id}`);
    expect(left.notes[0]).toMatchObject({ text: 'on it', inReport: false });
    expect(left.notes[1].text).toBe(`took off the snapshot “Who signed in”, SHA-256 ${one.pinned[0].sha256}`);
    expect((await analyst.call('DELETE', `/snapshots/${snapshot.id}`)).status).toBe(200);
  });
});

describe('notes', () => {
  it('are kept while they are written, for each person apart; others see who writes', async () => {
    const { json } = await call('POST', '', { title: 'x' });
    await call('PUT', `/${json.id}/draft`, { text: 'he was at' });
    await call('PUT', `/${json.id}/draft`, { text: 'I asked him' }, admin);
    const mine = (await call('GET', `/${json.id}`)).json;
    const theirs = (await call('GET', `/${json.id}`, undefined, admin)).json;
    expect([mine.draft.text, mine.writing]).toEqual(['he was at', ['admin']]);
    expect([theirs.draft.text, theirs.writing]).toEqual(['I asked him', ['analyst']]);
    const kept = (await call('POST', `/${json.id}/notes`, { text: 'he was at sea', inReport: false })).json;
    expect(kept).toMatchObject({
      draft: null,
      notes: [{ who: 'analyst', text: 'he was at sea', inReport: false }],
    });
    expect((await call('GET', `/${json.id}`, undefined, admin)).json.draft.text).toBe('I asked him');
    await call('PUT', `/${json.id}/draft`, { text: '' }, admin);
    expect((await call('GET', `/${json.id}`)).json.writing).toEqual([]);
  });

  it('pages that show the case are told', async () => {
    const { json } = await call('POST', '', { title: 'x' });
    const stream = await reader.fetch('GET', '/live');
    const heard = stream.body?.getReader();
    let text = '';
    const until = async (word: string): Promise<void> => {
      while (!text.includes(word)) text += new TextDecoder().decode((await heard?.read())?.value);
    };
    await until('event: ready');
    await call('POST', `/${json.id}/notes`, { text: 'x' });
    await until(`event: cases\ndata: {"id":${json.id}}`);
    await heard?.cancel();
  });
});

describe('a report', () => {
  it('is a page that runs nothing, Markdown, a file and a bundle; what is marked is left out', async () => {
    const { json } = await call('POST', '', { title: EVIL, pins: [pinOf('ines.vaal'), pinOf('runa.keel')] });
    await call('PATCH', `/${json.id}/pins/${json.pinned[0].id}`, { marking: 'red' });
    await call('POST', `/${json.id}/notes`, { text: EVIL });
    const get = (query: string) => analyst.fetch('GET', `/cases/${json.id}/report?${query}`);
    const page = await get('form=html');
    expect(page.headers.get('content-security-policy')).toContain("default-src 'none'");
    const html = await page.text();
    expect(html).not.toContain('<script');
    expect(html).toContain('1 pinned, 0 notes');
    expect(html).not.toContain('ines.vaal');
    expect(await (await get('form=html&marking=red')).text()).toContain('ines.vaal');
    const markdown = await get('form=markdown');
    expect(markdown.headers.get('content-disposition')).toContain(`case-${json.number}.md`);
    expect(await markdown.text()).toContain('\\<script\\>');
    const stix = JSON.parse(await (await get('form=stix')).text());
    expect(stix.objects.map(({ type }: any) => type)).toEqual(
      expect.arrayContaining([
        'identity',
        'marking-definition',
        'report',
        'observed-data',
        'user-account',
        'attack-pattern',
      ]),
    );
    expect((await get('form=word')).status).toBe(400);
  });

  it('its file is read by another installation, with the hashes intact', async () => {
    const { json: one } = await call('POST', '', {
      title: 'Night',
      pins: [{ ...pinOf('runa.keel'), key: true, why: 'first' }],
    });
    await call('PATCH', `/${one.id}`, { lede: 'Somebody else.', marking: 'green', severity: 'critical' });
    await call('POST', `/${one.id}/notes`, { text: 'asked her' });
    await call('PUT', `/${one.id}/subjects`, { kind: 'user', name: 'runa.keel', role: 'victim' });
    const file = JSON.parse(await (await analyst.fetch('GET', `/cases/${one.id}/report?form=json`)).text());
    const { status, json: read } = await call('POST', '/import', file);
    expect(status).toBe(200);
    expect(read).toMatchObject({
      title: 'Night',
      lede: 'Somebody else.',
      marking: 'green',
      severity: 'critical',
    });
    expect(read.id).not.toBe(one.id);
    expect(read.pinned[0]).toMatchObject({
      title: 'Refused: runa.keel',
      key: true,
      why: 'first',
      who: 'analyst',
    });
    expect(read.subjects[0]).toEqual({ kind: 'user', name: 'runa.keel', role: 'victim' });
    expect((await call('GET', `/${read.id}/verify`)).json).toMatchObject({ holds: true });
    expect(read.notes[0].text).toContain('asked her');
    // The numbers of another installation are those of other alerts here: they are neither shown nor settled with it.
    expect(read.pinned[0].ref).toBe(`elsewhere:${one.number}:${alertOf('runa.keel')?.id}`);
    await call('PATCH', `/${read.id}`, { state: 'closed', verdict: 'harmless', settle: true });
    const { json: alert } = await analyst.call('GET', `/alerts/${alertOf('runa.keel')?.id}`);
    expect([alert.state, alert.cases.map(({ id }: any) => id)]).toEqual(['unread', [one.id]]);
    // A file that is none says where.
    expect((await call('POST', '/import', { ...file, version: 2 })).status).toBe(400);
  });

  it('names are UUIDs of version 5, the same each time', () => {
    expect(uuid5('a')).toBe(uuid5('a'));
    expect(uuid5('a')).not.toBe(uuid5('b'));
    expect(uuid5('a')).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-5[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
  });
});

describe('cases that are joined and parted', () => {
  const lines = (detail: any): string[] =>
    detail.notes.filter(({ isLine }: any) => isLine).map(({ text }: any) => text);

  it('what is split off is a case of its own with its evidence whole; both say so', async () => {
    const whole = await open('The whole');
    const [first, second] = whole.pinned;
    await call('POST', `/${whole.id}/notes`, { text: 'on the first', pin: first.id });
    await call('PUT', `/${whole.id}/subjects`, { kind: 'user', name: 'teo.marrash', role: 'victim' });
    const { status, json: part } = await call('POST', `/${whole.id}/split`, {
      title: 'The part',
      pins: [first.id],
    });
    expect(status).toBe(200);
    expect(part.id).not.toBe(whole.id);
    expect(part.pinned.map(({ id, sha256 }: any) => [id, sha256])).toEqual([[first.id, first.sha256]]);
    expect(part.notes.some(({ text }: any) => text === 'on the first')).toBe(true);
    expect(part.subjects).toContainEqual({ kind: 'user', name: 'teo.marrash', role: 'victim' });
    expect((await call('GET', `/${part.id}/verify`)).json.holds).toBe(true);
    const left = (await call('GET', `/${whole.id}`)).json;
    expect(left.pinned.map(({ id }: any) => id)).toContain(second.id);
    expect(left.pinned.map(({ id }: any) => id)).not.toContain(first.id);
    expect(left.links).toMatchObject([{ id: part.id, title: 'The part', why: 'split off' }]);
    expect(lines(left).at(-1)).toContain(`split off case ${part.number}`);
    expect(lines(part).at(-1)).toBe(`split off from case ${whole.number}`);
    expect((await call('POST', `/${whole.id}/split`, { title: 'x', pins: [first.id] })).status).toBe(404);
  });

  it('linked cases know each other, and a merge takes links, files and followers along', async () => {
    const one = await open('One');
    const other = await open('Other');
    const third = await open('Third');
    expect((await call('POST', `/${one.id}/links`, { to: one.id })).status).toBe(422);
    expect((await call('POST', `/${one.id}/links`, { to: 99_999 })).status).toBe(404);
    const linked = (await call('POST', `/${one.id}/links`, { to: other.id, why: 'the same address' })).json;
    expect(linked.links).toMatchObject([{ id: other.id, number: other.number, why: 'the same address' }]);
    expect(lines((await call('GET', `/${other.id}`)).json).at(-1)).toBe(
      `linked with case ${one.number}: the same address`,
    );
    await call('PUT', `/${one.id}/watch`, { watching: true });
    const merged = (await call('POST', `/${third.id}/merge`, { from: one.id })).json;
    expect(merged.links.map(({ id }: any) => id)).toEqual([other.id]);
    expect(merged.watchers).toEqual(['analyst']);
    expect((await call('DELETE', `/${third.id}/links/${other.id}`)).json.links).toEqual([]);
    expect((await call('DELETE', `/${third.id}/links/${other.id}`)).status).toBe(404);
  });

  it('whoever follows a case sees that it changed since they looked', async () => {
    const { id } = await open('Followed');
    const of = async (who: Caller): Promise<unknown> =>
      (await who.call('GET', '/cases')).json.cases.find((one: any) => one.id === id)?.watched;
    expect(await of(reader)).toBeNull();
    expect((await reader.call('PUT', `/cases/${id}/watch`, { watching: true })).json.watchers).toEqual([
      'reader',
    ]);
    expect(await of(reader)).toBe('seen');
    await call('POST', `/${id}/notes`, { text: 'news' });
    expect(await of(reader)).toBe('news');
    expect(await of(analyst)).toBeNull();
    await reader.call('GET', `/cases/${id}`);
    expect(await of(reader)).toBe('seen');
    await reader.call('PUT', `/cases/${id}/watch`, { watching: false });
    expect(await of(reader)).toBeNull();
  });
});

it('a response is pinned as it stood, and is a step of the story and of the report', async () => {
  const { rows } = await pool().query<{ id: number; alert: number }>(
    `INSERT INTO responses (alert, does, subject, asked_by, state, said)
     SELECT id, 'force-password-change', 'teo.marrash', 'analyst', 'done', 'changed' FROM alerts ORDER BY id LIMIT 1 RETURNING id, alert`,
  );
  const { id } = await open('Response');
  const { json } = await call('POST', `/${id}/pins`, {
    kind: 'response',
    ref: String(rows[0]?.id),
    title: 'Force a password change of teo.marrash',
  });
  const pin = json.pinned.find(({ kind }: any) => kind === 'response');
  expect(pin).toMatchObject({ outcome: 'success' });
  await pool().query(`UPDATE responses SET state = 'undone' WHERE id = $1`, [rows[0]?.id]);
  const { frozen, holds, facts } = (await call('GET', `/${id}/pins/${pin.id}`)).json;
  expect([frozen.response.state, holds]).toEqual(['done', true]);
  expect(facts).toContainEqual({ label: 'the other side said', value: 'changed' });
  expect(await (await reader.fetch('GET', `/cases/${id}/report?form=markdown`)).text()).toContain(
    'Force a password change of teo\\.marrash',
  );
  expect((await call('POST', `/${id}/pins`, { kind: 'response', ref: '99999', title: 'x' })).status).toBe(
    404,
  );
});
