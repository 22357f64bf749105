import type { Pool } from 'pg';
import { formatInstant, type Instant, SECOND } from '../../core/base/instant.js';
import { isJsonObject, type Json } from '../../core/base/json.js';
import { canonicalAddress } from '../../core/net/address.js';
import {
  type Identity,
  identityOf,
  type ListedName,
  type Said,
  type SeenTogether,
} from '../../core/subjects/identity.js';
import type { SubjectKind } from '../../core/subjects/kinds.js';
import type { Joined } from '../../core/subjects/subject.js';
import { jsonToText } from '../../core/text/json-text.js';
import { transaction } from '../db/transaction.js';
import { addChange } from '../trail/changes.js';
import { Failure, invalid } from '../failure.js';
import { KNOWN_SINCE, LAST_BESIDE, LISTED, SAID_OF, SAY, SEEN_BESIDE, SEEN_WITH, UNSAY } from './sql.js';

/** What was joined is kept so long before it is looked up anew. */
const KEPT = 10 * SECOND;
const MAX_KEPT = 2000;
/** Sightings and rows of lists that one identity is made from. */
const MAX_ROWS = 5000;

/** The columns of lists that say who somebody is. */
export const listColumns: Readonly<
  Partial<Record<SubjectKind, { chief: readonly string[]; also: readonly string[] }>>
> = {
  user: {
    chief: ['login', 'user', 'username'],
    also: ['id', 'user_id', 'sid', 'mail', 'email', 'former_login', 'former_name', 'also'],
  },
  host: { chief: ['host', 'hostname'], also: ['address', 'ip', 'former_name', 'also'] },
};

const pairs: Readonly<Partial<Record<SubjectKind, string>>> = {
  user: 'user and id',
  host: 'host and address',
};

interface ListedRow {
  readonly list: string;
  readonly key: string;
  readonly cells: Json;
}

/** What subjects are called besides, from lists, from events, and from what people say. */
export class Identities {
  private readonly kept = new Map<string, { readonly at: Instant; readonly identity: Promise<Identity> }>();

  constructor(
    private readonly pool: Pool,
    private readonly now: () => Instant,
  ) {}

  /** A name as subjects of a kind are kept: users and hosts in small letters, addresses in their one form. */
  static spell(kind: SubjectKind, name: string): string {
    const trimmed = name.trim();
    if (kind === 'user' || kind === 'host') return trimmed.toLowerCase();
    return kind === 'address' ? (canonicalAddress(trimmed) ?? trimmed) : trimmed;
  }

  /** The identity of a subject, as of at most ten seconds ago. */
  of(kind: SubjectKind, name: string): Promise<Identity> {
    const spelled = Identities.spell(kind, name);
    const key = `${kind} ${spelled}`;
    const known = this.kept.get(key);
    if (known !== undefined && known.at > this.now() - KEPT) return known.identity;
    const identity = this.gather(kind, spelled);
    this.kept.delete(key);
    this.kept.set(key, { at: this.now(), identity });
    identity.catch(() => this.kept.delete(key));
    for (const oldest of this.kept.keys()) {
      if (this.kept.size <= MAX_KEPT) break;
      this.kept.delete(oldest);
    }
    return identity;
  }

  /** What a hunt about a subject looks for besides its name. */
  async joined(kind: SubjectKind, name: string): Promise<readonly Joined[]> {
    const identity = await this.of(kind, name);
    return identity.name === Identities.spell(kind, name)
      ? identity.names
      : [{ value: identity.name, from: null, to: null }, ...identity.names];
  }

  /** The names that ids belong to: by a list, else the one each was seen with last. Unknown ids are left out. */
  async namesOf(kind: SubjectKind, ids: readonly string[]): Promise<Map<string, string>> {
    const pair = pairs[kind];
    const columns = listColumns[kind];
    const found = new Map<string, string>();
    if (pair === undefined || columns === undefined || ids.length === 0) return found;
    const [seen, listed] = await Promise.all([
      this.pool.query<{ other: string; name: string }>(LAST_BESIDE, [pair, ids]),
      this.pool.query<ListedRow>(LISTED, [
        columns.chief,
        columns.also,
        ids.map((id) => id.toLowerCase()),
        MAX_ROWS,
      ]),
    ]);
    for (const { other, name } of seen.rows) found.set(other, name);
    const spelled = new Map(ids.map((id) => [id.toLowerCase(), id]));
    for (const { cells } of listed.rows) {
      const of = isJsonObject(cells) ? cells : {};
      const chief = columns.chief
        .map((column) => jsonToText(of[column] ?? null))
        .find((text) => text !== null);
      for (const column of columns.also) {
        const id = spelled.get(jsonToText(of[column] ?? null)?.toLowerCase() ?? '');
        if (id !== undefined && chief != null) found.set(id, Identities.spell(kind, chief));
      }
    }
    return found;
  }

  /**
   * Joins two names, or splits them, for a reason; both stay as they are in every event.
   * @throws Failure 422 without a reason, or for a name and itself
   */
  async say(
    kind: SubjectKind,
    name: string,
    { other, joined, reason }: { readonly other: string; readonly joined: boolean; readonly reason: string },
    person: string,
  ): Promise<Identity> {
    const [one, two] = [Identities.spell(kind, name), spellOther(kind, other)];
    if (one === two || two === '') throw new Failure('same-name', 'A subject cannot be joined to itself.');
    if (reason.trim() === '') throw invalid('Say why: a reason is kept beside it.');
    await transaction(this.pool, async (client) => {
      await client.query(UNSAY, [kind, one, two]);
      await client.query(SAY, [kind, one, two, joined, reason.trim(), person]);
      await addChange(
        client,
        'subject',
        `${kind} ${one}`,
        `${joined ? 'joined to' : 'split from'} ${two}: ${reason.trim()}`,
      );
    });
    this.kept.clear();
    return this.of(kind, one);
  }

  /** Takes back what was said of two names. @throws Failure 404 */
  async unsay(kind: SubjectKind, name: string, other: string): Promise<Identity> {
    const [one, two] = [Identities.spell(kind, name), spellOther(kind, other)];
    await transaction(this.pool, async (client) => {
      const { rowCount } = await client.query(UNSAY, [kind, one, two]);
      if (rowCount === 0) throw new Failure('not-found', `Nobody said anything of "${one}" and "${two}".`);
      await addChange(client, 'subject', `${kind} ${one}`, `took back what was said of ${two}`);
    });
    this.kept.clear();
    return this.of(kind, one);
  }

  private async gather(kind: SubjectKind, name: string): Promise<Identity> {
    const called = await this.ownerOf(kind, name);
    const [seen, listed, said] = await Promise.all([
      this.seen(kind, called),
      this.listed(kind, called),
      this.pool.query<Said & { at: Instant }>(SAID_OF, [kind, called]),
    ]);
    return identityOf(kind, called, { seen, listed: listed.map(({ row }) => row), said: said.rows });
  }

  /**
   * Whom an id belongs to; a name that is itself somebody's stays what it is, whatever an event or a list says of it
   * besides: nobody takes a dossier over by sending its name as an id. One step only, so that lists may name each other.
   */
  private async ownerOf(kind: SubjectKind, name: string): Promise<string> {
    const { rows } = await this.pool.query<{ first: Instant | null }>(KNOWN_SINCE, [kind, [name]]);
    if (rows[0]?.first != null) return name;
    return (await this.namesOf(kind, [name])).get(name) ?? name;
  }

  private async seen(kind: SubjectKind, name: string): Promise<SeenTogether[]> {
    const pair = pairs[kind];
    if (pair === undefined) return [];
    const own = await this.pool.query<SeenTogether>(SEEN_WITH, [pair, [name], MAX_ROWS]);
    const others = [...new Set(own.rows.map(({ other }) => other))];
    if (others.length === 0) return [];
    const beside = (await this.pool.query<SeenTogether>(SEEN_BESIDE, [pair, others, MAX_ROWS])).rows;
    const names = [...new Set(beside.map((row) => row.name))].filter((one) => one !== name);
    // Whether another name of an id has ids of its own decides whether it is a former name.
    const theirs =
      names.length === 0 || kind !== 'user'
        ? []
        : (await this.pool.query<SeenTogether>(SEEN_WITH, [pair, names, MAX_ROWS])).rows.filter(
            ({ other }) => !others.includes(other),
          );
    return [...beside, ...theirs];
  }

  /** What lists say of a subject: who it is, and everything else in its rows. */
  async listed(kind: SubjectKind, name: string): Promise<{ row: ListedName; cells: [string, string][] }[]> {
    const columns = listColumns[kind];
    if (columns === undefined) return [];
    const { chief, also } = columns;
    const { rows } = await this.pool.query<ListedRow>(LISTED, [
      chief,
      [...chief, ...also],
      [name.toLowerCase()],
      50,
    ]);
    return rows.flatMap(({ list, cells }) => {
      const texts = Object.entries(isJsonObject(cells) ? cells : {}).flatMap(([column, value]) => {
        const text = jsonToText(value);
        return text === null || text === '' ? [] : [[column, text] as [string, string]];
      });
      const called = texts.find(([column]) => chief.includes(column))?.[1];
      if (called === undefined) return [];
      return [
        {
          row: {
            list,
            name: Identities.spell(kind, called),
            also: texts
              .filter(([column]) => also.includes(column))
              .flatMap(([column, text]) => text.split(/[,;]\s*/).map((value) => ({ column, value }))),
          },
          cells: texts,
        },
      ];
    });
  }
}

/** A name that is joined may be an id or an address: it keeps its case unless it is a name. */
const spellOther = (kind: SubjectKind, other: string): string => {
  const trimmed = other.trim();
  return kind === 'host' ? (canonicalAddress(trimmed) ?? trimmed.toLowerCase()) : trimmed;
};

export const momentOrNull = (time: Instant | null): string | null =>
  time === null ? null : formatInstant(time);
