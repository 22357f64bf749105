import { once } from 'node:events';
import { connect, type Socket } from 'node:net';
import type { DemoRecord } from '../demo/generate/record.js';

/** Where the stand-ins send to, and with which keys. */
export interface Destination {
  /** The address of the workbench, such as `http://127.0.0.1:7380`. */
  readonly server: string;
  readonly keys: Readonly<Record<string, string>>;
  /** The syslog listener; null when there is none. */
  readonly syslog: { readonly host: string; readonly port: number } | null;
}

/** Sources whose systems speak syslog; all others push over HTTP. */
const OVER_SYSLOG: ReadonlySet<string> = new Set(['dock-auth', 'fw-stavik']);

/** Records of one request. */
const AT_ONCE = 2000;

/** Sends records the way their systems would. */
export class Sender {
  /** Records acknowledged, or written to the listener, by source. */
  readonly sent = new Map<string, number>();
  private line: Socket | undefined;

  constructor(private readonly to: Destination) {}

  /** @throws Error when the other side does not take them; the same records may be sent again, none is doubled */
  async send(records: readonly DemoRecord[]): Promise<void> {
    for (const source of new Set(records.map((record) => record.source))) {
      const own = records.filter((record) => record.source === source).map(({ raw }) => raw);
      for (let from = 0; from < own.length; from += AT_ONCE) {
        const piece = own.slice(from, from + AT_ONCE);
        if (OVER_SYSLOG.has(source) && this.to.syslog !== null) await this.overSyslog(piece);
        else await this.push(source, piece);
        this.sent.set(source, (this.sent.get(source) ?? 0) + piece.length);
      }
    }
  }

  private async push(source: string, lines: readonly string[]): Promise<void> {
    const response = await fetch(`${this.to.server}/api/v1/intake/${source}`, {
      method: 'POST',
      headers: { Authorization: `Bearer ${this.to.keys[source]}`, 'Content-Type': 'text/plain' },
      body: lines.join('\n'),
    });
    if (!response.ok) throw new Error(`${source}: ${response.status}`);
  }

  /** Over TCP with each message's length before it (RFC 6587, 3.4.1). */
  private async overSyslog(lines: readonly string[]): Promise<void> {
    if (this.to.syslog === null) return;
    if (this.line === undefined || this.line.destroyed) {
      this.line = connect(this.to.syslog);
      // A line that rests is no reason to go on living.
      this.line.unref();
      this.line.on('error', () => this.line?.destroy());
      await once(this.line, 'connect');
    }
    const text = lines.map((line) => `${Buffer.byteLength(line)} ${line}`).join('');
    await new Promise<void>((written, failed) =>
      this.line?.write(text, (error) => (error == null ? written() : failed(error))),
    );
  }
}
