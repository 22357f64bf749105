import { randomUUID } from 'node:crypto';
import type { Logger } from 'pino';
import type { Instant } from '../../core/base/instant.js';
import { recordMark } from '../../core/events/event-id.js';
import { syslog } from '../../core/formats/syslog.js';
import type { IntakeSource, SourceCatalogue } from '../intake/catalogue.js';
import type { RecordWriter } from '../intake/record-writer.js';
import { BATCH_RECORDS } from '../intake/store-records.js';

/** Messages, and bytes of them, held in memory at most; beyond, TCP senders wait and datagrams are lost, as UDP allows. */
const MAX_HELD = 50_000;
const MAX_HELD_BYTES = 64 * 1024 * 1024;
/** A message takes so much beside its text, which is held as two bytes a character at most. */
const MESSAGE_OVERHEAD = 200;
/** So much of a message is looked at to see whose it is: its head. */
const HEAD_LENGTH = 1024;
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
  /** No sender repeats a message: each is an event of its own, and only our own retries bring it again. */
  readonly mark: string;
}

const bytesOf = (text: string): number => 2 * text.length + MESSAGE_OVERHEAD;

const readHeader = syslog.reader({});

/** The part of a message that says whose it is, with structured data left out: that may be long. */
const headOf = (text: string): string => {
  const head = text.slice(0, HEAD_LENGTH);
  const data = /^<\d{1,3}>1 (?:\S{1,255} ){5}/.exec(head);
  return data === null ? head : `${data[0]}-`;
};

function originOf(held: Held): { host: string; program: string; address: string } {
  const { fields } = readHeader(headOf(held.text));
  const text = (name: string): string => {
    const value = fields?.[name];
    return typeof value === 'string' ? value : '';
  };
  return { host: text('hostname'), program: text('program'), address: held.address };
}

/** Gathers syslog messages and stores them by the source that claims them. */
export class SyslogQueue {
  private held: Held[] = [];
  private heldBytes = 0;
  private lost = 0;
  private taken = 0;
  /** Names this run of the server among all. */
  private readonly run = randomUUID();
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
    return this.held.length >= MAX_HELD || this.heldBytes >= MAX_HELD_BYTES;
  }

  /** Waits until there is room again. */
  room(): Promise<void> {
    return this.isFull ? new Promise((done) => this.waiting.push(done)) : Promise.resolve();
  }

  add(messages: readonly string[], address: string): void {
    const received = this.now();
    for (const text of messages) {
      this.held.push({ text, address, received, mark: recordMark(this.taken++, this.run) });
      this.heldBytes += bytesOf(text);
    }
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
        for (const { text } of batch) this.heldBytes -= bytesOf(text);
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
        { marks: own.map(({ mark }) => mark) },
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
