import { connect } from 'node:net';
import { createSocket } from 'node:dgram';
import { DeliveryFailure } from '../delivery-failure.js';
import { addressOf, hostOf } from '../inside.js';
import type { Send } from './sender.js';

const SEND_MILLISECONDS = 10_000;
/** Facility 13, log audit; severities of RFC 5424, section 6.2.1. */
const FACILITY = 13;
const severities: Readonly<Record<string, number>> = {
  critical: 2,
  high: 3,
  medium: 4,
  low: 5,
  informational: 6,
};

/** A line of RFC 5424, over TCP with octet counting (RFC 6587) or UDP (RFC 5426). */
export const sendSyslog: Send<'syslog'> = async ({ content, key, destination }) => {
  if (destination === null) throw new Error('A line needs a collector.');
  const to = new URL(destination.address);
  const port = Number(to.port) || 514;
  const priority = FACILITY * 8 + (severities[content.severity] ?? 6);
  const line = `<${priority}>1 ${new Date().toISOString()} under-lamp alerts - ${key.slice(0, 32)} - ${content.text}`;
  const bytes = Buffer.from(line, 'utf8');
  const { address, family } = await addressOf(hostOf(to), destination.allowPrivate);
  const failure = (error: Error): DeliveryFailure =>
    new DeliveryFailure(`The collector cannot be reached: ${error.message}`, false, error);
  await new Promise<void>((done, failed) => {
    if (to.protocol === 'udp:') {
      const socket = createSocket(family === 6 ? 'udp6' : 'udp4');
      socket.send(bytes, port, address, (error) => {
        socket.close();
        if (error === null) done();
        else failed(failure(error));
      });
      return;
    }
    const socket = connect({ host: address, port });
    socket.setTimeout(SEND_MILLISECONDS, () => socket.destroy(new Error('no answer')));
    socket.once('error', (error) => failed(failure(error)));
    socket.once('connect', () =>
      socket.end(Buffer.concat([Buffer.from(`${bytes.length} `), bytes]), () => done()),
    );
  });
  return `forwarded to ${destination.name}`;
};
