import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { connect as connectTls } from 'node:tls';
import { pino } from 'pino';
import { SourceCatalogue } from '../intake/catalogue.js';
import { RuleSet } from '../intake/rule-set.js';
import { RecordStore } from '../intake/store-records.js';
import { Sources } from '../sources/service.js';
import { testServer, type TestServer } from '../tests/server.js';
import { compileClaim } from './claim.js';
import { SyslogListener } from './listener.js';
import { SyslogQueue } from './queue.js';

const logger = pino({ level: 'silent' });
let server: TestServer;
let listener: SyslogListener;
let queue: SyslogQueue;
let ports: { port: number | null; tls: number | null };
const folder = mkdtempSync(join(tmpdir(), 'under-lamp-syslog-'));
const certificate = join(folder, 'cert.pem');
const key = join(folder, 'key.pem');

beforeAll(async () => {
  execFileSync(
    'openssl',
    [
      'req',
      '-x509',
      '-newkey',
      'rsa:2048',
      '-nodes',
      '-days',
      '2',
      '-subj',
      '/CN=localhost',
      '-keyout',
      key,
      '-out',
      certificate,
    ],
    { stdio: 'ignore' },
  );
  server = await testServer();
  const { pool } = server.database;
  await pool.query(
    `UPDATE sources SET syslog = '{"hosts":["gate-*"],"programs":["sshd","sudo"]}' WHERE name = 'dock-auth'`,
  );
  await pool.query(`UPDATE config_versions SET version = version + 1 WHERE name = 'sources'`);
  const now = (): number => Date.now() * 1000;
  queue = new SyslogQueue(
    new SourceCatalogue(pool),
    new RecordStore(pool, new RuleSet()),
    () => new Sources(pool, now).ensureUnclaimed(),
    logger,
    now,
  );
  listener = new SyslogListener(queue, logger);
  ports = await listener.start({
    host: '127.0.0.1',
    port: 0,
    tls: { port: 0, certificate: readFileSync(certificate, 'utf8'), key: readFileSync(key, 'utf8') },
  });
});
afterAll(async () => {
  await listener.stop();
  await queue.stop();
  await server.stop();
  rmSync(folder, { recursive: true, force: true });
});

/** Waits until events with this text are stored. */
async function stored(
  text: string,
  count = 1,
): Promise<{ source: string; host: string; process: string; message: string }[]> {
  for (;;) {
    const { rows } = await server.database.pool.query<{
      source: string;
      host: string;
      process: string;
      message: string;
    }>(
      `SELECT source, host, process, message FROM events WHERE message LIKE '%' || $1 || '%' ORDER BY message`,
      [text],
    );
    if (rows.length >= count) return rows;
    await new Promise((resolve) => setImmediate(resolve));
  }
}

const modern = (host: string, program: string, message: string): string =>
  `<86>1 ${new Date().toISOString()} ${host} ${program} 77 - - ${message}`;
const accepted = 'Accepted password for runa.keel from 10.20.4.61 port 5 ssh2';

it('gives messages to the source that claims them, over UDP, TCP and TLS', async () => {
  const datagrams = createSocket('udp4');
  datagrams.send(modern('gate-01', 'sshd', `${accepted} udp`), ports.port ?? 0, '127.0.0.1', () =>
    datagrams.close(),
  );
  expect(await stored('udp')).toEqual([
    { source: 'dock-auth', host: 'gate-01', process: 'sshd', message: `${accepted} udp` },
  ]);
  const plain = connect(ports.port ?? 0, '127.0.0.1');
  const counted = modern('gate-02', 'sshd', `${accepted} tcp1`);
  plain.end(
    `${modern('gate-02', 'sshd', `${accepted} tcp0`)}\n${Buffer.byteLength(counted)} ${counted}${modern('gate-02', 'sshd', `${accepted} tcp2`)}`,
  );
  expect((await stored('tcp', 3)).map(({ source, message }) => [source, message.slice(-4)])).toEqual(
    ['tcp0', 'tcp1', 'tcp2'].map((text) => ['dock-auth', text]),
  );
  const secure = connectTls({
    port: ports.tls ?? 0,
    host: '127.0.0.1',
    ca: readFileSync(certificate),
    checkServerIdentity: () => undefined,
  });
  secure.end(`${modern('gate-03', 'sudo', 'over tls')}\n`);
  expect(await stored('over tls')).toMatchObject([{ source: 'dock-auth', host: 'gate-03' }]);
});

it('keeps messages of nobody under a source of their own', async () => {
  const plain = connect(ports.port ?? 0, '127.0.0.1');
  plain.end(`${modern('gate-01', 'cron', 'nobody claims cron')}\n`);
  expect(await stored('nobody claims')).toMatchObject([{ source: 'syslog', process: 'cron' }]);
});

it.each([
  ['udp', ['--udp']],
  ['tcp, counted', ['--tcp', '--octet-count']],
  ['tcp, lines, the older header', ['--tcp', '--rfc3164']],
])('takes what logger sends: %s', async (name, args) => {
  const text = `said by logger ${name.replaceAll(' ', '-')}`;
  const done = spawnSync('logger', [
    ...args,
    '--server',
    '127.0.0.1',
    '--port',
    String(ports.port),
    '--tag',
    'harbour',
    '--priority',
    'auth.notice',
    text,
  ]);
  expect(done.status).toBe(0);
  expect(await stored(text)).toMatchObject([{ source: 'syslog', process: 'harbour', message: text }]);
});

const rsyslogd = '/usr/sbin/rsyslogd';
(existsSync(rsyslogd) ? it : it.skip)('takes what rsyslog relays', async () => {
  const input = join(folder, 'input.sock');
  writeFileSync(
    join(folder, 'rsyslog.conf'),
    `module(load="imuxsock" SysSock.Use="off")
input(type="imuxsock" Socket="${input}" CreatePath="on")
*.* action(type="omfwd" target="127.0.0.1" port="${ports.port}" protocol="tcp" TCP_Framing="octet-counted" template="RSYSLOG_SyslogProtocol23Format")
`,
  );
  const relay = spawn(rsyslogd, ['-n', '-f', join(folder, 'rsyslog.conf'), '-i', join(folder, 'pid')], {
    stdio: 'ignore',
  });
  try {
    while (!existsSync(input)) await new Promise((resolve) => setImmediate(resolve));
    // The socket is there a moment before anyone listens on it.
    while (spawnSync('logger', ['--socket', input, '--tag', 'relayed', 'relayed by rsyslog']).status !== 0);
    expect((await stored('relayed by rsyslog'))[0]).toMatchObject({ source: 'syslog', process: 'relayed' });
  } finally {
    const ended = new Promise((resolve) => relay.once('exit', resolve));
    relay.kill('SIGTERM');
    await ended;
  }
});

it.each<[Parameters<typeof compileClaim>[0], boolean]>([
  [{ hosts: ['gate-*'] }, true],
  [{ hosts: ['GATE-01'] }, true],
  [{ hosts: ['gate'] }, false],
  [{ programs: ['sshd'], networks: ['10.0.0.0/8'] }, true],
  [{ programs: ['sshd'], networks: ['192.0.2.0/24'] }, false],
])('%j claims: %j', (claim, claims) =>
  expect(compileClaim(claim)({ host: 'gate-01', program: 'sshd', address: '::ffff:10.1.2.3' })).toBe(claims),
);
