import { pino } from 'pino';
import { compileRecipe } from '../../core/recipes/apply.js';
import { anySyslog } from '../sources/any-syslog.js';
import type { IntakeSource, SourceCatalogue } from '../intake/catalogue.js';
import { BATCH_RECORDS, type RecordStore } from '../intake/store-records.js';
import { compileClaim } from './claim.js';
import { SyslogQueue, UNCLAIMED } from './queue.js';

const source = (name: string, hosts?: string[]): IntakeSource => ({
  name,
  identity: name,
  own: compileRecipe(anySyslog),
  keyHash: Buffer.alloc(32),
  recipe: compileRecipe(anySyslog),
  retentionDays: null,
  claims: hosts === undefined ? null : compileClaim({ hosts }),
});
const line = (host: string, text: string): string => `<13>Nov 14 08:03:12 ${host} app: ${text}`;

interface Stored {
  readonly source: string;
  readonly records: readonly string[];
  readonly received: readonly number[];
}

/** A queue over a store that only remembers, and fails as often as it is told to. */
function queueOver(failures: number): { queue: SyslogQueue; stored: Stored[]; made: () => number } {
  const stored: Stored[] = [];
  const sources = new Map([['gates', source('gates', ['gate-*'])]]);
  let made = 0;
  let left = failures;
  const catalogue = {
    refresh: () => Promise.resolve(),
    find: (name: string) => Promise.resolve(sources.get(name)),
    claimant: (message: Parameters<NonNullable<IntakeSource['claims']>>[0]) =>
      [...sources.values()].find(({ claims }) => claims?.(message) === true),
  } as unknown as SourceCatalogue;
  const store = {
    store(to: IntakeSource, records: readonly string[], received: (position: number) => number) {
      if (left-- > 0) return Promise.reject(new Error('the database is away'));
      stored.push({ source: to.name, records, received: records.map((_, i) => received(i)) });
      return Promise.resolve();
    },
  } as unknown as RecordStore;
  let clock = 100;
  const queue = new SyslogQueue(
    catalogue,
    store,
    () => {
      made++;
      sources.set(UNCLAIMED, source(UNCLAIMED));
      return Promise.resolve();
    },
    pino({ level: 'silent' }),
    () => clock++,
  );
  return { queue, stored, made: () => made };
}

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

it('gathers for a moment, and stores each message with its source and the moment it came in', async () => {
  const { queue, stored, made } = queueOver(0);
  queue.add([line('gate-01', 'a'), line('bridge-01', 'b')], '10.0.0.1');
  queue.add([line('gate-02', 'c')], '10.0.0.2');
  expect(stored).toEqual([]);
  await jest.runAllTimersAsync();
  expect(stored).toEqual([
    { source: 'gates', records: [line('gate-01', 'a'), line('gate-02', 'c')], received: [100, 101] },
    { source: UNCLAIMED, records: [line('bridge-01', 'b')], received: [100] },
  ]);
  queue.add([line('bridge-02', 'd')], '10.0.0.1');
  await jest.runAllTimersAsync();
  // The source of what nobody claims is made once.
  expect(made()).toBe(1);
  expect(stored).toHaveLength(3);
});

it('keeps what could not be stored and tries it again until it can', async () => {
  const { queue, stored } = queueOver(3);
  queue.add([line('gate-01', 'a')], '10.0.0.1');
  await jest.runAllTimersAsync();
  expect(stored.map(({ records }) => records)).toEqual([[line('gate-01', 'a')]]);
});

it('is full at a bound: streams wait, datagrams are lost, and there is room again when it is worked off', async () => {
  const { queue, stored } = queueOver(0);
  queue.add(
    Array.from({ length: 50_000 }, (_, i) => line('gate-01', String(i))),
    '10.0.0.1',
  );
  expect(queue.isFull).toBe(true);
  queue.addDatagram(line('gate-01', 'lost'), '10.0.0.1');
  let room = false;
  void queue.room().then(() => (room = true));
  await jest.runAllTimersAsync();
  expect([room, queue.isFull]).toEqual([true, false]);
  const records = stored.flatMap((one) => one.records);
  expect(records).toHaveLength(50_000);
  expect(Math.max(...stored.map((one) => one.records.length))).toBe(BATCH_RECORDS);
  expect(records).not.toContain(line('gate-01', 'lost'));
});

it('stores what it holds when it is stopped, without waiting for more', async () => {
  const { queue, stored } = queueOver(0);
  queue.addDatagram(line('gate-01', 'last'), '10.0.0.1');
  queue.addDatagram('  ', '10.0.0.1');
  const stopping = queue.stop();
  await jest.runAllTimersAsync();
  await stopping;
  expect(stored.map(({ records }) => records)).toEqual([[line('gate-01', 'last')]]);
});
