import type { Logger } from 'pino';
import type { Instant } from '../../core/base/instant.js';
import { syslog } from '../../core/formats/syslog.js';
import type { IntakeSource, SourceCatalogue } from '../intake/catalogue.js';
import type { RecordWriter } from '../intake/record-writer.js';
import { BATCH_RECORDS } from '../intake/store-records.js';

/** Messages held in memory at most; beyond, TCP senders wait and datagrams are lost, as UDP allows. */
const MOST_HELD = 50_000;
/** Messages are gathered for so long before they are stored. */
const GATHER_MILLISECONDS = 200;
/** After a failure of the database the same messages are tried again so often. */
const RETRY_MILLISECONDS = 2000;

/** The source of messages that no other claims; it is made when the first of them comes. */
export const UNCLAIMED = 'syslog';

interface Held {
  readonly text: string;
  readonly address: string;
  readonly received: Instant;
}

const readHeader = syslog.reader({});

function originOf(held: Held): { host: string; program: string; address: string } {
  const { fields } = readHeader(held.text);
  const text = (name: string): string => {
    const value = fields?.[name];
    return typeof value === 'string' ? value : '';
  };
  return { host: text('hostname'), program: text('program'), address: held.address };
}

/** Gathers syslog messages and stores them by the source that claims them. */
export class SyslogQueue {
  private held: Held[] = [];
  private lost = 0;
  private working: Promise<void> | undefined;
  private stopped = false;
  private waiting: (() => void)[] = [];

  constructor(
    private readonly catalogue: SourceCatalogue,
    private readonly store: RecordWriter,
    private readonly makeUnclaimed: () => Promise<void>,
    private readonly logger: Logger,
    private readonly now: () => Instant,
  ) {}

  get isFull(): boolean {
    return this.held.length >= MOST_HELD;
  }

  /** Waits until there is room again. */
  room(): Promise<void> {
    return this.isFull ? new Promise((done) => this.waiting.push(done)) : Promise.resolve();
  }

  add(messages: readonly string[], address: string): void {
    const received = this.now();
    for (const text of messages) this.held.push({ text, address, received });
    if (this.held.length > 0) this.working ??= this.work();
  }

  /** A datagram cannot be held back: when there is no room it is lost, and that is told. */
  addDatagram(message: string, address: string): void {
    if (message.trim() === '') return;
    if (this.isFull) this.lost++;
    else this.add([message], address);
  }

  private async work(): Promise<void> {
    while (this.held.length > 0) {
      if (!this.stopped && this.held.length < BATCH_RECORDS)
        await new Promise((done) => setTimeout(done, GATHER_MILLISECONDS));
      const batch = this.held.slice(0, BATCH_RECORDS);
      try {
        await this.storeBatch(batch);
        this.held = this.held.slice(batch.length);
      } catch (error) {
        this.logger.warn(
          { err: error, held: this.held.length },
          'syslog messages could not be stored; trying again',
        );
        if (this.stopped) break;
        await new Promise((done) => setTimeout(done, RETRY_MILLISECONDS));
      }
      if (this.lost > 0) {
        this.logger.warn({ lost: this.lost }, 'datagrams were lost: intake was behind');
        this.lost = 0;
      }
      if (!this.isFull) for (const go of this.waiting.splice(0)) go();
    }
    this.working = undefined;
  }

  private async storeBatch(batch: readonly Held[]): Promise<void> {
    await this.catalogue.refresh();
    const bySource = new Map<IntakeSource, Held[]>();
    for (const held of batch) {
      const source = this.catalogue.claimant(originOf(held)) ?? (await this.unclaimed());
      const own = bySource.get(source);
      if (own === undefined) bySource.set(source, [held]);
      else own.push(held);
    }
    // Stored source by source; those done before a failure are recognised when they are tried again.
    for (const [source, own] of bySource)
      await this.store.store(
        source,
        own.map(({ text }) => text),
        (position) => own[position]?.received ?? this.now(),
      );
  }

  private async unclaimed(): Promise<IntakeSource> {
    let source = await this.catalogue.find(UNCLAIMED);
    if (source === undefined) {
      await this.makeUnclaimed();
      source = await this.catalogue.find(UNCLAIMED);
    }
    if (source === undefined) throw new Error(`The source "${UNCLAIMED}" could not be made.`);
    return source;
  }

  /** Stores what is held, and takes no more time than that. */
  async stop(): Promise<void> {
    this.stopped = true;
    await this.working;
  }
}
