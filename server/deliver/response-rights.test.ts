import { refusedAlert } from '../tests/refused-alert.js';
import { Caller, testServer, type TestServer } from '../tests/server.js';
import { Responses } from './responses.js';

// Who may ask for a response and who may approve it is settable, response by response; every way of asking meets it.

let server: TestServer;
let analyst: Caller;
let admin: Caller;
let alert: number;

const path = '/responses/drop-address/rights';
const drop = { does: 'drop-address', subject: '198.18.40.77' };
const ask = (who: Caller) => who.call('POST', `/alerts/${alert}/responses`, drop);
const lastAsked = async (): Promise<number> =>
  (await analyst.call('GET', `/alerts/${alert}`)).json.responses.at(-1).id;
const approve = async (who: Caller, reason?: string) =>
  who.call('POST', `/alerts/${alert}/responses/${await lastAsked()}`, {
    approve: true,
    ...(reason !== undefined && { reason }),
  });
const say = (body: object) => admin.call('PUT', path, body);

beforeAll(async () => {
  server = await testServer();
  analyst = await new Caller(server).signIn('analyst');
  admin = await new Caller(server).signIn('admin');
  alert = await refusedAlert(server, analyst);
  await admin.call('PUT', '/destinations/wall', {
    kind: 'firewall',
    address: 'http://127.0.0.1:9/api',
    allowPrivate: true,
  });
});
afterAll(() => server.stop());
beforeEach(async () => {
  await server.database.pool.query('TRUNCATE responses, deliveries, response_rights CASCADE');
});

it('only administrators say so, of responses that there are, in words that there are', async () => {
  const body = { asks: 'admin', approves: 'admin', alone: false };
  expect((await analyst.call('PUT', path, body)).status).toBe(403);
  expect((await admin.call('PUT', '/responses/level-the-quay/rights', body)).status).toBe(404);
  expect((await say({ ...body, asks: 'reader' })).status).toBe(400);
  const rights = async () =>
    (await analyst.call('GET', '/responses')).json.responses.find(
      ({ does }: { does: string }) => does === drop.does,
    );
  expect(await rights()).toMatchObject({ asks: 'analyst', approves: 'analyst', alone: true, set: false });
  expect((await say(body)).status).toBe(200);
  expect(await rights()).toMatchObject({ ...body, set: true });
});

it('who may not ask for it is refused, by whatever way, and nothing is asked for', async () => {
  await say({ asks: 'admin', approves: 'analyst', alone: true });
  const refused = await ask(analyst);
  expect([refused.status, refused.json.detail]).toEqual([
    403,
    expect.stringContaining('Only an admin may ask for'),
  ]);
  // Whoever started a runbook and left since is no administrator either.
  const responses = new Responses(server.database.pool);
  await expect(responses.ask(alert, drop, 'gone.since')).rejects.toThrow('Only an admin may ask');
  expect((await analyst.call('GET', `/alerts/${alert}`)).json.responses).toEqual([]);
  expect((await ask(admin)).status).toBe(200);
  expect((await approve(analyst)).status).toBe(200);
});

it('who may not approve it is told so; the request stays for those who may', async () => {
  await say({ asks: 'analyst', approves: 'admin', alone: true });
  await ask(admin);
  const refused = await approve(analyst);
  expect([refused.status, refused.json.detail]).toEqual([
    403,
    expect.stringContaining('Only an admin may approve'),
  ]);
  expect((await approve(admin)).json.code).toBe('own-request');
  expect((await approve(admin, 'nobody else is awake')).status).toBe(200);
});

it('where nobody may do both, an administrator with a reason may not either', async () => {
  await say({ asks: 'analyst', approves: 'analyst', alone: false });
  await ask(admin);
  expect((await approve(admin, 'nobody else is awake')).json.code).toBe('own-request');
  expect((await approve(analyst)).status).toBe(200);
});
