import type { PoolClient } from 'pg';
import { saysOf } from '../../core/cases/evidence.js';
import { thawed } from '../../core/cases/report/model.js';
import type { Marking, PinKind } from '../../core/cases/words.js';
import type { Instant } from '../../core/base/instant.js';
import type { CaseVerified, NewPin, PinContent } from '../../core/wire/cases.js';
import { addChange } from '../alerts/service.js';
import { Failure, notFound } from '../failure.js';
import type { CaseDesk } from './desk.js';
import { holdsHash, type Freezer, type Frozen } from './freeze.js';
import {
  ADD_PIN,
  CHANGE_PIN,
  FIND_ALERT,
  HOLD_BACK_NOTES,
  PINS_OF_CASE,
  READ_PIN,
  REMOVE_FILE,
  REMOVE_PIN,
  SIZE_OF_CASE,
} from './sql.js';

/** A pin as it is kept. */
export interface PinRow {
  readonly id: number;
  readonly kind: PinKind;
  readonly ref: string;
  readonly title: string;
  readonly time: Instant | null;
  readonly who: string;
  readonly at: Instant;
  readonly why: string;
  readonly key: boolean;
  readonly marking: Marking | null;
  readonly sha256: string | null;
}

/** Things of one sort that a case shows. */
export const MAX_PARTS = 1000;
/** A case may hold so many pins, and its evidence so many characters: a report reads all of it. */
const MAX_PINS = 1000;
const MAX_EVIDENCE = 40_000_000;

/** What is pinned to cases: kept as it was, with a hash that tells whether it still is. */
export class CasePins {
  constructor(
    private readonly desk: CaseDesk,
    private readonly freezer: Freezer,
  ) {}

  /** @throws Failure 404 for what is not there; 422 for what is too large */
  freeze(pin: NewPin, signal: AbortSignal): Promise<Frozen> {
    return this.freezer.freeze(pin, signal);
  }

  /** Pins something as it is now; what is pinned already stays as it was. @throws Failure 404, 422 */
  async pin(id: number, pin: NewPin, who: string, signal: AbortSignal): Promise<void> {
    const frozen = await this.freezer.freeze(pin, signal);
    await this.desk.work(id, (client) => this.pinIn(client, id, pin, frozen, who));
  }

  /** Pins within work on a case. @throws Failure 404, 409 */
  async pinIn(
    client: PoolClient,
    id: number,
    pin: NewPin,
    frozen: Frozen | undefined,
    who: string,
  ): Promise<void> {
    const { rows } = await client.query<{ pins: number; characters: number }>(SIZE_OF_CASE, [id]);
    const { pins = 0, characters = 0 } = rows[0] ?? {};
    if (pins >= MAX_PINS)
      throw new Failure(
        'case-full',
        `A case holds at most ${MAX_PINS.toLocaleString('en')} pinned things. Pin a snapshot that shows several.`,
      );
    if (characters + (frozen?.text.length ?? 0) > MAX_EVIDENCE)
      throw new Failure(
        'case-full',
        `The evidence of a case holds at most ${MAX_EVIDENCE.toLocaleString('en')} characters. Take something off, or pin a snapshot of fewer rows.`,
      );
    const { rowCount } = await client.query(ADD_PIN, [
      id,
      pin.kind,
      pin.ref,
      pin.title,
      pin.time ?? null,
      who,
      pin.why ?? '',
      pin.key ?? false,
      frozen?.text ?? null,
      frozen?.sha256 ?? null,
      frozen === undefined ? null : JSON.stringify(frozen.says),
    ]);
    if (pin.kind !== 'alert' || rowCount === 0) return;
    const { rowCount: known } = await client.query(FIND_ALERT, [pin.ref]);
    if (known === 0) throw notFound(`alert ${pin.ref}`);
    await addChange(client, Number(pin.ref), who, `pinned to case ${id}`);
  }

  /** @throws Failure 404 */
  async changePin(
    id: number,
    pin: number,
    { why, key, marking }: { why?: string; key?: boolean; marking?: Marking | null },
  ): Promise<void> {
    await this.desk.work(id, async (client) => {
      const { rows } = await client.query<{ title: string }>(CHANGE_PIN, [
        id,
        pin,
        why ?? null,
        key ?? null,
        marking === undefined ? null : (marking ?? ''),
      ]);
      if (rows[0] === undefined) throw notFound(`pin ${pin} of this case`);
    });
  }

  /** Takes a pin off; a line says what it was. @throws Failure 404 */
  async unpin(id: number, pin: number, who: string): Promise<void> {
    await this.desk.work(id, async (client) => {
      await client.query(HOLD_BACK_NOTES, [pin, id]);
      const { rows } = await client.query<{
        title: string;
        kind: string;
        ref: string;
        sha256: string | null;
      }>(REMOVE_PIN, [pin, id]);
      const [gone] = rows;
      if (gone === undefined) throw notFound(`pin ${pin} of this case`);
      if (gone.kind === 'file') await client.query(REMOVE_FILE, [id, gone.ref]);
      const hash = gone.sha256 === null ? '' : `, SHA-256 ${gone.sha256}`;
      await this.desk.line(client, id, who, `took off the ${gone.kind} “${gone.title}”${hash}`);
    });
  }

  /** A pinned thing as it was. @throws Failure 404 */
  async content(id: number, pin: number): Promise<PinContent> {
    const { rows } = await this.desk.pool.query<{ frozen: string | null; sha256: string | null }>(READ_PIN, [
      id,
      pin,
    ]);
    const [found] = rows;
    if (found === undefined) throw notFound(`pin ${pin} of this case`);
    const frozen = thawed(found);
    const { facts, table, subjects } = saysOf(frozen);
    return {
      frozen,
      sha256: found.sha256,
      holds: holdsHash(found.frozen, found.sha256),
      facts: [...facts],
      table:
        table === null
          ? null
          : { columns: [...table.columns], rows: table.rows.map((row) => [...row]), total: table.total },
      subjects: [...subjects],
    };
  }

  /** Whether everything that is pinned has the hash that it was pinned with. @throws Failure 404 */
  async verify(id: number): Promise<CaseVerified> {
    await this.desk.requireCase(id);
    const { rows } = await this.desk.pool.query<PinRow>(PINS_OF_CASE, [id, MAX_PARTS]);
    const pins: CaseVerified['pins'] = [];
    // One after another: together they may be large.
    for (const { id: pin, title, sha256 } of rows) {
      const read = await this.desk.pool.query<{ frozen: string | null }>(READ_PIN, [id, pin]);
      pins.push({ id: pin, title, sha256, holds: holdsHash(read.rows[0]?.frozen ?? null, sha256) });
    }
    return { holds: pins.every(({ holds }) => holds !== false), pins };
  }
}
