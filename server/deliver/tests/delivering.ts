import { mkdtempSync, rmSync } from 'node:fs';
import {
  createServer as createHttp,
  type IncomingMessage,
  type Server,
  type ServerResponse,
} from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { makeSeal } from '../../seal.js';
import {
  addRule,
  Caller,
  SECRET,
  send,
  signInRecord,
  testServer,
  type TestServer,
} from '../../tests/server.js';
import { deliver, type DeliverParts, type Tried } from '../deliver.js';

interface Got {
  readonly path: string;
  readonly headers: IncomingMessage['headers'];
  readonly body: string;
}

/** A server with a receiver beside it, and what tests do with them. */
export interface Delivering {
  readonly server: TestServer;
  readonly analyst: Caller;
  readonly admin: Caller;
  /** What the receiver got. */
  readonly got: Got[];
  /** How the receiver answers; taken from the front, else 200. */
  readonly answers: ((request: IncomingMessage, respond: ServerResponse) => void)[];
  readonly parts: DeliverParts;
  /** The folder that programs may lie in. */
  readonly programs: string;
  readonly receiverAt: (path: string) => string;
  readonly put: (name: string, body: object) => ReturnType<Caller['call']>;
  /** Of all deliveries. */
  readonly ids: () => Promise<number[]>;
  readonly log: () => Promise<any[]>;
  readonly deliverAll: () => Promise<Tried[]>;
  /** Raises one alert of a rule with these actions, about someone who failed just now. */
  readonly raise: (actions: string, user?: string) => Promise<void>;
  /** How many were raised. */
  readonly raised: () => number;
}

/** Opens a server and a receiver for each test of a file, and closes them after it. @param begin is given both */
export function deliverForTests(begin: (delivering: Delivering) => void): void {
  let server: TestServer;
  let analyst: Caller;
  let admin: Caller;
  let receiver: Server;
  let got: Got[];
  /** How the receiver answers; taken from the front, else 200. */
  let answers: ((request: IncomingMessage, respond: ServerResponse) => void)[];
  let parts: DeliverParts;
  let programs: string;

  beforeEach(async () => {
    server = await testServer();
    // Only of what happens now something is sent.
    server.clock.now = Date.now() * 1000;
    analyst = await new Caller(server).signIn('analyst');
    admin = await new Caller(server).signIn('admin');
    got = [];
    answers = [];
    receiver = createHttp((request, response) => {
      const chunks: Buffer[] = [];
      request.on('data', (chunk: Buffer) => chunks.push(chunk));
      request.on('end', () => {
        got.push({
          path: request.url ?? '',
          headers: request.headers,
          body: Buffer.concat(chunks).toString(),
        });
        const answer = answers.shift();
        if (answer === undefined) response.end('{}');
        else answer(request, response);
      });
    });
    await new Promise<void>((ready) => receiver.listen(0, '127.0.0.1', ready));
    programs = mkdtempSync(join(tmpdir(), 'under-lamp-programs-'));
    parts = {
      pool: server.database.pool,
      seal: makeSeal(SECRET),
      base: () => server.base.replace('/api/v1', ''),
      programs,
    };
    begin({
      server,
      analyst,
      admin,
      got,
      answers,
      parts,
      programs,
      receiverAt,
      put,
      ids,
      log,
      deliverAll,
      raise,
      raised: () => made,
    });
  });
  afterEach(async () => {
    receiver.closeAllConnections();
    await new Promise((closed) => receiver.close(closed));
    rmSync(programs, { recursive: true, force: true });
    await server.stop();
  });

  const receiverAt = (path: string): string =>
    `http://127.0.0.1:${(receiver.address() as AddressInfo).port}${path}`;
  const put = (name: string, body: object) => admin.call('PUT', `/destinations/${name}`, body);
  const ids = async (): Promise<number[]> =>
    (await server.database.pool.query<{ id: number }>('SELECT id FROM deliveries ORDER BY id')).rows.map(
      ({ id }) => id,
    );
  const log = async (): Promise<any[]> => (await analyst.call('GET', '/deliveries')).json.deliveries;
  const deliverAll = async (): Promise<Tried[]> => Promise.all((await ids()).map((id) => deliver(parts, id)));

  let made = 0;
  /** Raises one alert of a rule with these actions, about someone who failed just now. */
  async function raise(actions: string, user = 'teo.marrash'): Promise<void> {
    await addRule(
      analyst,
      `title: Refused ${++made}\nlevel: high\nlogsource: {}\ndetection: {s: {outcome: failure}, condition: s}\nlamp:\n  actions:\n${actions
        .split('\n')
        .map((line) => `    - ${line}`)
        .join('\n')}\n`,
    );
    const at = new Date().toISOString();
    await send(server, 'harbour-id', signInRecord({ eventId: `d-${made}`, at, user, denied: 'bad_secret' }));
  }
}
