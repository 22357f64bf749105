import { addRule, Caller, send, signInRecord, testServer, type TestServer } from '../tests/server.js';

let server: TestServer;
let analyst: Caller;
let rule: string;
const START = Date.parse('2026-11-10T00:00:00Z');
const WINDOW = { from: '2026-11-01T00:00:00Z', to: '2026-11-20T00:00:00Z' };
const at = (hour: number, minute = 0): string =>
  new Date(START + hour * 3_600_000 + minute * 60_000).toISOString();
const denied = (hour: number, minute: number, user: string, address = '10.20.1.5'): string =>
  signInRecord({ at: at(hour, minute), user, address, denied: 'bad_secret' });

const RULE = `# Kept with care
title: Refused
id: 6b0a3f61-1111-4c22-9d33-2a44bb55cc66
level: high
logsource: { category: authentication }
detection:
  # what the provider says
  failed:
    outcome: failure
  condition: failed
lamp:
  tests:
    - { name: refused, must: match, event: { outcome: failure, user: runa.keel } }
    - { name: let in, must: pass, event: { outcome: success, user: runa.keel } }
`;
const COUNTING = `title: Refused sign-in
name: refused_sign_in
logsource: { category: authentication }
detection: { s: { outcome: failure }, condition: s }
lamp: { on-match: count }
---
title: Refused again and again
id: 6b0a3f61-1111-4c22-9d33-2a44bb55cc77
level: medium
correlation: { type: event_count, rules: [refused_sign_in], group-by: [user], timespan: 1h, condition: { gte: 4 } }
`;

const follow = async (path: string, body: object): Promise<any[]> => {
  const response = await analyst.fetch('POST', path, body);
  const text = await response.text();
  return text
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line));
};
const study = async (id = rule): Promise<any> =>
  (await follow(`/tuning/${id}/study`, { window: WINDOW })).at(-1);
const prove = async (body: object, id = rule): Promise<any> =>
  (await follow(`/tuning/${id}/proof`, { window: WINDOW, ...body })).at(-1);
const leaveOut = (field: string, value: string) => ({ all: [{ field, op: 'equals', value }] });

beforeAll(async () => {
  server = await testServer();
  analyst = await new Caller(server).signIn('analyst');
  rule = (await addRule(analyst, RULE)).id;
  const records: string[] = [];
  for (let day = 0; day < 6; day++)
    for (let hour = 0; hour < 24; hour += 4) {
      // A program that fails five times in each of its hours, and people who fail and get in.
      for (let minute = 0; minute < 5; minute++)
        records.push(denied(day * 24 + hour, minute * 2, 'svc-watch', '10.20.9.9'));
      records.push(denied(day * 24 + hour, 30, `person${(day * 6 + hour) % 17}`));
      records.push(
        signInRecord({
          at: at(day * 24 + hour, 40),
          user: `person${(day * 6 + hour) % 17}`,
          address: '10.20.1.5',
        }),
      );
    }
  for (let minute = 0; minute < 6; minute++) records.push(denied(70, minute, 'teo.marrash', '198.18.40.7'));
  await send(server, 'harbour-id', records.join('\n'));
  const { alerts } = (await analyst.call('GET', '/alerts?state=all&limit=100')).json;
  const settle = async (subject: string, verdict: string): Promise<void> => {
    const { id } = alerts.find((one: any) => one.subject === subject);
    await analyst.call('PATCH', `/alerts/${id}`, { state: 'looking' });
    await analyst.call('PATCH', `/alerts/${id}`, { state: 'settled', verdict, reason: 'looked at' });
  };
  await settle('svc-watch', 'harmless');
  await settle('teo.marrash', 'real');
  await settle('person3', 'wrong');
});
afterAll(() => server.stop());

it('ranks rules by noise with what was said of their alerts, and subjects the other way round', async () => {
  const { json } = await analyst.call('GET', `/tuning?from=${WINDOW.from}&to=${WINDOW.to}`);
  const [first] = json.rules;
  expect(first).toMatchObject({ id: rule, kind: 'alerts', state: 'on', alerts: json.subjects.length });
  expect(first.matches).toBe(6 * 6 * 6 + 6);
  expect(first.verdicts).toMatchObject({ real: 1, harmless: 1, wrong: 1 });
  expect(first.work).not.toBeNull();
  // Whoever was found to be real stands last.
  expect(json.subjects.at(-1)).toMatchObject({ subject: 'teo.marrash', rules: ['Refused'] });
});

it('says where the noise comes from and what would cut it, losing nothing real', async () => {
  const pieces = await follow(`/tuning/${rule}/study`, { window: WINDOW });
  expect(pieces.filter(({ piece }) => piece === 'progress').length).toBeGreaterThan(0);
  const found = pieces.at(-1);
  expect(found).toMatchObject({ piece: 'study', matches: 222, tunable: true, version: 1 });
  expect(found.judged).toMatchObject({ real: 6, harmless: 180 });
  const [best] = found.proposals;
  expect(best).toMatchObject({
    all: [{ field: 'user', op: 'equals', value: 'svc-watch' }],
    removed: 180,
    removedHarmless: 180,
    realLost: [],
    adds: ['user: svc-watch'],
    list: 'user',
  });
  expect(found.proposals.every(({ realLost }: any) => realLost.length === 0)).toBe(true);
  expect(found.days.reduce((sum: number, { matches }: any) => sum + matches, 0)).toBe(222);
  const fields = found.origins.map(({ values }: any) => values[0].value);
  expect(fields).toContain('svc-watch');
  expect(found.before.map(({ subject, verdict }: any) => [subject, verdict])).toContainEqual([
    'svc-watch',
    'harmless',
  ]);
  const { nodes, edges } = found.restsOn;
  expect(nodes.filter(({ column }: any) => column === 'sources').map(({ title }: any) => title)).toContain(
    'harbour-id',
  );
  expect(edges).toContainEqual(['rule', 'alert']);
});

it('proves cuts beside the present version, by name and by day', async () => {
  const proof = await prove({ cuts: [leaveOut('user', 'svc-watch')] });
  expect(proof.before.matches - proof.after.matches).toBe(180);
  expect(proof).toMatchObject({ lostTotal: 180, addedTotal: 0, unsettledTotal: 0, realLost: [] });
  // Every event of that user is a refusal, which the rule matches.
  expect(proof).toMatchObject({ reach: 0, reachCounted: true });
  // From that address everybody got in: each of these sign-ins would be hidden besides.
  const wide = await prove({ cuts: [leaveOut('src_ip', '10.20.1.5')] });
  expect(wide).toMatchObject({ reach: 36, reachCounted: true });
  expect(proof.realKept).toHaveLength(6);
  expect(proof.text).toContain('# what the provider says');
  expect(proof.text).toContain('condition: (failed) and not _cut1');
  const lossy = await prove({ cuts: [leaveOut('src_ip', '198.18.40.7')] });
  expect(lossy.realLost.map(({ subject }: any) => subject)).toEqual(Array(6).fill('teo.marrash'));
  // As a filter document it removes the same.
  const filtered = await prove({ cuts: [leaveOut('user', 'svc-watch')], form: 'filter' });
  expect(filtered.text.startsWith(RULE)).toBe(true);
  expect(filtered.after).toEqual(proof.after);
});

it('compares any edit: what is kept, lost and new', async () => {
  const proof = await prove({
    text: RULE.replace('outcome: failure\n  condition', 'user|startswith: person\n  condition'),
  });
  expect(proof.lostTotal).toBe(186);
  expect(proof.addedTotal).toBe(36);
  expect(proof.added[0].event.id).toMatch(/^[0-9a-f]{32}$/);
  expect(proof.reach).toBeNull();
  const broken = await analyst.call('POST', `/tuning/${rule}/proof`, { window: WINDOW, text: 'title: x\n' });
  expect([broken.status, broken.json.code]).toEqual([422, 'bad-rule']);
});

it('counts for a correlation what it would not complete any more', async () => {
  const { id } = await addRule(analyst, COUNTING);
  const found = await study(id);
  expect(found.matches).toBe(37);
  const [best] = found.proposals;
  expect(best.all[0].value).toBe('svc-watch');
  expect(best.removed).toBe(36);
  const proof = await prove({ cuts: [{ all: best.all }] }, id);
  expect([proof.before.matches, proof.after.matches]).toEqual([37, 1]);
  expect(proof.realKept.concat(proof.added)).toEqual([]);
  // Another way: to ask for more. Its text is proved as any other.
  const change = found.changes.find(({ kind }: { kind: string }) => kind === 'count');
  expect(change).toMatchObject({ words: 'from 6 on within 1h', removed: 36, removedUnsettled: 36 });
  const proved = await prove({ text: change.text }, id);
  expect([proved.after.matches, proved.lostTotal, proved.addedTotal]).toEqual([1, 36, 0]);
});

it('keeps a cut with its reason and proof, switches it on, and can be undone', async () => {
  const cuts = [leaveOut('user', 'svc-watch')];
  const kept = await analyst.call('POST', `/tuning/${rule}/keep`, {
    version: 1,
    window: WINDOW,
    cuts,
    why: 'its password has expired',
  });
  expect(kept.json).toMatchObject({ version: 2, liveVersion: 2, state: 'on' });
  const { kept: versions } = await study();
  expect(versions[0]).toMatchObject({
    version: 2,
    author: 'analyst',
    why: 'its password has expired',
    expected: { realKept: 6, realLost: 0 },
    actual: null,
  });
  await send(server, 'harbour-id', [denied(170, 1, 'svc-watch'), denied(170, 2, 'runa.keel')].join('\n'));
  const { alerts } = (await analyst.call('GET', '/alerts?state=open&find=svc-watch')).json;
  expect(alerts).toEqual([]);
  const late = await analyst.call('POST', `/tuning/${rule}/keep`, {
    version: 1,
    window: WINDOW,
    cuts,
    why: 'again',
  });
  expect([late.status, late.json.code]).toEqual([409, 'changed-meanwhile']);
  const back = await analyst.call('PATCH', `/rules/${rule}`, {
    text: RULE,
    why: 'undone',
    state: 'on',
    version: 2,
  });
  expect(back.json).toMatchObject({ version: 3, liveVersion: 3, text: RULE });
});

it('loses a real one only where that is said', async () => {
  const ask = { version: 3, window: WINDOW, cuts: [leaveOut('src_ip', '198.18.40.7')], why: 'too loud' };
  const refused = await analyst.call('POST', `/tuning/${rule}/keep`, ask);
  expect([refused.status, refused.json.code]).toEqual([409, 'loses-real']);
  expect(refused.json.detail).toContain('teo.marrash');
  const meant = await analyst.call('POST', `/tuning/${rule}/keep`, { ...ask, lose: true });
  expect(meant.json.version).toBe(4);
});

it('keeps values as rows of a list, once, with an end', async () => {
  // As it was before a real one was given up.
  const { json: now } = await analyst.call('PATCH', `/rules/${rule}`, {
    text: `${RULE}# once more\n`,
    why: 'undone',
  });
  const keep = (version: number, value: string) =>
    analyst.call('POST', `/tuning/${rule}/keep`, {
      version,
      window: WINDOW,
      cuts: [leaveOut('user', value)],
      form: 'list',
      list: { name: 'left-out', expires: '2027-01-01T00:00:00Z' },
      why: 'for a while',
    });
  const refused = await keep(now.version, 'teo.marrash');
  expect([refused.status, refused.json.code]).toEqual([409, 'loses-real']);
  // What was refused left no row behind, which would count at once.
  expect((await analyst.call('GET', '/lists/left-out')).status).toBe(404);
  const before = (await study()).matches;
  const first = await keep(now.version, 'svc-watch');
  expect(first.json.text).toContain('user|expand: "%left-out%"');
  const some = (await study()).matches;
  expect(before - some).toBe(180);
  await keep(first.json.version, 'person3');
  const { json: list } = await analyst.call('GET', '/lists/left-out');
  expect(list.rows.map(({ cells }: any) => cells.value)).toEqual(['svc-watch', 'person3']);
  // A row that came later is seen at once.
  expect((await study()).matches).toBeLessThan(some);
});

it('what is left out for a time asks to be renewed before it runs out, and after', async () => {
  const reader = await new Caller(server).signIn('reader');
  const expiring = async (): Promise<any[]> => (await reader.call('GET', '/tuning/expiring')).json.expiring;
  const renew = (body: object, who = analyst) => who.call('POST', '/tuning/expiring', body);
  const inDays = (days: number): string => new Date(Date.now() + days * 86_400_000).toISOString();
  const row = { list: 'left-out', value: 'svc-watch' };
  // Far off, nobody is asked.
  expect((await renew({ ...row, until: inDays(90) })).status).toBe(200);
  expect((await expiring()).filter(({ value }) => value === 'svc-watch')).toEqual([]);
  await renew({ ...row, until: inDays(3) });
  expect(await expiring()).toContainEqual(
    expect.objectContaining({
      ...row,
      over: false,
      matches: 0,
      rules: [expect.objectContaining({ id: rule })],
    }),
  );
  // Run out: the rule speaks of it again, and how often is told.
  await server.database.pool.query(
    "UPDATE list_rows SET expires = now() - interval '2 days' WHERE list = 'left-out' AND key = 'svc-watch'",
  );
  await server.database.pool.query(
    `INSERT INTO alerts (rule, document, rule_version, title, level, subject, subject_fields, key, matches, first_event, last_event)
     VALUES ($1, 0, 1, 'x', 'low', 'svc-watch', '{"user": "svc-watch"}', 'again', 1, now(), now())`,
    [rule],
  );
  expect(await expiring()).toContainEqual(expect.objectContaining({ ...row, over: true, matches: 1 }));
  expect((await renew({ ...row, until: inDays(90) })).status).toBe(200);
  expect((await expiring()).filter(({ value }) => value === 'svc-watch')).toEqual([]);
  const values = async () =>
    (await analyst.call('GET', '/lists/left-out')).json.rows.map(({ cells }: any) => cells.value);
  expect(await values()).toContain('svc-watch');
  await renew({ ...row, until: null });
  expect(await values()).not.toContain('svc-watch');
  expect((await renew({ ...row, until: null })).status).toBe(404);
  expect((await renew({ list: 'left-out', value: 'person3', until: inDays(-60) })).status).toBe(400);
  expect((await renew({ list: 'left-out', value: 'person3', until: inDays(1000) })).status).toBe(400);
  expect((await renew(row, reader)).status).toBe(403);
});

it('tells why rules never matched', async () => {
  await addRule(
    analyst,
    'title: Of nothing\nlogsource: {product: kettle}\ndetection: {s: {a: 1}, condition: s}\n',
  );
  await addRule(
    analyst,
    'title: Nearly\nlogsource: {category: authentication}\ndetection: {s: {outcome: failure, user: nobody.here}, condition: s}\n',
  );
  await addRule(
    analyst,
    'title: Unfilled\nlogsource: {category: authentication}\ndetection: {s: {no_such_field: 1}, condition: s}\n',
  );
  const { json } = await analyst.call('GET', `/tuning/silent?from=${WINDOW.from}&to=${WINDOW.to}`);
  const why = new Map(json.silent.map((one: any) => [one.title, one]));
  expect(why.get('Of nothing')).toMatchObject({ kind: 'source-absent' });
  expect(why.get('Nearly')).toMatchObject({
    kind: 'nothing-met',
    why: expect.stringContaining('lacks: user is "nobody.here"'),
  });
  expect(why.get('Unfilled')).toMatchObject({
    kind: 'field-empty',
    why: expect.stringContaining('no_such_field'),
  });
});

it('tells which techniques are looked for, and exports them', async () => {
  await addRule(
    analyst,
    'title: Tagged\nlogsource: {category: authentication}\ntags: [attack.credential_access, attack.t1110]\ndetection: {s: {outcome: failure, user: tagged}, condition: s}\n',
  );
  const { json } = await analyst.call('GET', '/coverage');
  const access = json.tactics.find(({ tactic }: any) => tactic === 'credential_access');
  expect(access.techniques).toMatchObject([
    { id: 'T1110', standing: 'seen', rules: [{ title: 'Tagged', blind: null }] },
  ]);
  const csv = await (await analyst.fetch('GET', '/coverage.csv')).text();
  expect(csv).toContain('credential_access,T1110,Brute force,seen,Tagged,on,alert');
});

it('readers may look but keep nothing; what cannot be read is refused', async () => {
  const reader = await new Caller(server).signIn('reader');
  expect((await reader.call('GET', `/tuning?from=${WINDOW.from}&to=${WINDOW.to}`)).status).toBe(200);
  const keep = await reader.call('POST', `/tuning/${rule}/keep`, {
    version: 1,
    window: WINDOW,
    why: 'x',
    cuts: [],
  });
  expect(keep.status).toBe(403);
  const codes = async (path: string, body: object): Promise<[number, string]> => {
    const { status, json } = await analyst.call('POST', path, body);
    return [status, json.code];
  };
  expect(await codes('/tuning/6b0a3f61-0000-4c22-9d33-2a44bb55cc66/study', { window: WINDOW })).toEqual([
    404,
    'not-found',
  ]);
  expect(
    await codes(`/tuning/${rule}/proof`, {
      window: WINDOW,
      cuts: [{ all: [{ field: 'ip', op: 'within', value: 'quay' }] }],
    }),
  ).toEqual([422, 'bad-cut']);
  expect(await codes(`/tuning/${rule}/keep`, { version: 1, window: WINDOW, why: 'x' })).toEqual([
    400,
    'invalid',
  ]);
  expect(
    await codes(`/tuning/${rule}/study`, { window: { from: '2020-01-01T00:00:00Z', to: WINDOW.to } }),
  ).toEqual([400, 'invalid']);
});
