import { deliver } from './deliver.js';
import { DestinationLimiter } from './destination-limiter.js';
import { deliverForTests, type Delivering } from './tests/delivering.js';

let { server, analyst, admin, got, answers, parts, receiverAt, put, ids, log, deliverAll, raise, raised } =
  {} as Delivering;
deliverForTests((begun) => {
  ({ server, analyst, admin, got, answers, parts, receiverAt, put, ids, log, deliverAll, raise, raised } =
    begun);
});

it('a receiver that lies is not followed, not read to the end, and not let inside', async () => {
  await put('sink', { kind: 'webhook', address: receiverAt('/sink'), allowPrivate: true });
  await raise('{ webhook: sink }');
  const [id = 0] = await ids();
  answers.push((_, response) => response.writeHead(302, { location: '/elsewhere' }).end());
  await deliver(parts, id);
  expect((await log())[0]).toMatchObject({ state: 'dead', said: expect.stringContaining('redirects') });
  await analyst.call('POST', `/deliveries/${id}/again`);
  answers.push((_, response) => {
    response.writeHead(200);
    const pour = (): void => {
      while (!response.destroyed && response.write(Buffer.alloc(16_384)));
      response.once('drain', pour);
    };
    pour();
  });
  await deliver(parts, id);
  expect((await log())[0]).toMatchObject({ state: 'sent' });
  expect(got.map(({ path }) => path)).toEqual(['/sink', '/sink']);
  await put('sink', { kind: 'webhook', address: receiverAt('/sink') });
  await raise('{ webhook: sink }', 'ines.vaal');
  await deliverAll();
  await put('sink', { kind: 'webhook', address: receiverAt('/sink').replace('127.0.0.1', 'localhost') });
  await raise('{ webhook: sink }', 'runa.keel');
  await deliverAll();
  expect(
    (await log()).filter(({ state, said }) => state === 'dead' && said.includes('lies inside')).length,
  ).toBeGreaterThanOrEqual(2);
  expect(got).toHaveLength(2);
});

it('an address that changes asks for the secret again, and nothing is sent to it meanwhile', async () => {
  const body = { kind: 'webhook', address: receiverAt('/sink'), allowPrivate: true };
  await put('sink', { ...body, secret: 'very secret' });
  const moved = { ...body, address: receiverAt('/elsewhere').replace('127.0.0.1', 'localhost') };
  const { status, json } = await put('sink', moved);
  expect([status, json.code]).toEqual([422, 'secret-again']);
  expect((await admin.call('GET', '/destinations')).json.destinations[0].address).toBe(body.address);
  expect((await put('sink', { ...moved, secret: null })).status).toBe(200);
  expect((await admin.call('GET', '/destinations')).json.destinations[0]).toMatchObject({
    address: moved.address,
    hasSecret: false,
  });
});

it('secrets are kept sealed, never given out, and stay when nothing new is said of them', async () => {
  const body = { kind: 'webhook', address: receiverAt('/sink'), allowPrivate: true };
  await put('sink', { ...body, secret: 'very secret' });
  await put('sink', body);
  const { json } = await admin.call('GET', '/destinations');
  expect(json.destinations[0]).toMatchObject({ hasSecret: true });
  expect(JSON.stringify(json)).not.toContain('very secret');
  const { rows } = await server.database.pool.query<{ secret: Buffer }>('SELECT secret FROM destinations');
  expect(rows[0]?.secret.toString('latin1')).not.toContain('very secret');
  await raise('{ webhook: sink }');
  await deliverAll();
  expect(got[0]?.headers['lamp-signature']).toMatch(/^[0-9a-f]{64}$/);
  await put('sink', { ...body, secret: null });
  expect((await admin.call('GET', '/destinations')).json.destinations[0].hasSecret).toBe(false);
});

it.each([
  [{ kind: 'webhook', address: 'ftp://x.example' }, 'Write it as https://sink.example/alerts'],
  [{ kind: 'webhook', address: 'https://a:b@x.example' }, 'Leave the password out'],
  [{ kind: 'mail', address: 'smtp://x.example', settings: { to: 'nobody' } }, 'whom mails go to'],
  [{ kind: 'program', address: '../../bin/sh' }, 'Write it as block.sh'],
  [{ kind: 'syslog', address: 'http://x.example' }, 'tcp://collector.example:514'],
])('%j is refused', async (body, reason) => {
  const { status, json } = await put('x', body);
  expect([status, json.detail]).toEqual([422, expect.stringContaining(reason)]);
  expect((await analyst.call('PUT', '/destinations/x', body)).status).toBe(403);
});

it('a destination is entered by two at once, and rests after it did not answer', () => {
  let now = 0;
  const limiter = new DestinationLimiter(() => now);
  const first = limiter.enter('a');
  const second = limiter.enter('a');
  expect([first === null, second === null, limiter.enter('a'), limiter.enter('b') === null]).toEqual([
    false,
    false,
    null,
    false,
  ]);
  first?.(true);
  limiter.enter('a')?.(false);
  expect(limiter.enter('a')).toBeNull();
  now += 15_000;
  expect(limiter.enter('a')).not.toBeNull();
});

it('mail and lines of text are not let inside either', async () => {
  await put('desk', {
    kind: 'mail',
    address: 'smtp://127.0.0.1:25',
    settings: { to: 'desk@skerry-line.example' },
  });
  await put('collector', { kind: 'syslog', address: 'udp://localhost:514' });
  await raise('{ mail: desk }\n{ syslog: collector }');
  await deliverAll();
  expect((await log()).map(({ state, said }) => [state, said])).toEqual(
    ['localhost', '127.0.0.1'].map((host) => ['dead', expect.stringContaining(`${host} lies inside`)]),
  );
});

it('a word is sent on demand to see whether it arrives; what does something is not tried', async () => {
  await put('sink', { kind: 'webhook', address: receiverAt('/sink'), allowPrivate: true });
  const attempt = (name: string) => admin.call('POST', `/destinations/${name}/try`);
  expect((await attempt('sink')).json).toEqual({ said: 'taken by sink' });
  expect(JSON.parse(got[0]?.body ?? '')).toMatchObject({ title: 'A test, sent by admin', alert: 0 });
  answers.push((_, response) => response.writeHead(401).end());
  expect((await attempt('sink')).json).toMatchObject({ status: 502, detail: 'It answers 401.' });
  await put('block', { kind: 'program', address: 'block.sh' });
  expect((await attempt('block')).json.code).toBe('nothing-to-try');
  expect((await attempt('nowhere')).status).toBe(404);
  expect((await analyst.call('POST', '/destinations/sink/try')).status).toBe(403);
  expect(await log()).toEqual([]);
});

it('actions are previewed on the newest alert, with what is missing', async () => {
  await raise("{ chat: nowhere, text: '{title} {oddity}' }\n{ tag: seen }");
  const [{ id, text }] = await Promise.all(
    (await analyst.call('GET', '/rules')).json.rules.map(
      async ({ id: rule }: { id: string }) => (await analyst.call('GET', `/rules/${rule}`)).json,
    ),
  );
  const { json } = await analyst.call('POST', '/rules/preview-actions', { id, text });
  expect(json.of).toContain('teo.marrash');
  expect(json.previews).toEqual([
    expect.objectContaining({
      shown: expect.stringContaining(`Refused ${raised()} `),
      missing: 'Nothing is called {oddity}; it stays empty.',
    }),
    { does: 'its events are tagged seen', shown: 'seen', missing: null },
  ]);
});
