import { HOUR } from '../../core/base/instant.js';
import { forgetMatches, LATENESS } from './forget-matches.js';
import { strToU8, zipSync } from 'fflate';
import {
  addRule,
  Caller,
  send,
  signInRecord,
  switchOn,
  TEST_TIME,
  testServer,
  type TestServer,
} from '../tests/server.js';

let server: TestServer;
let analyst: Caller;
beforeEach(async () => {
  server = await testServer();
  analyst = await new Caller(server).signIn('analyst');
});
afterEach(() => server.stop());

const at = (seconds: number): string =>
  new Date(Date.parse('2026-11-14T08:00:00Z') + seconds * 1000).toISOString();
const denied = (seconds: number, user = 'teo.marrash', why = 'bad_secret'): string =>
  signInRecord({ at: at(seconds), user, denied: why });
const rule = (more = '', why = 'bad_secret'): string =>
  `title: Refused\nlogsource: {category: authentication}\ndetection: {s: {'result.why': ${why}}, condition: s}\n${more}`;

const alerts = async (): Promise<any[]> => (await analyst.call('GET', '/alerts?state=all')).json.alerts;
async function replay(text: string): Promise<any> {
  const response = await analyst.fetch('POST', '/rules/replay', { text, window: TEST_TIME });
  const lines = (await response.text()).trim().split('\n');
  return JSON.parse(lines.at(-1) ?? '');
}

describe('on the way to being on', () => {
  it('a rule is a draft, and goes on only after its replay was looked at', async () => {
    const { json } = await analyst.call('POST', '/rules', { text: rule() });
    expect(json).toMatchObject({ state: 'draft', liveVersion: null, replayed: null, type: 'detection' });
    const early = await analyst.call('PATCH', `/rules/${json.id}`, { state: 'on' });
    expect([early.status, early.json.code]).toEqual([409, 'not-replayed']);
    await replay(rule());
    const on = await analyst.call('PATCH', `/rules/${json.id}`, { state: 'on' });
    expect(on.json).toMatchObject({ state: 'on', liveVersion: 1, replayed: { who: 'analyst', matches: 0 } });
  });

  it('not while one of its tests fails', async () => {
    const text = rule(
      'lamp:\n  tests:\n    - name: another reason\n      must: match\n      event: {result: {why: locked}}\n',
    );
    const { json } = await analyst.call('POST', '/rules', { text });
    await replay(text);
    const refused = await analyst.call('PATCH', `/rules/${json.id}`, { state: 'on' });
    expect(refused.json).toMatchObject({ code: 'test-failed' });
    expect(refused.json.detail).toContain('"another reason"');
  });

  it('versions say who changed it and why; one that another changed meanwhile is refused', async () => {
    const { json } = await analyst.call('POST', '/rules', { text: rule() });
    const change = (why: string) =>
      analyst.call('PATCH', `/rules/${json.id}`, { text: `${rule()}# ${why}\n`, why, version: 1 });
    expect((await change('first')).status).toBe(200);
    expect((await change('second')).json.code).toBe('changed-meanwhile');
    const { versions } = (await analyst.call('GET', `/rules/${json.id}/versions`)).json;
    expect(versions.map(({ version, author, why }: any) => [version, author, why])).toEqual([
      [2, 'analyst', 'first'],
      [1, 'analyst', ''],
    ]);
  });

  it('one that raised alerts is kept, another may be removed once it is off', async () => {
    const loud = await addRule(analyst, rule());
    const quiet = await addRule(analyst, rule('', 'locked'));
    await send(server, 'harbour-id', denied(0));
    const remove = (id: string) => analyst.call('DELETE', `/rules/${id}`);
    expect((await remove(quiet.id)).json.code).toBe('rule-is-on');
    for (const { id } of [loud, quiet]) await analyst.call('PATCH', `/rules/${id}`, { state: 'off' });
    expect((await remove(loud.id)).json.code).toBe('rule-has-alerts');
    expect((await remove(quiet.id)).status).toBe(200);
  });
});

describe('what becomes of matches', () => {
  it('a rule that marks raises no alert, and its events say so', async () => {
    await addRule(analyst, rule('lamp: {does: mark}\n'));
    const { json } = await send(server, 'harbour-id', denied(0));
    expect(await alerts()).toEqual([]);
    const event = (await analyst.call('GET', `/events/${json.outcomes[0].id}`)).json;
    expect(event.marked).toEqual([expect.objectContaining({ title: 'Refused', alert: null })]);
    expect((await analyst.call('GET', '/rules')).json.rules).toEqual([
      expect.objectContaining({ onMatch: 'mark', alerts: 0 }),
    ]);
  });

  it('within its quiet a settled alert goes on gathering; after it a new one is raised', async () => {
    await addRule(analyst, rule('lamp: {quiet: 1h}\n'));
    await send(server, 'harbour-id', denied(0));
    const [first] = await alerts();
    await analyst.call('PATCH', `/alerts/${first.id}`, { state: 'settled', verdict: 'harmless' });
    await send(server, 'harbour-id', denied(3599));
    expect(await alerts()).toEqual([expect.objectContaining({ id: first.id, state: 'settled', matches: 2 })]);
    await send(server, 'harbour-id', denied(3601));
    expect((await alerts()).map(({ state, matches }) => [state, matches]).sort()).toEqual([
      ['settled', 2],
      ['unread', 1],
    ]);
  });

  it('quiet for any subject gathers all in one; a subject may be made of several fields', async () => {
    await addRule(analyst, rule('lamp: {quiet-per: any}\n'));
    await addRule(analyst, rule('lamp: {subject: [user, country]}\n').replace('Refused', 'By two'));
    await send(server, 'harbour-id', [denied(0), denied(1, 'ines.vaal')].join('\n'));
    const found = await alerts();
    expect(found.filter(({ title }) => title === 'Refused')).toEqual([
      expect.objectContaining({ matches: 2 }),
    ]);
    expect(found.filter(({ title }) => title === 'By two')).toHaveLength(2);
  });
});

it('rules name rules of other texts; filters of drafts leave nothing out', async () => {
  await analyst.call('POST', '/rules', { text: `name: refused\n${rule()}` });
  await analyst.call('POST', '/rules', {
    text: 'title: F\nfilter: {rules: [refused], s: {user: teo.marrash}, condition: not s}\n',
  });
  const counting =
    'title: Three of one\ncorrelation: {type: event_count, rules: [refused], group-by: [user], timespan: 5m, condition: {gte: 3}}\n';
  await addRule(analyst, counting);
  await send(server, 'harbour-id', [denied(0), denied(1), denied(2)].join('\n'));
  expect((await alerts()).map(({ title, subject }) => [title, subject])).toEqual([
    ['Three of one', 'teo.marrash'],
  ]);
});

it('a replay says what the rule would have said, day by day, as it did live', async () => {
  const text = `title: Refused\nname: refused\nlogsource: {}\ndetection: {s: {'result.why': bad_secret}, condition: s}\n---\ntitle: Three\ncorrelation: {type: event_count, rules: [refused], group-by: [user], timespan: 1m, condition: {gte: 3}}\n`;
  await addRule(analyst, text);
  const records = [0, 10, 20, 30, 40, 50, 100_000, 100_001, 100_002].map((seconds) => denied(seconds));
  await send(server, 'harbour-id', [...records, denied(5, 'ines.vaal')].reverse().join('\n'));
  const [live] = await alerts();
  const found = await replay(text);
  expect(found).toMatchObject({ complete: true, matches: 3, alerts: 2 });
  expect(found.matches).toBe(live.matches);
  expect(found.days.map(({ day, matches }: any) => [day, matches])).toEqual([
    ['2026-11-14T00:00:00Z', 2],
    ['2026-11-15T00:00:00Z', 1],
  ]);
  expect(found.subjects).toEqual([{ subject: 'teo.marrash', matches: 3, alerts: 2 }]);
  expect(found.examples[0].events).toHaveLength(3);
});

describe('files', () => {
  const good = (title: string, id: string): string =>
    `# kept as it is\n${rule().replace('Refused', title)}id: ${id}\nour-own-key: [1, 2]\n`;
  const ids = ['0b6d3a52-98a1-4a57-8f0f-3d2f5b1f9e01', '0b6d3a52-98a1-4a57-8f0f-3d2f5b1f9e02'];
  const files = [
    { name: 'pack/one.yml', text: good('One', ids[0] ?? '') },
    { name: 'pack/two.yml', text: good('Two', ids[1] ?? '') },
    {
      name: 'pack/broken.yml',
      text: 'title: Broken\nlevel: huge\nlogsource: {}\ndetection: {s: {a: 1}, condition: s}\n',
    },
  ];

  it('broken ones are refused with file and line, the others come in as drafts, and again unchanged', async () => {
    const first = await analyst.call('POST', '/rules/import', { files });
    expect(first.json).toMatchObject({ loaded: 2, added: 2, changed: 0, unchanged: 0 });
    expect(first.json.refused).toEqual([
      { file: 'pack/broken.yml', rule: 'Broken', line: 2, reason: expect.stringContaining('"huge"') },
    ]);
    expect((await analyst.call('POST', '/rules/import', { files })).json).toMatchObject({
      added: 0,
      unchanged: 2,
    });
    const renamed = [{ name: 'elsewhere.yml', text: `${files[0]?.text}# more\n` }];
    expect((await analyst.call('POST', '/rules/import', { files: renamed })).json).toMatchObject({
      changed: 1,
    });
  });

  it('archives come in, and what goes out is what came in, character by character', async () => {
    const archive = zipSync(Object.fromEntries(files.map(({ name, text }) => [name, strToU8(text)])));
    const response = await fetch(`${server.base}/rules/import-archive`, {
      method: 'POST',
      headers: {
        Cookie: (analyst as unknown as { cookie: string }).cookie,
        'Content-Type': 'application/octet-stream',
      },
      body: Buffer.from(archive),
    });
    expect(await response.json()).toMatchObject({ loaded: 2, added: 2 });
    const { rules } = (await analyst.call('GET', '/rules')).json;
    const texts = await Promise.all(
      rules.map(async ({ id }: any) => (await analyst.fetch('GET', `/rules/${id}/export`)).text()),
    );
    expect(texts).toEqual([files[0]?.text, files[1]?.text]);
    const whole = await analyst.fetch('GET', '/rules/export');
    expect(whole.headers.get('content-type')).toBe('application/zip');
    const broken = await fetch(`${server.base}/rules/import-archive`, {
      method: 'POST',
      headers: {
        Cookie: (analyst as unknown as { cookie: string }).cookie,
        'Content-Type': 'application/octet-stream',
      },
      body: 'PK nothing',
    });
    const refusal = (await broken.json()) as { code: string };
    expect([broken.status, refusal.code]).toEqual([422, 'broken-archive']);
  });
});

describe('log sources', () => {
  const entry = {
    category: 'door_log',
    product: null,
    service: null,
    kinds: ['signin'],
    sources: ['harbour-id'],
    fields: { Who: 'user' },
    note: '',
  };
  const text =
    'title: Door\nlogsource: {category: door_log}\ndetection: {s: {Who: teo.marrash}, condition: s}\n';

  it('a rule of a log source that nothing gives says so, until the table says what it means', async () => {
    const check = async () => (await analyst.call('POST', '/rules/check', { text })).json;
    expect((await check()).absent).toContain('category door_log');
    const made = await analyst.call('POST', '/log-sources', entry);
    expect(made.json).toMatchObject({ category: 'door_log', fields: { Who: 'user' } });
    expect(await check()).toMatchObject({ absent: null, sources: ['harbour-id'] });
    const { id } = await addRule(analyst, text);
    await send(server, 'harbour-id', denied(0));
    expect((await alerts()).map(({ title }) => title)).toEqual(['Door']);
    expect((await analyst.call('DELETE', `/log-sources/${made.json.id}`)).json).toEqual({});
    expect((await analyst.call('GET', `/rules/${id}`)).json.problem).toContain('no source gives');
  });

  it('kinds and sources that there are not are refused with the nearest', async () => {
    const refuse = async (change: object) =>
      (await analyst.call('POST', '/log-sources', { ...entry, ...change })).json;
    expect((await refuse({ kinds: ['sign'] })).detail).toContain('"signin"');
    expect((await refuse({ sources: ['harbor-id'] })).detail).toContain('"harbour-id"');
    expect((await refuse({ category: ' ' })).code).toBe('bad-log-source');
  });
});

it('a new version runs only once it was switched on', async () => {
  const { id } = await addRule(analyst, rule());
  const other = rule('', 'locked');
  await analyst.call('PATCH', `/rules/${id}`, { text: other, version: 1 });
  await send(server, 'harbour-id', [denied(0), denied(1, 'ines.vaal', 'locked')].join('\n'));
  await switchOn(analyst, id, other);
  await send(server, 'harbour-id', [denied(2), denied(3, 'runa.keel', 'locked')].join('\n'));
  expect((await alerts()).map(({ subject, ruleVersion }) => [subject, ruleVersion]).sort()).toEqual([
    ['runa.keel', 2],
    ['teo.marrash', 1],
  ]);
});

it('what correlations counted is forgotten once nothing can complete it, by when it came in', async () => {
  const { pool } = server.database;
  const hits = async (): Promise<number> =>
    (await pool.query<{ n: number }>('SELECT count(*)::int AS n FROM correlation_hits')).rows[0]?.n ?? 0;
  const { id } = await addRule(
    analyst,
    `name: refused\n${rule()}---\ntitle: Three\ncorrelation: {type: event_count, rules: [refused], group-by: [user], timespan: 1h, condition: {gte: 3}}\n`,
  );
  await send(server, 'harbour-id', [denied(0), denied(1)].join('\n'));
  const now = Date.now() * 1000;
  await forgetMatches(pool, now);
  expect(await hits()).toBe(2);
  await forgetMatches(pool, now + LATENESS + 2 * HOUR);
  expect(await hits()).toBe(0);
  await send(server, 'harbour-id', denied(2));
  await analyst.call('PATCH', `/rules/${id}`, { state: 'off' });
  await forgetMatches(pool, now);
  expect(await hits()).toBe(0);
});
