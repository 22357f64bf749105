import { readFileSync } from 'node:fs';
import { RuleSet } from '../intake/rule-set.js';
import { RecordStore } from '../intake/store-records.js';
import { checkDerived } from '../derived/check.js';
import { rollBatches } from '../derived/sightings-sql.js';
import { transaction } from '../db/transaction.js';
import { Caller, send, signInRecord, testServer, type TestServer } from '../tests/server.js';
import { Rereader } from './reread.js';

let server: TestServer;
let admin: Caller;
beforeEach(async () => {
  server = await testServer();
  admin = await new Caller(server).signIn('admin');
});
afterEach(() => server.stop());

type Document = Record<string, any>;
const recipe = JSON.parse(readFileSync('demo/recipes/harbour-id.json', 'utf8')) as Document;
const saveNext = async (change: Document): Promise<void> => {
  const { status, json } = await admin.call('POST', '/recipes', { ...recipe, ...change });
  if (status !== 200) throw new Error(JSON.stringify(json));
};
const begin = (body: object = {}): Promise<{ status: number; json: any }> =>
  admin.call('POST', '/sources/harbour-id/rereads', body);
const newest = async (): Promise<Document> =>
  (await admin.call('GET', '/sources/harbour-id/rereads')).json.rereads[0] as Document;
const work = (stop = new AbortController().signal): Promise<void> =>
  new Rereader(server.database.pool, new RecordStore(server.database.pool, new RuleSet())).runAll(stop);
const differing = async (): Promise<unknown[]> =>
  (await checkDerived(server.database.pool)).filter(({ different }) => different > 0);
const rollAll = async (): Promise<void> => {
  while ((await transaction(server.database.pool, (client) => rollBatches(client, 50))) > 0);
};
const events = async (sql: string): Promise<unknown[]> =>
  (await server.database.pool.query(`SELECT ${sql} AS v FROM events ORDER BY 1`)).rows.map(
    ({ v }) => v as unknown,
  );

const users = ['teo.marrash', 'runa.keel', 'ines.vaal'];
const fill = async (): Promise<void> => {
  for (const day of [11, 12, 13])
    await send(
      server,
      'harbour-id',
      Array.from({ length: 30 }, (_, i) =>
        signInRecord({
          at: new Date(Date.UTC(2026, 10, day, i % 24, 3)).toISOString(),
          user: users[i % 3] ?? '',
          address: `10.20.4.${i % 7}`,
          ...(i % 5 === 0 && { denied: 'bad_password' }),
        }),
      ).join('\n'),
    );
};

it('events come out as the new version reads them, counts and sightings with them', async () => {
  await fill();
  await rollAll();
  // One batch more that is not rolled yet.
  await send(server, 'harbour-id', signInRecord({ at: '2026-11-13T23:30:00Z', user: 'dov.aster' }));
  await saveNext({
    map: { ...recipe['map'], user: 'client.geo.city', host: 'actor.login' },
  });
  expect((await begin()).status).toBe(200);
  await work();
  expect(await newest()).toMatchObject({
    state: 'done',
    version: 2,
    total: 91,
    done: 91,
    changed: 91,
    unreadable: 0,
  });
  expect(new Set(await events('"user"'))).toEqual(new Set(['stavik']));
  expect(new Set(await events('host'))).toEqual(new Set([...users, 'dov.aster']));
  expect(await differing()).toEqual([]);
  await rollAll();
  expect(await differing()).toEqual([]);
});

it('times and kinds that change move events to their days and hours', async () => {
  await fill();
  await rollAll();
  // Hours of the day become minutes: every event of a day falls into its first half hour.
  await saveNext({
    constants: { kind: 'system' },
    cases: [],
    map: { ...recipe['map'], operation: 'eventId' },
    time: { from: 'nowhere', as: recipe['time'].as },
  });
  await begin();
  await work();
  expect(await newest()).toMatchObject({ state: 'done', unreadable: 90, changed: 0 });
  expect((await newest())['reasons']).toEqual(['no time in "nowhere"']);
  expect(new Set(await events('kind::text'))).toEqual(new Set(['signin']));
  await saveNext({
    constants: { kind: 'system' },
    cases: [],
    map: { ...recipe['map'], operation: 'eventId' },
  });
  await begin();
  await work();
  expect(await newest()).toMatchObject({ state: 'done', done: 90, changed: 90 });
  expect(new Set(await events('kind::text'))).toEqual(new Set(['system']));
  expect(await differing()).toEqual([]);
});

it('an unchanged recipe changes nothing but the version', async () => {
  await fill();
  const before = await events(`id::text || "time" || coalesce("user", '') || raw`);
  await saveNext({});
  await begin();
  await work();
  expect(await newest()).toMatchObject({ state: 'done', done: 90, changed: 0 });
  expect(await events(`id::text || "time" || coalesce("user", '') || raw`)).toEqual(before);
  expect(new Set(await events('recipe_version'))).toEqual(new Set([2]));
  await begin();
  await work();
  expect(await newest()).toMatchObject({ state: 'done', total: 0, done: 0 });
  expect(await differing()).toEqual([]);
});

it('what the recipe discards now stays unless asked otherwise', async () => {
  await fill();
  await rollAll();
  await saveNext({ discard: [{ when: { 'actor.login': 'runa.keel' }, because: 'not of interest' }] });
  await begin();
  await work();
  expect(await newest()).toMatchObject({ discarded: 30, discard: false });
  expect(await events('1')).toHaveLength(90);
  await begin({ discard: true });
  await work();
  expect(await events('"user"')).not.toContain('runa.keel');
  expect(await events('1')).toHaveLength(60);
  expect(await differing()).toEqual([]);
});

it('an id that changes takes the evidence of alerts along, and one that is taken changes nothing', async () => {
  await send(
    server,
    'harbour-id',
    [signInRecord({ eventId: 'one' }), signInRecord({ eventId: 'two', user: 'ines.vaal' })].join('\n'),
  );
  await server.database.pool.query(
    `WITH r AS (INSERT INTO rules (title, level, text) VALUES ('t', 'low', '') RETURNING id),
          a AS (INSERT INTO alerts (rule, document, rule_version, title, level, subject, subject_fields, key, matches, first_event, last_event)
                SELECT id, 0, 1, 't', 'low', 's', '{}', 's', 1, now(), now() FROM r RETURNING id),
          m AS (INSERT INTO rule_marks SELECT r.id, 0, e.id, e."time", 's' FROM r, events e WHERE e."user" = 'teo.marrash'),
          h AS (INSERT INTO correlation_hits (rule, document, group_key, "time", event_id, events)
                SELECT r.id, 0, 'g', e."time", e.id, jsonb_build_array(
                         jsonb_build_object('id', 'ffffffffffffffffffffffffffffffff', 'time', 1),
                         jsonb_build_object('id', replace(e.id::text, '-', ''), 'time', (extract(epoch FROM e."time") * 1000000)::int8))
                  FROM r, events e WHERE e."user" = 'teo.marrash')
     INSERT INTO alert_events SELECT a.id, e.id, e."time" FROM a, events e WHERE e."user" = 'teo.marrash'`,
  );
  await saveNext({ id: 'actor.login' });
  await begin();
  await work();
  expect(await newest()).toMatchObject({ state: 'done', changed: 2 });
  const { rows } = await server.database.pool.query<{ user: string }>(
    'SELECT e."user" FROM alert_events a JOIN events e ON e.id = a.event_id',
  );
  expect(rows).toEqual([{ user: 'teo.marrash' }]);
  const marked = await server.database.pool.query<{ user: string }>(
    'SELECT e."user" FROM rule_marks m JOIN events e ON e.id = m.event_id',
  );
  expect(marked.rows).toEqual(rows);
  // What a correlation counted, and the window of one that completed, in their order.
  const counted = await server.database.pool.query(
    `SELECT e."user", h.events->0->>'id' AS first, (h.events->1->>'id')::uuid = e.id AS "second",
            (h.events->1->>'time')::int8 = (extract(epoch FROM e."time") * 1000000)::int8 AS "when"
       FROM correlation_hits h JOIN events e ON e.id = h.event_id`,
  );
  expect(counted.rows).toEqual([{ user: 'teo.marrash', first: 'f'.repeat(32), second: true, when: true }]);
  await saveNext({ id: 'client.address' });
  await begin();
  await work();
  // Both would have one id.
  expect(await newest()).toMatchObject({ done: 2, unreadable: 1 });
  expect(await events('1')).toHaveLength(2);
  expect(await differing()).toEqual([]);
});

it('goes on where a server left it, and can be stopped', async () => {
  await fill();
  await saveNext({});
  await begin();
  expect((await begin()).status).toBe(409);
  // The first server is asked to stop at once: it ends after one piece and lets go.
  const stop = new AbortController();
  const working = work(stop.signal);
  stop.abort();
  await working;
  const { id } = await newest();
  await work();
  expect(await newest()).toMatchObject({ id, state: 'done', done: 90 });
  await saveNext({});
  const second = (await begin()).json.id as number;
  expect((await admin.call('DELETE', `/rereads/${second}`)).status).toBe(200);
  await work();
  expect(await newest()).toMatchObject({ id: second, state: 'stopped', done: 0 });
  expect((await admin.call('DELETE', `/rereads/${second}`)).status).toBe(404);
});

it('intake goes on meanwhile, and the same records sent again are known', async () => {
  const records = Array.from({ length: 40 }, (_, i) => signInRecord({ user: users[i % 3] ?? '' })).join('\n');
  await send(server, 'harbour-id', records);
  await rollAll();
  await saveNext({ map: { ...recipe['map'], host: 'client.geo.city' } });
  await begin();
  await Promise.all([
    work(),
    send(server, 'harbour-id', signInRecord({ user: 'marit.solheim' })),
    rollAll(),
    send(server, 'harbour-id', signInRecord({ user: 'marit.solheim' })),
  ]);
  expect((await send(server, 'harbour-id', records)).json).toMatchObject({ stored: 0, known: 40 });
  await rollAll();
  expect(await differing()).toEqual([]);
});
