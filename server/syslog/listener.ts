import { createSocket, type Socket as Datagrams } from 'node:dgram';
import { createServer, type Server, type Socket } from 'node:net';
import { createServer as createTlsServer } from 'node:tls';
import type { Logger } from 'pino';
import { SyslogFrames } from './frames.js';
import type { SyslogQueue } from './queue.js';

export interface SyslogSettings {
  /** The address to listen on. */
  readonly host: string;
  /** Port of UDP and TCP; 0 takes a free one, null listens on none. */
  readonly port: number | null;
  /** Port of TLS (RFC 5425) with its certificate and key, PEM. */
  readonly tls: { readonly port: number; readonly certificate: string; readonly key: string } | null;
}

/** How long a connection may say nothing. */
const IDLE_MILLISECONDS = 15 * 60_000;
const MAX_CONNECTIONS = 500;
/** Of one address, so that no single sender takes the places of the others. */
const MAX_CONNECTIONS_OF_ONE = 100;

const portOf = (server: Server): number => {
  const address = server.address();
  return typeof address === 'object' && address !== null ? address.port : 0;
};

/** Listens for syslog over UDP, TCP and TLS (RFC 5426, 6587, 5425) and hands the messages to the queue. */
export class SyslogListener {
  private readonly servers: Server[] = [];
  private readonly sockets = new Set<Socket>();
  /** Open connections by address. */
  private readonly connections = new Map<string, number>();
  private datagrams: Datagrams | undefined;

  constructor(
    private readonly queue: SyslogQueue,
    private readonly logger: Logger,
  ) {}

  /** @returns the ports it listens on; null for those it does not @throws Error when a port cannot be opened */
  async start({ host, port, tls }: SyslogSettings): Promise<{ port: number | null; tls: number | null }> {
    let plain: number | null = null;
    if (port !== null) {
      plain = await this.listen(createServer(), host, port);
      await this.listenDatagrams(host, plain);
    }
    const secure =
      tls === null
        ? null
        : await this.listen(
            createTlsServer({ cert: tls.certificate, key: tls.key, minVersion: 'TLSv1.2' }),
            host,
            tls.port,
          );
    return { port: plain, tls: secure };
  }

  private listen(server: Server, host: string, port: number): Promise<number> {
    server.maxConnections = MAX_CONNECTIONS;
    server.on('tlsClientError', () => undefined);
    // A TLS server gives plain sockets first; only what is decrypted is read.
    const event = 'setSecureContext' in server ? 'secureConnection' : 'connection';
    server.on(event, (socket: Socket) => this.serve(socket));
    this.servers.push(server);
    return new Promise((listening, failed) => {
      server.once('error', failed);
      server.listen(port, host, () => listening(portOf(server)));
    });
  }

  private serve(socket: Socket): void {
    const frames = new SyslogFrames();
    const address = socket.remoteAddress ?? '';
    const own = (this.connections.get(address) ?? 0) + 1;
    if (own > MAX_CONNECTIONS_OF_ONE) {
      socket.destroy();
      return;
    }
    this.connections.set(address, own);
    this.sockets.add(socket);
    socket.setTimeout(IDLE_MILLISECONDS, () => socket.destroy());
    socket.on('data', (chunk: Buffer) => {
      this.queue.add(frames.push(chunk), address);
      if (!this.queue.isFull) return;
      // The sender waits with us: TCP tells it to hold on.
      socket.pause();
      void this.queue.room().then(() => socket.resume());
    });
    socket.on('error', (error) => this.logger.debug({ err: error, address }, 'a syslog connection broke'));
    socket.on('close', () => {
      this.queue.add(frames.end(), address);
      this.sockets.delete(socket);
      const left = (this.connections.get(address) ?? 1) - 1;
      if (left === 0) this.connections.delete(address);
      else this.connections.set(address, left);
    });
  }

  private listenDatagrams(host: string, port: number): Promise<void> {
    const datagrams = createSocket(host.includes(':') ? 'udp6' : 'udp4');
    this.datagrams = datagrams;
    datagrams.on('message', (message, sender) =>
      this.queue.addDatagram(message.toString('utf8').replace(/[\r\n\0]+$/, ''), sender.address),
    );
    return new Promise((listening, failed) => {
      datagrams.once('error', failed);
      datagrams.bind(port, host, () => listening());
    });
  }

  /** Stops listening; what has come in is still stored by the queue. */
  async stop(): Promise<void> {
    const { datagrams } = this;
    if (datagrams !== undefined) await new Promise<void>((closed) => datagrams.close(() => closed()));
    for (const socket of this.sockets) socket.end();
    for (const socket of this.sockets) socket.destroySoon();
    await Promise.all(
      this.servers.map((server) => new Promise<void>((closed) => server.close(() => closed()))),
    );
  }
}
