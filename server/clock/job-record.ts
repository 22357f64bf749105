import type { Pool } from 'pg';
import type { Logger } from 'pino';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { JobList } from '../../core/wire/jobs.js';
import type { PeriodicWork } from './periodic-job.js';
import { NOTE_STOPPED, NOTE_END, NOTE_RUNNING, READ_JOBS } from './sql.js';

/** A round that takes longer is shown as running. */
const SHOWN_AFTER_MILLISECONDS = 1000;
/** Rounds that come often are written down only so often, unless one fails. */
const WRITTEN_EVERY_MILLISECONDS = 10_000;
/** Characters of a failure that are kept. */
const MAX_FAILURE_LENGTH = 2000;

/** A round that was stopped, with its server: neither done nor failed. */
export const STOPPED = Symbol('stopped');

interface JobRow {
  readonly name: string;
  readonly title: string;
  readonly pause: number;
  readonly runningSince: Instant | null;
  readonly lastEnded: Instant | null;
  readonly nextDue: Instant | null;
  readonly failure: string | null;
  readonly failed: Instant | null;
}

const moment = (time: Instant | null): string | null => (time === null ? null : formatInstant(time));

/** What is known of work by the clock, kept in the database so that every server can tell of all. */
export class JobRecord {
  private readonly written = new Map<string, number>();
  private readonly failing = new Set<string>();

  constructor(
    private readonly pool: Pool,
    private readonly logger: Logger,
    /** Milliseconds, for how long ago something was written. */
    private readonly clock: () => number = () => performance.now(),
  ) {}

  /** A round begins. @returns what is called when it ends: with the failure, null, or {@link STOPPED} */
  begin({ name, title, pause }: PeriodicWork): (failure: string | null | typeof STOPPED) => Promise<void> {
    let shown: Promise<unknown> | null = null;
    const timer = setTimeout(() => {
      shown = this.write(NOTE_RUNNING, [name, title, pause]);
    }, SHOWN_AFTER_MILLISECONDS);
    return async (failure) => {
      clearTimeout(timer);
      await shown;
      if (failure === STOPPED) {
        if (shown !== null) await this.write(NOTE_STOPPED, [name]);
        return;
      }
      const last = this.written.get(name);
      const isDue = last === undefined || this.clock() - last >= WRITTEN_EVERY_MILLISECONDS;
      if (shown === null && failure === null && !isDue && !this.failing.has(name)) return;
      this.written.set(name, this.clock());
      if (failure === null) this.failing.delete(name);
      else this.failing.add(name);
      await this.write(NOTE_END, [name, title, pause, failure?.slice(0, MAX_FAILURE_LENGTH) ?? null]);
    };
  }

  /** Work goes on where its record cannot be kept: the database may be away. */
  private async write(text: string, values: readonly unknown[]): Promise<void> {
    await this.pool.query(text, [...values]).catch((error: unknown) => {
      this.logger.warn({ err: error }, 'the record of work by the clock cannot be kept');
    });
  }

  /** Everything that is done by the clock, by its title. */
  async all(): Promise<JobList> {
    const { rows } = await this.pool.query<JobRow>(READ_JOBS);
    return {
      jobs: rows.map(({ pause, runningSince, lastEnded, nextDue, failed, ...row }) => ({
        ...row,
        pause: pause / 1000,
        runningSince: moment(runningSince),
        lastEnded: moment(lastEnded),
        nextDue: moment(nextDue),
        failed: moment(failed),
      })),
    };
  }
}
