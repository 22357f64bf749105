import { readFileSync } from 'node:fs';
import {
  addRule as add,
  Caller,
  send,
  signInRecord,
  switchOn,
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
const failures = (count: number, from: number, user = 'teo.marrash'): string[] =>
  Array.from({ length: count }, (_, i) => signInRecord({ at: at(from + i), user, denied: 'bad_secret' }));

const addRule = (text: string): Promise<{ id: string; version: number }> => add(analyst, text);

const alerts = async (state = 'open'): Promise<any[]> =>
  (await analyst.call('GET', `/alerts?state=${state}`)).json.alerts;
const brief = async (state?: string): Promise<unknown[]> =>
  (await alerts(state)).map(({ title, subject, matches }) => [title, subject, matches]);

const single =
  "title: Odd reason\nlevel: low\nlogsource: {product: harbour-id}\ndetection: {s: {'result.why': locked}, condition: s}\n";
const many = readFileSync('demo/rules/failed-sign-ins-of-one-user.yml', 'utf8')
  // Without what the pack has beside it: owners, actions, and tests of the larger threshold.
  .replace(/^lamp:.*\n(?: .*\n)*/gm, '')
  .replace('gte: 12', 'gte: 5');

it('gathers matches of a rule about one subject in one alert, with the events as evidence', async () => {
  await addRule(single);
  const first = await send(
    server,
    'harbour-id',
    [
      signInRecord({ denied: 'locked', at: at(5) }),
      signInRecord({ denied: 'locked', user: 'ines.vaal' }),
      signInRecord(),
    ].join('\n'),
  );
  await send(server, 'harbour-id', signInRecord({ denied: 'locked', at: at(0) }));
  expect(await brief()).toEqual([
    ['Odd reason', 'teo.marrash', 2],
    ['Odd reason', 'ines.vaal', 1],
  ]);
  const [alert] = await alerts();
  expect(alert).toMatchObject({
    level: 'low',
    state: 'unread',
    subjectFields: { user: 'teo.marrash' },
    firstEvent: '2026-11-14T08:00:00Z',
    lastEvent: '2026-11-14T08:00:05Z',
  });
  const { json } = await analyst.call('GET', `/alerts/${alert.id}`);
  expect(json.evidenceTotal).toBe(2);
  expect(json.evidence[1].id).toBe(first.json.outcomes[0].id);
});

it('raises alerts about a subject that the rule says softer with the severity of that subject', async () => {
  await addRule(`${single}lamp: {levels: {informational: [INES.VAAL], critical: [nobody]}}\n`);
  await send(
    server,
    'harbour-id',
    [signInRecord({ denied: 'locked' }), signInRecord({ denied: 'locked', user: 'ines.vaal' })].join('\n'),
  );
  expect((await alerts()).map(({ subject, level }) => [subject, level])).toEqual([
    ['teo.marrash', 'low'],
    ['ines.vaal', 'informational'],
  ]);
});

it('counts over batches, and whatever the order of arrival', async () => {
  await addRule(many);
  const [a, b, c, d, e] = failures(5, 0);
  await send(server, 'harbour-id', `${e}\n${a}`);
  await send(server, 'harbour-id', `${c}\n${b}`);
  expect(await brief()).toEqual([]);
  await send(server, 'harbour-id', d ?? '');
  expect(await brief()).toEqual([['Many failed sign-ins of one user', 'teo.marrash', 1]]);
});

it('does not count a record that is sent again, nor one outside the time span', async () => {
  await addRule(many);
  const four = failures(4, 0).join('\n');
  await send(server, 'harbour-id', four);
  await send(server, 'harbour-id', four);
  await send(server, 'harbour-id', failures(1, 16 * 60).join('\n'));
  await send(server, 'harbour-id', failures(4, 0, 'ines.vaal').join('\n'));
  expect(await brief()).toEqual([]);
});

it('counts right when halves of a window come in at the same moment', async () => {
  await addRule(many);
  const pieces = failures(40, 0).map((record) => send(server, 'harbour-id', record));
  const answers = await Promise.all(pieces);
  const busy = answers.filter((answer) => answer.status === 429).length;
  expect(answers.filter((answer) => answer.status === 200)).toHaveLength(40 - busy);
  const [alert] = await alerts();
  expect(alert.matches).toBe(Math.floor((40 - busy) / 5));
});

it('asks senders to wait when it is behind', async () => {
  const answers = await Promise.all(
    Array.from({ length: 30 }, () => send(server, 'harbour-id', failures(2000, 0).join('\n'))),
  );
  const busy = answers.find((answer) => answer.status === 429);
  expect(busy?.json).toMatchObject({ code: 'busy' });
  expect(busy?.headers.get('retry-after')).toBe('1');
});

it('a rule counted by a correlation does not report itself, unless asked to', async () => {
  await addRule(many);
  await send(server, 'harbour-id', failures(2, 0).join('\n'));
  expect(await brief()).toEqual([]);
  await addRule(`${many.replace(/id: .*\n/, '')}  generate: true\n`);
  await send(server, 'harbour-id', failures(2, 60).join('\n'));
  expect(await brief()).toEqual([['Failed sign-in', 'teo.marrash', 2]]);
});

it('follows a changed threshold from the next record on', async () => {
  const rule = await addRule(many);
  await send(server, 'harbour-id', failures(3, 0).join('\n'));
  const eased = many.replace('gte: 5', 'gte: 4');
  const { status, json } = await analyst.call('PATCH', `/rules/${rule.id}`, { text: eased, version: 1 });
  // What runs is what was proved; the new version waits for its replay.
  expect([status, json.version, json.liveVersion]).toEqual([200, 2, 1]);
  await switchOn(analyst, rule.id, eased);
  await send(server, 'harbour-id', failures(1, 5).join('\n'));
  expect((await alerts())[0]).toMatchObject({ ruleVersion: 2, matches: 1 });
  expect(await analyst.call('PATCH', `/rules/${rule.id}`, { text: many, version: 1 })).toMatchObject({
    status: 409,
    json: { code: 'changed-meanwhile' },
  });
});

it('a rule that is off, or of another log source, matches nothing', async () => {
  const rule = await addRule(single);
  await addRule(single.replace('harbour-id', 'linux'));
  await analyst.call('PATCH', `/rules/${rule.id}`, { state: 'off' });
  await send(server, 'harbour-id', signInRecord({ denied: 'locked' }));
  expect(await brief()).toEqual([]);
});

it('a settled alert stays settled; new matches open another', async () => {
  await addRule(single);
  await send(server, 'harbour-id', signInRecord({ denied: 'locked' }));
  const [alert] = await alerts();
  const change = (to: object) => analyst.call('PATCH', `/alerts/${alert.id}`, to);
  expect((await change({ state: 'looking' })).json).toMatchObject({ state: 'looking', owner: 'analyst' });
  expect((await change({ state: 'settled', verdict: 'harmless' })).json).toMatchObject({
    state: 'settled',
    verdict: 'harmless',
  });
  expect(await brief('settled')).toHaveLength(1);
  await send(server, 'harbour-id', signInRecord({ denied: 'locked' }));
  expect((await alerts())[0].id).not.toBe(alert.id);
  expect(await change({ state: 'unread' })).toMatchObject({ status: 409, json: { code: 'open-already' } });
  const { json } = await analyst.call('GET', `/alerts/${alert.id}`);
  expect(json.changes.map(({ who, what }: { who: string; what: string }) => [who, what])).toEqual([
    ['analyst', 'taken'],
    ['analyst', 'settled as harmless'],
  ]);
});

it('a broken rule is refused with its line', async () => {
  expect(
    await analyst.call('POST', '/rules', { text: single.replace('condition: s', 'condition: t') }),
  ).toMatchObject({
    status: 422,
    json: { code: 'bad-rule', place: { line: 4 }, detail: expect.stringContaining('Did you mean "s"?') },
  });
  expect((await analyst.call('POST', '/rules/check', { text: 'title: [' })).json).toMatchObject({
    documents: [],
    mistake: { line: 1 },
  });
  expect(
    (await analyst.call('POST', '/rules/check', { text: many })).json.documents.map(
      (document: { says: string }) => document.says,
    ),
  ).toEqual([
    expect.stringContaining('outcome is "failure"'),
    'at least 5 matches of "Failed sign-in" within 15m of the same user',
  ]);
});

it('tells whoever listens of a new alert, without being asked', async () => {
  await addRule(single);
  const controller = new AbortController();
  const cookie = (analyst as unknown as { cookie: string }).cookie;
  const response = await fetch(`${server.base}/live`, {
    headers: { Cookie: cookie },
    signal: controller.signal,
  });
  const reader = response.body?.pipeThrough(new TextDecoderStream()).getReader();
  let heard = '';
  const hear = async (wanted: string): Promise<void> => {
    while (!heard.includes(wanted)) heard += (await reader?.read())?.value ?? '';
  };
  await hear('event: ready');
  await send(server, 'harbour-id', signInRecord({ denied: 'locked' }));
  await hear('event: alerts');
  expect(heard).toMatch(/event: alerts\ndata: \{"ids":\[\d+\]\}/);
  controller.abort();
});

describe('correlations of every kind, live', () => {
  const base = (name: string, why: string): string =>
    `title: ${name}\nname: ${name}\nlogsource: {}\ndetection: {s: {'result.why': ${why}}, condition: s}\n`;
  const counting = (title: string, correlation: string, name = ''): string =>
    `title: ${title}\n${name}correlation: {${correlation}}\n`;
  const denied = (seconds: number, why: string, user = 'teo.marrash', address = '198.18.40.1'): string =>
    signInRecord({ at: at(seconds), denied: why, user, address });

  it('different values of a field', async () => {
    await addRule(
      `${base('refused', 'bad_secret')}---\n${counting('Many accounts of one address', 'type: value_count, rules: [refused], group-by: [src_ip], timespan: 5m, condition: {field: user, gte: 3}')}`,
    );
    await send(server, 'harbour-id', [denied(0, 'bad_secret', 'a'), denied(1, 'bad_secret', 'a')].join('\n'));
    await send(server, 'harbour-id', denied(2, 'bad_secret', 'b'));
    expect(await brief()).toEqual([]);
    await send(server, 'harbour-id', denied(3, 'bad_secret', 'c'));
    expect(await brief()).toEqual([['Many accounts of one address', '198.18.40.1', 1]]);
  });

  it('one after another in their order, whatever the order of arrival', async () => {
    await addRule(
      [
        base('refused', 'bad_secret'),
        base('locked', 'locked'),
        counting(
          'Refused, then locked',
          'type: temporal_ordered, rules: [refused, locked], group-by: [user], timespan: 5m',
        ),
      ].join('---\n'),
    );
    await send(server, 'harbour-id', [denied(0, 'locked', 'b'), denied(9, 'bad_secret', 'b')].join('\n'));
    await send(server, 'harbour-id', denied(20, 'locked'));
    expect(await brief()).toEqual([]);
    await send(server, 'harbour-id', denied(10, 'bad_secret'));
    expect(await brief()).toEqual([['Refused, then locked', 'teo.marrash', 1]]);
  });

  it('a correlation of correlations', async () => {
    await addRule(
      [
        base('refused', 'bad_secret'),
        counting(
          'A burst',
          'type: event_count, rules: [refused], group-by: [user], timespan: 1m, condition: {gte: 2}',
          'name: burst\n',
        ),
        counting(
          'Two bursts',
          'type: event_count, rules: [burst], group-by: [user], timespan: 1h, condition: {gte: 2}',
        ),
      ].join('---\n'),
    );
    await send(server, 'harbour-id', [denied(0, 'bad_secret'), denied(1, 'bad_secret')].join('\n'));
    expect(await brief()).toEqual([]);
    await send(server, 'harbour-id', [denied(600, 'bad_secret'), denied(601, 'bad_secret')].join('\n'));
    expect(await brief()).toEqual([['Two bursts', 'teo.marrash', 1]]);
    // What completed the first burst is evidence as much as what completed the second.
    const { rows } = await server.database.pool.query<{ time: number }>(
      'SELECT event_time AS "time" FROM alert_events ORDER BY event_time',
    );
    expect(rows.map(({ time }) => time)).toEqual([0, 1, 600, 601].map((s) => Date.parse(at(s)) * 1000));
  });

  it('a filter leaves out what it names, and a list stands for its values as they are now', async () => {
    const list = (rows: object[]) =>
      analyst.call('PUT', '/lists/watched', { match: 'exact', key: 'user', rows });
    await list([{ user: 'teo.marrash' }]);
    await addRule(
      "title: Watched\nname: watched\nlogsource: {}\ndetection: {s: {user|expand: '%watched%'}, condition: s}\n---\ntitle: Not from inside\nfilter: {rules: [watched], inside: {src_ip|cidr: 10.0.0.0/8}, condition: not inside}\n",
    );
    await send(
      server,
      'harbour-id',
      [denied(0, 'locked'), denied(1, 'locked', 'teo.marrash', '10.1.2.3')].join('\n'),
    );
    await send(server, 'harbour-id', denied(2, 'locked', 'runa.keel'));
    expect(await brief()).toEqual([['Watched', 'teo.marrash', 1]]);
    await list([{ user: 'runa.keel' }]);
    await send(server, 'harbour-id', denied(3, 'locked', 'runa.keel'));
    expect(await brief()).toEqual([
      ['Watched', 'runa.keel', 1],
      ['Watched', 'teo.marrash', 1],
    ]);
    const missing = await analyst.call('POST', '/rules', {
      text: "title: X\nlogsource: {}\ndetection:\n  s:\n    user|expand: '%nobody%'\n  condition: s\n",
    });
    expect(missing).toMatchObject({ status: 422, json: { place: { line: 5 } } });
  });
});
