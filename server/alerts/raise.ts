import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { namedBy, type SubjectKind } from '../../core/subjects/kinds.js';
import { quoteText } from '../../core/wick/spell.js';
import type { AlertDetail, AlertRaise } from '../../core/wire/alerts.js';
import { transaction } from '../db/transaction.js';
import { Failure } from '../failure.js';
import type { HuntPlanner } from '../hunts/planner.js';
import type { HuntRunner } from '../hunts/runner.js';
import { tellAlerts } from '../live/tell.js';
import { addChange, type Alerts } from './service.js';
import { ADD_EVIDENCE, FIND_RAISED, RAISE_ALERT } from './sql.js';

/** So many events, the newest, are the evidence of an alert that is raised by hand. */
const MAX_EVENTS = 200;

interface Found {
  readonly id: string;
  readonly time: Instant;
  /** The values of the columns that may name the subject, in their order. */
  readonly names: readonly unknown[];
}

/** Raises alerts for people: what somebody found by hunting is worked on as what a rule found is. */
export class RaiseByHand {
  constructor(
    private readonly pool: Pool,
    private readonly alerts: Alerts,
    private readonly planner: HuntPlanner,
    private readonly runner: HuntRunner,
    private readonly now: () => Instant,
  ) {}

  /**
   * Raises an alert about a subject; it rests on the newest events of the window that name the subject, and whoever raised it
   * works on it.
   * @throws Failure 409 where one that was raised by hand about the same is open; 400 for a window that cannot be read
   */
  async raise(
    { kind, name, title, level, window }: AlertRaise,
    who: string,
    signal: AbortSignal,
  ): Promise<AlertDetail> {
    const events = await this.eventsAbout(kind, name, window, signal);
    const field = fieldOf(kind, name, events);
    const times = events.map(({ time }) => time);
    const at = this.now();
    const key = `${kind} ${name}`;
    const id = await transaction(this.pool, async (client) => {
      const { rows } = await client.query<{ id: number }>(RAISE_ALERT, [
        title,
        level,
        name,
        JSON.stringify({ [field]: name }),
        key,
        events.length,
        formatInstant(Math.min(...times, at)),
        formatInstant(times.length === 0 ? at : Math.max(...times)),
        who,
      ]);
      const [made] = rows;
      if (made === undefined) {
        const { rows: open } = await client.query<{ id: number }>(FIND_RAISED, [key]);
        throw new Failure(
          'open-already',
          `Alert ${open[0]?.id ?? ''}, raised by hand about ${name}, is open. Work on that one.`,
        );
      }
      await client.query(ADD_EVIDENCE, [
        made.id,
        events.map((event) => event.id),
        times.map((time) => formatInstant(time)),
      ]);
      await addChange(client, made.id, who, 'raised by hand');
      await tellAlerts(client, [made.id]);
      return made.id;
    });
    return this.alerts.one(id, signal);
  }

  private async eventsAbout(
    kind: SubjectKind,
    name: string,
    window: AlertRaise['window'],
    signal: AbortSignal,
  ): Promise<Found[]> {
    const text = `from all\nwhere about ${kind} ${quoteText(name)}`;
    const plan = await this.planner.plan({ text, window, parameters: {}, carried: [] });
    const { columns, rows } = await this.runner.table(plan, MAX_EVENTS, { purpose: 'screen', signal });
    const placeOf = (column: string): number => columns.findIndex((one) => one.name === column);
    const [id, time] = [placeOf('id'), placeOf('time')];
    const named = namedBy[kind].names.map(placeOf);
    return rows.map((row) => ({
      id: row[id] as string,
      time: Number(row[time]),
      names: named.map((place) => row[place]),
    }));
  }
}

/** The field that the subject stands in: for an address the one its newest event has it in, else the usual one. */
function fieldOf(kind: SubjectKind, name: string, events: readonly Found[]): string {
  if (kind !== 'address') return namedBy[kind].chief;
  const at = events[0]?.names.indexOf(name) ?? -1;
  return namedBy[kind].names[at] ?? namedBy[kind].chief;
}
