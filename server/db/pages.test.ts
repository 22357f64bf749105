import { ruleExample } from '../../core/wire/examples.js';
import { readPage, toPage } from './pages.js';
import { Caller, testServer, type TestServer } from '../tests/server.js';

let server: TestServer;
let admin: Caller;
beforeAll(async () => {
  server = await testServer();
  admin = await new Caller(server).signIn('admin');
});
afterAll(() => server.stop());

/** Walks a list page by page. */
async function walked(
  path: string,
  part: string,
  limit: number,
  meanwhile: () => Promise<unknown> = () => Promise.resolve(),
): Promise<{ pages: number; rows: any[] }> {
  const rows: any[] = [];
  let cursor: string | null = null;
  let pages = 0;
  do {
    const more: string = cursor === null ? '' : `&cursor=${encodeURIComponent(cursor)}`;
    const { status, json } = await admin.call('GET', `${path}limit=${limit}${more}`);
    expect(status).toBe(200);
    expect(json[part].length).toBeLessThanOrEqual(limit);
    rows.push(...json[part]);
    cursor = json.next;
    pages++;
    await meanwhile();
  } while (cursor !== null);
  return { pages, rows };
}

test('cases come page by page, each once, in the order of one whole page', async () => {
  for (const title of ['a', 'b', 'c', 'd', 'e']) await admin.call('POST', '/cases', { title });
  const { json } = await admin.call('GET', '/cases');
  await admin.call('PATCH', `/cases/${json.cases[2].id}`, { state: 'closed', verdict: 'harmless' });
  const whole = (await admin.call('GET', '/cases')).json.cases.map((one: any) => one.title);
  const { pages, rows } = await walked('/cases?', 'cases', 2);
  expect(rows.map(({ title }) => title)).toEqual(whole);
  expect(pages).toBe(3);
});

test('what is written meanwhile neither repeats nor hides what was there', async () => {
  const change = (words: string): Promise<unknown> =>
    server.database.pool.query(
      `INSERT INTO changes (who, kind, name, what) VALUES ('x', 'list', 'paged', $1)`,
      [words],
    );
  for (let i = 0; i < 5; i++) await change(`before ${i}`);
  const { rows } = await walked('/changes?kind=list&name=paged&', 'changes', 2, () => change('meanwhile'));
  expect(rows.map(({ what }) => what)).toEqual([4, 3, 2, 1, 0].map((i) => `before ${i}`));
});

test('alerts come page by page by gravity, then the newest', async () => {
  const { json: rule } = await admin.call('POST', '/rules', { text: ruleExample });
  for (const [i, level] of ['low', 'critical', 'low', 'high', 'critical'].entries())
    await server.database.pool.query(
      `INSERT INTO alerts (rule, document, rule_version, title, level, key, subject, subject_fields, state, matches, first_event, last_event)
       VALUES ($1, 0, 1, 'paged', $2, $3, $3, '{}', 'unread', 1, now(), now() - $4 * interval '1 minute')`,
      [rule.id, level, `s${i}`, i],
    );
  const { rows } = await walked('/alerts?find=paged&', 'alerts', 2);
  expect(rows.map(({ subject }) => subject)).toEqual(['s1', 's4', 's3', 's0', 's2']);
  const { json } = await admin.call('GET', '/alerts?find=paged&limit=2');
  expect(json.found).toBe(5);
});

test.each(['x', 'MSAy', Buffer.from("1 2 3'); --").toString('base64url')])(
  'a cursor that was never given out is refused: %s',
  async (cursor) => {
    const { status, json } = await admin.call('GET', `/cases?cursor=${cursor}`);
    expect([status, json.detail]).toEqual([400, expect.stringContaining('none of this list')]);
  },
);

test('a page that is not told how long it is has five hundred rows, and one is read ahead', () => {
  expect(readPage({}, 2)).toEqual({ after: [null, null], rows: 501 });
  expect(readPage({ limit: 1 }, 1).rows).toBe(2);
});

test('a page that is full to the last row has none after it', () => {
  const rows = [1, 2].map((n) => ({ n, place: [n] }));
  expect(toPage(rows, { limit: 2 })).toEqual({ shown: [{ n: 1 }, { n: 2 }], next: null });
  const { next } = toPage([...rows, { n: 3, place: [3] }], { limit: 2 });
  expect(readPage({ cursor: next ?? '', limit: 2 }, 1)).toEqual({ after: ['2'], rows: 3 });
});
