import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { request } from 'node:https';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort } from '../scripts/lib/cluster.js';
import { PASSWORD, testServer, type TestServer } from '../server/tests/server.js';

// Behind a real proxy that speaks HTTPS and passes on with the headers it sends by default.

const NGINX = '/usr/sbin/nginx';

let folder: string;
let port: number;
let server: TestServer;
let proxy: ChildProcess;

interface Answer {
  readonly status: number;
  readonly cookie: string;
}

/** Asks the proxy; its certificate is of its own making. */
function ask(method: string, path: string, headers: Record<string, string>, body?: object): Promise<Answer> {
  return new Promise((done, failed) => {
    const asked = request(
      {
        host: '127.0.0.1',
        port,
        path: `/api/v1${path}`,
        method,
        rejectUnauthorized: false,
        headers: { ...headers, ...(body && { 'Content-Type': 'application/json' }) },
      },
      (response) => {
        response.resume();
        const cookie = response.headers['set-cookie']?.[0]?.split(';')[0] ?? '';
        response.on('end', () => done({ status: response.statusCode ?? 0, cookie }));
      },
    );
    asked.on('error', failed);
    asked.end(body && JSON.stringify(body));
  });
}

const whenItListens = async (): Promise<void> => {
  for (;;) {
    const up = await ask('GET', '/session', {}).then(
      () => true,
      () => false,
    );
    if (up) return;
    if (proxy.exitCode !== null) throw new Error(`The proxy ended with ${proxy.exitCode}.`);
  }
};

beforeAll(async () => {
  if (!existsSync(NGINX)) return;
  folder = mkdtempSync(join(tmpdir(), 'under-lamp-proxy-'));
  port = await freePort();
  server = await testServer(`https://127.0.0.1:${port}`);
  const [key, certificate] = [join(folder, 'key.pem'), join(folder, 'certificate.pem')];
  spawnSync('openssl', [
    ...['req', '-x509', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:prime256v1', '-nodes', '-days', '1'],
    ...['-subj', '/CN=lamp.example', '-keyout', key, '-out', certificate],
  ]);
  writeFileSync(
    join(folder, 'proxy.conf'),
    `pid ${folder}/pid; error_log stderr; events {}
     http {
       access_log off; client_body_temp_path ${folder}/body; proxy_temp_path ${folder}/proxy;
       fastcgi_temp_path ${folder}/a; uwsgi_temp_path ${folder}/b; scgi_temp_path ${folder}/c;
       server {
         listen 127.0.0.1:${port} ssl;
         ssl_certificate ${certificate}; ssl_certificate_key ${key};
         location / { proxy_pass ${new URL(server.base).origin}; }
       }
     }`,
  );
  proxy = spawn(NGINX, ['-p', folder, '-c', join(folder, 'proxy.conf'), '-g', 'daemon off;'], {
    stdio: 'ignore',
  });
  await whenItListens();
});
afterAll(async () => {
  if (!existsSync(NGINX)) return;
  const gone = new Promise((ended) => proxy.once('exit', ended));
  proxy.kill('SIGTERM');
  await gone;
  await server.stop();
  rmSync(folder, { recursive: true, force: true });
});

// Only where the proxy can be installed.
(existsSync(NGINX) ? test : test.skip)(
  'pages behind it sign in and write; pages of others do not',
  async () => {
    const own = { Origin: `https://127.0.0.1:${port}` };
    const signedIn = await ask('POST', '/session', own, { name: 'admin', password: PASSWORD });
    expect([signedIn.status, signedIn.cookie]).toEqual([200, expect.stringMatching(/^lamp\.sid=/)]);
    const rotate = (headers: Record<string, string>): Promise<Answer> =>
      ask('POST', '/sources/harbour-id/key', { Cookie: signedIn.cookie, ...headers });
    expect((await rotate(own)).status).toBe(200);
    expect((await rotate({ Origin: 'https://elsewhere.example' })).status).toBe(403);
    expect((await rotate({ Origin: 'null' })).status).toBe(403);
  },
);
