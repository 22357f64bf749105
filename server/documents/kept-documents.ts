import type { Pool, PoolClient } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { DocumentMistake } from '../../core/text/checked-json.js';
import type { KeptHead, KeptVersion } from '../../core/wire/kept-documents.js';
import { transaction } from '../db/transaction.js';
import { Failure, invalid, notFound } from '../failure.js';
import { addChange } from '../trail/changes.js';
import { type DocumentKind, documentSql } from './sql.js';

/** Documents of one kind that are kept: more is nobody's plan. */
const MAX_KEPT = 300;

interface Row<Document> {
  readonly name: string;
  readonly version: number;
  readonly document: Document;
  readonly changed_by: string;
  readonly changed: Instant;
}

/** A document as it stands now, with what is known of it. */
export interface Standing<Document> {
  readonly head: KeptHead;
  readonly document: Document;
}

/** The text of a document, read. @throws Failure 400 with the first mistake and its place */
export function requireRead<Document>(
  read: Document | null,
  mistakes: readonly DocumentMistake[],
  what: string,
): Document {
  if (read !== null) return read;
  const [first] = mistakes;
  throw invalid(
    `Line ${first?.line ?? 1}, column ${first?.column ?? 1}: ${first?.message ?? `this is no ${what}`}`,
  );
}

/** Documents of one kind: those that ship, those that were changed here, and those that were written here. */
export class KeptDocuments<Document extends { readonly title: string }> {
  private readonly sql: ReturnType<typeof documentSql>;

  constructor(
    private readonly pool: Pool,
    private readonly kind: DocumentKind,
    private readonly ships: Readonly<Record<string, Document>>,
  ) {
    this.sql = documentSql(kind);
  }

  private shipped(name: string): Document | null {
    return Object.hasOwn(this.ships, name) ? (this.ships[name] ?? null) : null;
  }

  private standing(name: string, document: Document, row: Row<Document> | null): Standing<Document> {
    return {
      head: {
        name,
        title: document.title,
        version: row?.version ?? 0,
        ships: this.shipped(name) !== null,
        changedBy: row?.changed_by ?? null,
        changed: row === null ? null : formatInstant(row.changed),
      },
      document,
    };
  }

  /** All of them, by title. */
  async all(on: Pool | PoolClient = this.pool): Promise<Standing<Document>[]> {
    const { rows } = await on.query<Row<Document>>(this.sql.readAll);
    const own = new Set(rows.map(({ name }) => name));
    return [
      ...rows.map((row) => this.standing(row.name, row.document, row)),
      ...Object.entries(this.ships)
        .filter(([name]) => !own.has(name))
        .map(([name, document]) => this.standing(name, document, null)),
    ].sort((a, b) => a.head.title.localeCompare(b.head.title, 'en'));
  }

  /** One as it stands now; null where there is none. */
  async find(name: string, on: Pool | PoolClient = this.pool): Promise<Standing<Document> | null> {
    const { rows } = await on.query<Row<Document>>(this.sql.read, [name]);
    const document = rows[0]?.document ?? this.shipped(name);
    return document === null ? null : this.standing(name, document, rows[0] ?? null);
  }

  /** @throws Failure 404 */
  async require(name: string): Promise<Standing<Document>> {
    const found = await this.find(name);
    if (found === null) throw notFound(`${this.kind} "${name}"`);
    return found;
  }

  /** The versions of one that were kept here, the newest first. */
  async versions(name: string): Promise<KeptVersion[]> {
    const { rows } = await this.pool.query<Row<Document>>(this.sql.versions, [name]);
    return rows.map(({ version, changed_by, changed, document }) => ({
      version,
      changedBy: changed_by,
      changed: formatInstant(changed),
      document: { ...document },
    }));
  }

  /** Keeps a document that was checked, as a new version. @throws Failure 409 where it was changed meanwhile; 429 */
  async put(name: string, document: Document, basedOn: number | undefined, who: string): Promise<void> {
    await transaction(this.pool, async (client) => {
      const { rows } = await client.query<{ version: number }>(this.sql.hold, [name]);
      const before = rows[0]?.version ?? 0;
      if (basedOn !== undefined && basedOn !== before)
        throw new Failure(
          'changed-meanwhile',
          `It is at version ${before} by now: open it again before you change it.`,
        );
      if (before === 0) {
        const { rows: counted } = await client.query<{ n: number }>(this.sql.count);
        if ((counted[0]?.n ?? 0) >= MAX_KEPT)
          throw new Failure('too-many', `There are ${MAX_KEPT} ${this.kind}s already: remove one first.`);
      }
      const values = [name, before + 1, JSON.stringify(document), who];
      await client.query(this.sql.put, values);
      await client.query(this.sql.addVersion, values);
      await addChange(client, this.kind, name, `kept as version ${before + 1}`);
    });
  }

  /** @throws Failure 404 for what was not written here; 400 for what ships and was not changed */
  async remove(name: string): Promise<void> {
    await transaction(this.pool, async (client) => {
      const { rowCount } = await client.query(this.sql.remove, [name]);
      if (rowCount === 0)
        throw this.shipped(name) === null
          ? notFound(`${this.kind} "${name}"`)
          : invalid('It ships with the product and was not changed: there is nothing to remove.');
      await addChange(client, this.kind, name, 'removed');
    });
  }
}
