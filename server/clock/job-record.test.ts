import { setImmediate as turn } from 'node:timers/promises';
import { pino } from 'pino';
import { testDatabase, type TestDatabase } from '../tests/database.js';
import { Caller, testServer, type TestServer } from '../tests/server.js';
import { JobRecord } from './job-record.js';
import { PeriodicJob, type PeriodicWork } from './periodic-job.js';

const silent = pino({ level: 'silent' });
let database: TestDatabase;
let clock = 0;
let record: JobRecord;
beforeEach(async () => {
  database = await testDatabase();
  clock = 0;
  record = new JobRecord(database.pool, silent, () => clock);
});
afterEach(() => database.drop());

const work: PeriodicWork = { name: 'pulls', title: 'Ask', pause: 1000, run: () => Promise.resolve() };
const told = async (): Promise<unknown> => (await record.all()).jobs[0];

it('tells when work ended last and is due next; of what comes often, every ten seconds', async () => {
  await record.begin(work)(null);
  const first = (await record.all()).jobs[0];
  expect(first).toMatchObject({ title: 'Ask', pause: 1, runningSince: null, failure: null });
  expect(Date.parse(first?.nextDue ?? '') - Date.parse(first?.lastEnded ?? '')).toBe(1000);
  clock = 9000;
  await record.begin(work)(null);
  expect(await told()).toEqual(first);
  clock = 10_000;
  await record.begin(work)(null);
  expect(await told()).not.toEqual(first);
});

it('tells a failure at once, and that it is over', async () => {
  await record.begin(work)(null);
  await record.begin(work)('The address does not answer.');
  expect(await told()).toMatchObject({ failure: 'The address does not answer.', failed: expect.any(String) });
  await record.begin(work)(null);
  expect(await told()).toMatchObject({ failure: null, failed: null });
});

it('work that fails is recorded, tried again, and ends when it is stopped', async () => {
  let rounds = 0;
  let second: () => void = () => undefined;
  const twice = new Promise<void>((resolve) => (second = resolve));
  const job = new PeriodicJob(
    {
      ...work,
      pause: 1,
      run() {
        if (++rounds === 2) second();
        return Promise.reject(new Error(`round ${rounds} failed`));
      },
    },
    record,
    silent,
  );
  job.start();
  await twice;
  await job.stop();
  const ended = rounds;
  for (let i = 0; i < 20; i++) await turn();
  expect(rounds).toBe(ended);
  // A round that is stopped in the middle did not fail, and what was told before stands.
  expect(await told()).toMatchObject({ failure: 'round 1 failed' });
});

it('work goes on where its record cannot be kept', async () => {
  await database.pool.query('DROP TABLE periodic_jobs');
  await expect(record.begin(work)(null)).resolves.toBeUndefined();
});

describe('over the API', () => {
  let server: TestServer;
  beforeEach(async () => void (server = await testServer()));
  afterEach(() => server.stop());

  it('is told to administrators', async () => {
    await new JobRecord(server.database.pool, silent).begin(work)('It failed.');
    const admin = await new Caller(server).signIn('admin');
    expect((await admin.call('GET', '/jobs')).json).toMatchObject({
      jobs: [{ name: 'pulls', failure: 'It failed.' }],
    });
    const analyst = await new Caller(server).signIn('analyst');
    expect(await analyst.call('GET', '/jobs')).toMatchObject({ status: 403 });
  });
});
