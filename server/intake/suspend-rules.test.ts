import { Caller, addRule, signInRecord, testServer, type TestServer } from '../tests/server.js';
import { SourceCatalogue } from './catalogue.js';
import { RuleSet } from './rule-set.js';
import { RecordStore } from './store-records.js';

let server: TestServer;
let analyst: Caller;
beforeAll(async () => {
  server = await testServer();
  analyst = await new Caller(server).signIn('analyst');
});
afterAll(() => server.stop());

const rule = (title: string, reason: string): string =>
  `title: ${title}\nlevel: low\nlogsource: {}\ndetection: {s: {reason: ${reason}}, condition: s}\n`;

/** Rules of which one has a fault that no check found. */
class WithFault extends RuleSet {
  override async current(...args: Parameters<RuleSet['current']>): ReturnType<RuleSet['current']> {
    const active = await super.current(...args);
    const documents = active.documents.map((document) =>
      active.rules[document.position]?.title !== 'Faulty'
        ? document
        : {
            ...document,
            matcher: {
              ...document.matcher,
              appliesTo: () => true,
              matches: (): boolean => {
                throw new RangeError('Invalid regular expression');
              },
            },
          },
    );
    return { ...active, documents };
  }
}

it('a rule that fails while matching is switched off and told; its events, other rules and intake go on', async () => {
  const { pool } = server.database;
  const faulty = await addRule(analyst, rule('Faulty', 'wrong password'));
  await addRule(analyst, rule('Sound', 'wrong password'));
  const source = await new SourceCatalogue(pool).find('harbour-id');
  if (source === undefined) throw new Error('no source');
  const store = new RecordStore(pool, new WithFault(), () => server.clock.now);
  const records = Array.from({ length: 3 }, () => signInRecord({ denied: 'bad_secret' }));
  const result = await store.store(source, records, server.clock.now);
  expect(result).toMatchObject({ stored: 3, setAside: 0 });

  const { json: kept } = await analyst.call('GET', `/rules/${faulty.id}`);
  expect(kept).toMatchObject({ state: 'off', liveVersion: null });
  expect(kept.problem).toContain('suspended');
  expect(kept.problem).toContain('Invalid regular expression');
  expect(kept.problem).toContain(result.outcomes[0]?.id);
  const { json } = await analyst.call('GET', '/alerts');
  const titles = json.alerts.map(({ title }: { title: string }) => title).sort();
  expect(titles).toEqual(['Sound', 'Suspended, it failed while matching: Faulty']);

  // What comes next meets the others alone, and the owner is told once.
  await store.store(source, [signInRecord({ denied: 'bad_secret' })], server.clock.now);
  expect((await analyst.call('GET', '/alerts')).json.alerts).toHaveLength(2);
  // Switched on again, it is no longer told to be suspended.
  expect((await analyst.call('PATCH', `/rules/${faulty.id}`, { state: 'on' })).status).toBe(200);
  expect((await analyst.call('GET', `/rules/${faulty.id}`)).json.problem ?? '').not.toContain('suspended');
});
