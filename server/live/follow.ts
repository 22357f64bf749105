import type { Pool } from 'pg';
import type { Logger } from 'pino';
import { formatInstant } from '../../core/base/instant.js';
import type { Json } from '../../core/base/json.js';
import type { Event } from '../../core/events/event.js';
import { jsonCells } from '../../core/output/json-lines.js';
import { runInMemory } from '../../core/wick/in-memory/run.js';
import type { Environment } from '../../core/wick/in-memory/environment.js';
import type { Plan } from '../../core/wick/plan.js';
import { eventsOfBatch } from '../hunts/event-sql.js';
import type { BatchNotice, Notices } from './notices.js';

/** Batches that may wait to be looked through; of more, the oldest are passed over and said to be. */
const MAX_WAITING = 20;
/** Rows that may wait for one slow reader; of more, the oldest are dropped and counted. */
const MAX_HELD = 2000;

/** Rows of a followed hunt, newest first, and how fast it goes. */
export interface FollowNews {
  readonly rows: readonly (readonly Json[])[];
  readonly events: readonly { readonly id: string; readonly time: string }[];
  /** Events that came in since the last news. */
  readonly read: number;
  /** Of those, the ones the hunt keeps. */
  readonly matched: number;
  /** Events that were not looked at, and rows that were not passed on, because they came too fast. */
  readonly passedOver: number;
}

type Row = readonly [cells: readonly Json[], event: { id: string; time: string }];

/** One reader of one hunt. */
export class Follower {
  private held: Row[] = [];
  private read = 0;
  private matched = 0;
  private passedOver = 0;

  constructor(
    private readonly plan: Plan,
    private readonly environment: Environment,
  ) {}

  look(events: readonly Event[]): void {
    const found = runInMemory(this.plan, events, this.environment);
    this.read += events.length;
    this.matched += found.rows.length;
    // What runs in memory stands newest first; what came in last is to stand before what came before.
    const rows = found.rows.map((row, i): Row => {
      const event = found.events[i];
      return [jsonCells(found.columns, row), { id: event?.id ?? '', time: formatInstant(event?.time ?? 0) }];
    });
    this.held = [...rows, ...this.held];
    if (this.held.length > MAX_HELD) {
      this.passedOver += this.held.length - MAX_HELD;
      this.held.length = MAX_HELD;
    }
  }

  passOver(events: number): void {
    this.passedOver += events;
  }

  /** What has gathered, which is forgotten with it. */
  take(): FollowNews {
    const { held, read, matched, passedOver } = this;
    this.held = [];
    this.read = this.matched = this.passedOver = 0;
    return {
      rows: held.map(([cells]) => cells),
      events: held.map(([, event]) => event),
      read,
      matched,
      passedOver,
    };
  }
}

/** Shows every batch, once it is stored, to all who follow a hunt. Each batch is read once, however many follow. */
export class Following {
  /** Who follows, by whom. */
  private readonly followers = new Map<Follower, string>();
  private waiting: BatchNotice[] = [];
  private working = false;

  constructor(
    private readonly pool: Pool,
    notices: Notices,
    private readonly logger: Logger,
  ) {
    notices.subscribe((notice) => {
      if (notice.topic === 'batch' && this.followers.size > 0) this.come(notice.batch);
    });
  }

  /** How many follow at this moment. */
  get count(): number {
    return this.followers.size;
  }

  /** How many a person follows. */
  countOf(person: string): number {
    return [...this.followers.values()].filter((other) => other === person).length;
  }

  /** @returns how to stop */
  add(follower: Follower, person: string): () => void {
    this.followers.set(follower, person);
    return () => {
      this.followers.delete(follower);
      if (this.followers.size === 0) this.waiting = [];
    };
  }

  private come(batch: BatchNotice): void {
    this.waiting.push(batch);
    if (this.waiting.length > MAX_WAITING) {
      const passed = this.waiting.shift();
      for (const follower of this.followers.keys()) follower.passOver(passed?.events ?? 0);
    }
    if (!this.working) void this.work();
  }

  private async work(): Promise<void> {
    this.working = true;
    for (let batch = this.waiting.shift(); batch !== undefined; batch = this.waiting.shift()) {
      try {
        const events = await eventsOfBatch(this.pool, batch);
        for (const follower of this.followers.keys()) follower.look(events);
      } catch (error) {
        this.logger.warn({ err: error }, 'a batch could not be shown to those who follow');
        for (const follower of this.followers.keys()) follower.passOver(batch.events);
      }
    }
    this.working = false;
  }
}
