import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { Runbook } from '../../core/runbooks/document.js';
import { readRunbook, type ReadRunbook } from '../../core/runbooks/read-runbook.js';
import { shippedRunbooks } from '../../core/runbooks/shipped.js';
import type { RunbookSummary, StoredRunbook } from '../../core/wire/runbooks.js';
import { transaction } from '../db/transaction.js';
import { Failure, invalid, notFound } from '../failure.js';
import type { HuntPlanner } from '../hunts/planner.js';
import { addChange } from '../trail/changes.js';
import {
  ADD_RUNBOOK_VERSION,
  COUNT_RUNBOOKS,
  HOLD_RUNBOOK,
  PUT_RUNBOOK,
  READ_RUNBOOK,
  READ_RUNBOOKS,
  REMOVE_RUNBOOK,
  VERSIONS_OF_RUNBOOK,
} from './sql.js';

/** Runbooks that are kept: more is nobody's plan. */
const MAX_RUNBOOKS = 300;

interface Row {
  readonly name: string;
  readonly version: number;
  readonly document: Runbook;
  readonly changed_by: string;
  readonly changed: Instant;
}

const shipped = (name: string): Runbook | null =>
  Object.hasOwn(shippedRunbooks, name) ? (shippedRunbooks[name] ?? null) : null;

const summaryOf = (
  name: string,
  document: Runbook,
  row: Pick<Row, 'version' | 'changed_by' | 'changed'> | null,
): RunbookSummary => ({
  name,
  title: document.title,
  about: document.about ?? '',
  version: row?.version ?? 0,
  steps: document.steps.length,
  ships: shipped(name) !== null,
  changedBy: row?.changed_by ?? null,
  changed: row === null ? null : formatInstant(row.changed),
});

/** Runbooks: those that ship, those that were changed here, and those that were written here. */
export class Runbooks {
  constructor(
    private readonly pool: Pool,
    private readonly planner: HuntPlanner,
  ) {}

  /** All of them, by title. */
  async all(): Promise<RunbookSummary[]> {
    const { rows } = await this.pool.query<Row>(READ_RUNBOOKS);
    const own = new Set(rows.map(({ name }) => name));
    return [
      ...rows.map((row) => summaryOf(row.name, row.document, row)),
      ...Object.entries(shippedRunbooks)
        .filter(([name]) => !own.has(name))
        .map(([name, document]) => summaryOf(name, document, null)),
    ].sort((a, b) => a.title.localeCompare(b.title, 'en'));
  }

  /** One as it is run now. @throws Failure 404 */
  async current(name: string): Promise<{ readonly document: Runbook; readonly version: number }> {
    const { rows } = await this.pool.query<Row>(READ_RUNBOOK, [name]);
    const document = rows[0]?.document ?? shipped(name);
    if (document === null) throw notFound(`runbook "${name}"`);
    return { document, version: rows[0]?.version ?? 0 };
  }

  /** One with its versions. @throws Failure 404 */
  async read(name: string): Promise<StoredRunbook> {
    const { rows } = await this.pool.query<Row>(READ_RUNBOOK, [name]);
    const [row] = rows;
    const document = row?.document ?? shipped(name);
    if (document === null) throw notFound(`runbook "${name}"`);
    const { rows: versions } = await this.pool.query<Row>(VERSIONS_OF_RUNBOOK, [name]);
    return {
      ...summaryOf(name, document, row ?? null),
      document: { ...document },
      versions: versions.map((one) => ({
        version: one.version,
        changedBy: one.changed_by,
        changed: formatInstant(one.changed),
        document: { ...one.document },
      })),
    };
  }

  /** Reads a text as a runbook, with the lists there are. */
  async check(text: string): Promise<ReadRunbook> {
    return readRunbook(text, await this.planner.listsFor(text));
  }

  /** A text as a runbook. @throws Failure 422 with the first mistake and its place */
  async require(text: string): Promise<Runbook> {
    const { runbook, mistakes } = await this.check(text);
    if (runbook !== null) return runbook;
    const first = mistakes[0];
    throw invalid(
      `Line ${first?.line ?? 1}, column ${first?.column ?? 1}: ${first?.message ?? 'no runbook'}`,
    );
  }

  /** Keeps a runbook, as a new version. @throws Failure 409 where it was changed meanwhile, 422 */
  async put(name: string, text: string, basedOn: number | undefined, who: string): Promise<StoredRunbook> {
    const document = await this.require(text);
    await transaction(this.pool, async (client) => {
      const { rows } = await client.query<{ version: number }>(HOLD_RUNBOOK, [name]);
      const before = rows[0]?.version ?? 0;
      if (basedOn !== undefined && basedOn !== before)
        throw new Failure(
          'changed-meanwhile',
          `It is at version ${before} by now: open it again before you change it.`,
        );
      if (before === 0) {
        const { rows: counted } = await client.query<{ n: number }>(COUNT_RUNBOOKS);
        if ((counted[0]?.n ?? 0) >= MAX_RUNBOOKS)
          throw new Failure('too-many', `There are ${MAX_RUNBOOKS} runbooks already: remove one first.`);
      }
      const values = [name, before + 1, JSON.stringify(document), who];
      await client.query(PUT_RUNBOOK, values);
      await client.query(ADD_RUNBOOK_VERSION, values);
      await addChange(client, 'runbook', name, `kept as version ${before + 1}`);
    });
    return this.read(name);
  }

  /** @throws Failure 404 for what was not written here */
  async remove(name: string): Promise<void> {
    await transaction(this.pool, async (client) => {
      const { rowCount } = await client.query(REMOVE_RUNBOOK, [name]);
      if (rowCount === 0)
        throw shipped(name) === null
          ? notFound(`runbook "${name}"`)
          : invalid('It ships with the product and was not changed: there is nothing to remove.');
      await addChange(client, 'runbook', name, 'removed');
    });
  }
}
