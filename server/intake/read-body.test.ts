import { createServer, request, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { Failure } from '../failure.js';
import { toProblem } from '../http/problems.js';
import { readBody } from './read-body.js';

let server: Server;
beforeAll(async () => {
  server = createServer((incoming, response) => {
    readBody(incoming, { every: 100, bytes: 1000 }).then(
      (text) => response.end(`${text.length}`),
      (error: unknown) => {
        response.statusCode = error instanceof Failure ? toProblem(error).status : 500;
        response.end((error as Error).message);
      },
    );
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
});
afterAll(() => {
  server.closeAllConnections();
  server.close();
});

/** Sends the beginning of a body, and the rest only when told to. */
function slowRequest(): { status: Promise<number | undefined>; end(): void } {
  const asking = request({
    port: (server.address() as AddressInfo).port,
    host: '127.0.0.1',
    method: 'POST',
    headers: { 'Transfer-Encoding': 'chunked' },
  });
  asking.on('error', () => undefined);
  asking.write('a few bytes');
  const status = new Promise<number | undefined>((resolve) =>
    asking.on('response', (response) => {
      response.resume();
      resolve(response.statusCode);
    }),
  );
  return { status, end: () => asking.end() };
}

it('a body that trickles is ended, and says how fast it must come', async () => {
  await expect(slowRequest().status).resolves.toBe(408);
});

it('a body that is there is read', async () => {
  const whole = slowRequest();
  whole.end();
  await expect(whole.status).resolves.toBe(200);
});
