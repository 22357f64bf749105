import type { LimitFunction } from 'p-limit';
import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { SubjectBoard } from '../../core/boards/subjects/subject-board.js';
import { neighboursOf, type SharedValue } from '../../core/studies/neighbours.js';
import type { SubjectKind } from '../../core/subjects/kinds.js';
import { quoteText } from '../../core/wick/spell.js';
import type { Window } from '../../core/wick/plan.js';
import type { First, NeighbourWire } from '../../core/wire/dossiers.js';
import { FIRSTS, OPEN_ALERTS_OF, OWN_VALUES, SHARED } from './sql.js';

/** Lets few looks at sightings run at once. */
type InTurn = LimitFunction;

const MAX_FIRSTS = 40;
const MAX_NEIGHBOURS = 12;
const MAX_ROWS = 2000;
/** Values of one pair that neighbours are looked for by. */
const MAX_VALUES = 200;

/** What the values that neighbours share are subjects of, where they are. */
const subjectsShared: Readonly<Record<string, SubjectKind>> = {
  address: 'address',
  host: 'host',
  resource: 'resource',
  destination: 'address',
};

/** What sightings tell of a subject: what is new, and who is near. */
export class SubjectSightings {
  constructor(private readonly pool: Pool) {}

  /** What the subject did for the first time in the window, and who else ever did. */
  async firsts(of: SubjectBoard, names: readonly string[], window: Window, inTurn: InTurn): Promise<First[]> {
    const found = await Promise.all(
      of.firsts.map(async ({ what, pair, column }) => {
        const { rows } = await inTurn(() =>
          this.pool.query<{
            value: string;
            first: Instant;
            events: number;
            before: number;
            ever: number;
          }>(FIRSTS, [pair, names, formatInstant(window.from), formatInstant(window.to), MAX_FIRSTS]),
        );
        return rows.map(({ value, first, events, before, ever }): First => ({
          what,
          value,
          time: formatInstant(first),
          events,
          before,
          ever,
          hunt: `from all\nwhere about ${of.kind} ${quoteText(names[0] ?? '')} and ${column} = ${column === 'dst_port' ? value : quoteText(value)}`,
        }));
      }),
    );
    return found.flat().slice(0, MAX_FIRSTS);
  }

  /** Subjects of the same kind that share most, and what this one itself was seen with. */
  async neighbours(
    of: SubjectBoard,
    names: readonly string[],
    window: Window,
    inTurn: InTurn,
  ): Promise<NeighbourWire[]> {
    const days = [formatInstant(window.from).slice(0, 10), formatInstant(window.to - 1).slice(0, 10)];
    const parts = await Promise.all(
      of.neighbours.map(async ({ pair, by }) => {
        const [shared, own] = await Promise.all([
          inTurn(() =>
            this.pool.query<Omit<SharedValue, 'by'>>(SHARED, [pair, names, ...days, MAX_VALUES, MAX_ROWS]),
          ),
          inTurn(() =>
            this.pool.query<{ value: string; events: number }>(OWN_VALUES, [
              pair,
              names,
              ...days,
              MAX_VALUES,
            ]),
          ),
        ]);
        return { by, shared: shared.rows.map((row) => ({ ...row, by })), own: own.rows };
      }),
    );
    const all = parts.flatMap(({ shared }) => shared);
    const sharing = neighboursOf(all, MAX_NEIGHBOURS).map((one) => ({ kind: of.kind, ...one }));
    const others = new Set(all.map(({ name }) => name)).size;
    const seenWith = parts.flatMap(({ by, shared, own }) => {
      const kind = subjectsShared[by];
      if (kind === undefined) return [];
      return own.map(({ value, events }) => {
        const having = new Set(shared.filter((one) => one.value === value).map(({ name }) => name)).size;
        return {
          kind,
          name: value,
          events,
          // Its own neighbour weighs as much as a value that it alone has with one other.
          score: Math.log((others + 2) / (having + 1)),
          shared: [{ by: having === 0 ? 'nobody else' : `${having} others`, value: '', others: having }],
        };
      });
    });
    const found = [...sharing, ...seenWith].sort((a, b) => b.score - a.score).slice(0, MAX_NEIGHBOURS);
    const open = await this.pool.query<{ name: string; alerts: number }>(OPEN_ALERTS_OF, [
      found.map(({ name }) => name),
    ]);
    const alerts = new Map(open.rows.map((row) => [row.name, row.alerts]));
    return found.map(({ shared, ...one }) => ({
      ...one,
      score: Math.round(one.score * 100) / 100,
      shared: shared.slice(0, 5).map(({ by, value }) => (value === '' ? by : `${by} ${value}`)),
      alerts: alerts.get(one.name) ?? 0,
    }));
  }
}
