import type { Pool } from 'pg';
import { nearestWord } from '../../core/base/text-distance.js';
import { entriesOf, type LogSourceEntry } from '../../core/detect/log-sources.js';
import { shippedLogSources } from '../../core/detect/shipped-log-sources.js';
import { isKind, kindNames } from '../../core/events/kinds.js';
import type { LogSourceBody, LogSourceList, LogSourceWire } from '../../core/wire/log-sources.js';
import { bumpConfig } from '../db/config-versions.js';
import { transaction } from '../db/transaction.js';
import { Failure, notFound } from '../failure.js';
import { addChange } from '../trail/changes.js';
import { logSourceOf, recordsOfSources } from './log-sources-sql.js';
import type { RuleReading } from './reading.js';
import { ADD_LOG_SOURCE, CHANGE_LOG_SOURCE, LOG_SOURCES, REMOVE_LOG_SOURCE } from './sql.js';

interface Row extends LogSourceBody {
  readonly id: number;
  readonly given: string[];
}

const word = (text: string | null): string | null => {
  const trimmed = text?.trim().toLowerCase() ?? '';
  return trimmed === '' ? null : trimmed;
};

/** The table that says what log sources of the open format mean here. */
export class LogSources {
  constructor(
    private readonly pool: Pool,
    private readonly reading: RuleReading,
  ) {}

  async all(): Promise<LogSourceList> {
    const [{ rows }, { pack }, sources] = await Promise.all([
      this.pool.query<Row>(`${LOG_SOURCES} ORDER BY l.category, l.product, l.service, l.id`),
      this.reading.all(),
      recordsOfSources(this.pool),
    ]);
    const naming = (entry: LogSourceEntry): number =>
      pack.rules.filter((rule) => rule.type === 'detection' && entriesOf(rule, [entry]).length > 0).length;
    return {
      entries: rows.map((row): LogSourceWire => ({
        ...row,
        rules: naming({ logsource: logSourceOf(row), kinds: row.kinds, sources: row.sources, fields: {} }),
      })),
      known: shippedLogSources.map((entry) => ({
        category: entry.logsource.category ?? null,
        product: entry.logsource.product ?? null,
        service: entry.logsource.service ?? null,
        kinds: [...entry.kinds],
        fields: { ...entry.fields },
        where: Object.fromEntries(
          Object.entries(entry.where ?? {}).map(([field, texts]) => [field, [...texts]]),
        ),
        rules: naming(entry),
      })),
      recipes: sources.map(({ source, logsource }) => ({
        source,
        category: logsource.category ?? null,
        product: logsource.product ?? null,
        service: logsource.service ?? null,
      })),
    };
  }

  /** @throws Failure 422 */
  async add(body: LogSourceBody): Promise<LogSourceWire> {
    return this.write(null, body);
  }

  /** @throws Failure 404, 422 */
  async change(id: number, body: LogSourceBody): Promise<LogSourceWire> {
    return this.write(id, body);
  }

  private async write(id: number | null, body: LogSourceBody): Promise<LogSourceWire> {
    await this.requireKnown(body);
    const values = [
      word(body.category),
      word(body.product),
      word(body.service),
      [...body.kinds].sort(),
      [...body.sources].sort(),
      JSON.stringify(body.fields),
      body.note,
    ];
    const written = await transaction(this.pool, async (client) => {
      const { rows } =
        id === null
          ? await client.query<{ id: number }>(ADD_LOG_SOURCE, values)
          : await client.query<{ id: number }>(CHANGE_LOG_SOURCE, [...values, id]);
      if (rows[0] !== undefined)
        await addChange(
          client,
          'log source',
          String(rows[0].id),
          `${id === null ? 'added' : 'changed'}: ${[body.category, body.product, body.service].filter(Boolean).join(' / ')}, kinds ${body.kinds.join(' ') || 'all'}, sources ${body.sources.join(' ') || 'all'}`,
        );
      await bumpConfig(client, 'rules');
      return rows[0]?.id;
    });
    if (written === undefined && id !== null) throw notFound(`log source ${id}`);
    if (written === undefined)
      throw new Failure('there-already', 'The table has such a line already. Change that one.');
    const found = (await this.all()).entries.find((entry) => entry.id === written);
    if (found === undefined) throw notFound(`log source ${written}`);
    return found;
  }

  private async requireKnown({ category, product, service, kinds, sources }: LogSourceBody): Promise<void> {
    if (word(category) === null && word(product) === null && word(service) === null)
      throw new Failure('bad-log-source', 'Name a category, a product or a service.');
    const odd = kinds.find((kind) => !isKind(kind));
    if (odd !== undefined)
      throw new Failure(
        'unknown-kind',
        `"${odd}" is no kind of event. Did you mean "${nearestWord(odd, kindNames) ?? kindNames.join(', ')}"?`,
      );
    const known = await recordsOfSources(this.pool);
    const missing = sources.find((name) => !known.some(({ source }) => source === name));
    if (missing !== undefined)
      throw new Failure(
        'unknown-source',
        `There is no source "${missing}". Did you mean "${
          nearestWord(
            missing,
            known.map(({ source }) => source),
          ) ?? ''
        }"?`,
      );
  }

  /** @throws Failure 404 */
  async remove(id: number): Promise<void> {
    await transaction(this.pool, async (client) => {
      const { rowCount } = await client.query(REMOVE_LOG_SOURCE, [id]);
      if (rowCount === 0) throw notFound(`log source ${id}`);
      await addChange(client, 'log source', String(id), 'removed');
      await bumpConfig(client, 'rules');
    });
  }
}
