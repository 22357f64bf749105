import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { makeStandIns } from './app.js';

// Stands in for the systems of the demo world. What it needs to know stands in the environment.

const PAUSE_MILLISECONDS = 1000;

const env = process.env;
const syslogPort = Number(env['STAND_INS_SYSLOG'] ?? '');
const standIns = makeStandIns(
  { seed: Number(env['STAND_INS_SEED']), end: Number(env['STAND_INS_END']) },
  {
    server: env['STAND_INS_SERVER'] ?? '',
    keys: JSON.parse(env['STAND_INS_KEYS'] ?? '{}') as Record<string, string>,
    syslog: syslogPort > 0 ? { host: '127.0.0.1', port: syslogPort } : null,
  },
  () => Date.now() * 1000,
);
const server = createServer(standIns.app);
server.on('error', (error) => {
  process.stderr.write(`The stand-ins' page cannot be served: ${error.message}\n`);
  process.exit(1);
});
server.listen(Number(env['STAND_INS_PORT'] ?? 0), '127.0.0.1', () => {
  process.send?.({ listening: (server.address() as AddressInfo).port });
});

const smtpPort = Number(env['STAND_INS_SMTP'] ?? '');
if (smtpPort > 0) {
  standIns.smtp.on('error', (error) => process.stderr.write(`The mailbox takes no mail: ${error.message}\n`));
  standIns.smtp.listen(smtpPort, '127.0.0.1');
}

const rounds = async (): Promise<never> => {
  for (;;) {
    await standIns.round();
    await new Promise((resolve) => setTimeout(resolve, PAUSE_MILLISECONDS));
  }
};
void rounds();
