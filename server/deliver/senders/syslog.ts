import { connect } from 'node:net';
import { createSocket } from 'node:dgram';
import { DeliveryFailure } from '../delivery-failure.js';
import { addressOf, hostOf } from '../inside.js';
import type { Destination, Send } from './sender.js';

const SEND_MILLISECONDS = 10_000;
/** The largest payload of a datagram (RFC 768): longer records lose their end. */
const MAX_DATAGRAM = 65_507;
/** Facility 13, log audit; severities of RFC 5424, section 6.2.1. */
const FACILITY = 13;
const severities: Readonly<Record<string, number>> = {
  critical: 2,
  high: 3,
  medium: 4,
  low: 5,
  informational: 6,
};

/** A line of RFC 5424. */
export const sendSyslog: Send<'syslog'> = async ({ content, key, destination }) => {
  if (destination === null) throw new Error('A line needs a collector.');
  const priority = FACILITY * 8 + (severities[content.severity] ?? 6);
  const line = `<${priority}>1 ${new Date().toISOString()} under-lamp alerts - ${key.slice(0, 32)} - ${content.text}`;
  await sendLines(destination, [line]);
  return `forwarded to ${destination.name}`;
};

/**
 * Lines to a collector, in order: over one TCP connection with octet counting (RFC 6587), or a datagram each (RFC 5426).
 * @throws DeliveryFailure
 */
export async function sendLines(
  destination: Pick<Destination, 'address' | 'allowPrivate'>,
  lines: readonly string[],
): Promise<void> {
  const to = new URL(destination.address);
  const port = Number(to.port) || 514;
  const all = lines.map((line) => Buffer.from(line, 'utf8'));
  const { address, family } = await addressOf(hostOf(to), destination.allowPrivate);
  const failure = (error: Error): DeliveryFailure =>
    new DeliveryFailure(`The collector cannot be reached: ${error.message}`, false, error);
  await new Promise<void>((done, failed) => {
    if (to.protocol === 'udp:') {
      const socket = createSocket(family === 6 ? 'udp6' : 'udp4');
      const sendOne = (bytes: Buffer): Promise<void> =>
        new Promise((sent, broken) =>
          socket.send(bytes.subarray(0, MAX_DATAGRAM), port, address, (error) =>
            error === null ? sent() : broken(error),
          ),
        );
      void (async () => {
        for (const bytes of all) await sendOne(bytes);
      })()
        .then(done, (error: Error) => failed(failure(error)))
        .finally(() => socket.close());
      return;
    }
    const socket = connect({ host: address, port });
    socket.setTimeout(SEND_MILLISECONDS, () => socket.destroy(new Error('no answer')));
    socket.once('error', (error) => failed(failure(error)));
    socket.once('connect', () =>
      socket.end(Buffer.concat(all.flatMap((bytes) => [Buffer.from(`${bytes.length} `), bytes])), () =>
        done(),
      ),
    );
  });
}
