import { createHash } from 'node:crypto';
import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { Json } from '../../core/base/json.js';
import { canonicalJson } from '../../core/cases/canonical.js';
import { saysOf, type EvidenceSays } from '../../core/cases/evidence.js';
import type { NewPin } from '../../core/wire/cases.js';
import type { Alerts } from '../alerts/service.js';
import { Failure, notFound } from '../failure.js';
import type { EventReader } from '../hunts/event-reader.js';
import type { Snapshots } from '../snapshots/service.js';
import { READ_RESPONSE, TEXT_OF_VERSION } from './sql.js';

interface ResponseRow {
  readonly asked: Instant;
  readonly decided: Instant | null;
}

/** Characters of one piece of evidence; what is larger is a snapshot of its own that should be cut first. */
const MAX_FROZEN = 4_000_000;
/** Names that one piece of evidence puts into its case. */
const MAX_NAMED = 100;

/** A thing as it was, as one text, the hash that tells whether it still is, and what it says. */
export interface Frozen {
  readonly text: string;
  readonly sha256: string;
  readonly says: PinSays;
}

/** What evidence says in a line: all that a story shows of it. */
export type PinSays = Pick<EvidenceSays, 'outcome' | 'level' | 'place' | 'subjects' | 'techniques'>;

/** What is kept beside evidence, so that a story is shown without reading it. */
export function briefOf(frozen: Json | null): PinSays {
  const { outcome, level, place, subjects, techniques } = saysOf(frozen);
  return { outcome, level, place, subjects: subjects.slice(0, MAX_NAMED), techniques };
}

/** SHA-256 (FIPS 180-4) of a text in UTF-8, in hexadecimal. */
export const sha256Of = (content: string | Buffer): string =>
  createHash('sha256').update(content).digest('hex');

/** Whether a frozen text has the hash that it was pinned with; null where nothing was frozen. */
export const holdsHash = (text: string | null, sha256: string | null): boolean | null =>
  text === null || sha256 === null ? null : sha256Of(text) === sha256;

/** Copies what is pinned whole, so that nothing that happens to the original changes the evidence. */
export class Freezer {
  constructor(
    private readonly pool: Pool,
    private readonly events: EventReader,
    private readonly alerts: Alerts,
    private readonly snapshots: Snapshots,
  ) {}

  /** @throws Failure 404 for what is not there; 422 for what is too large */
  async freeze(pin: Pick<NewPin, 'kind' | 'ref' | 'time'>, signal: AbortSignal): Promise<Frozen> {
    // What goes over the wire is JSON; a round through text takes away what is undefined.
    const plain = JSON.parse(JSON.stringify(await this.read(pin, signal))) as Json;
    const text = canonicalJson(plain);
    if (text.length > MAX_FROZEN)
      throw new Failure(
        'result-too-large',
        `This holds more than ${MAX_FROZEN.toLocaleString('en')} characters. Keep a snapshot of fewer rows, and pin that.`,
      );
    return { text, sha256: sha256Of(text), says: briefOf(plain) };
  }

  private async read(
    { kind, ref, time }: Pick<NewPin, 'kind' | 'ref' | 'time'>,
    signal: AbortSignal,
  ): Promise<unknown> {
    switch (kind) {
      case 'event':
        return { event: await this.events.event(ref, time ?? null, signal) };
      case 'alert': {
        const found = await this.alerts.one(numberOf(kind, ref), signal);
        const { rows } = await this.pool.query<{ text: string }>(TEXT_OF_VERSION, [
          found.rule,
          found.ruleVersion,
        ]);
        const {
          id,
          title,
          level,
          subject,
          subjectFields,
          matches,
          firstEvent,
          lastEvent,
          evidence,
          evidenceTotal,
          why,
        } = found;
        return {
          alert: {
            id,
            title,
            level,
            subject,
            subjectFields,
            matches,
            firstEvent,
            lastEvent,
            evidence,
            evidenceTotal,
            why,
          },
          rule: {
            id: found.rule,
            version: found.ruleVersion,
            title,
            text: rows[0]?.text ?? null,
            tags: tagsOf(rows[0]?.text ?? ''),
          },
        };
      }
      case 'snapshot':
        return { snapshot: await this.snapshots.one(numberOf(kind, ref)) };
      case 'hunt':
        return { hunt: { address: ref } };
      case 'response': {
        const { rows } = await this.pool.query<ResponseRow>(READ_RESPONSE, [ref]);
        const [found] = rows;
        if (found === undefined) throw notFound(`response ${ref}`);
        const { asked, decided, ...rest } = found;
        return {
          response: {
            ...rest,
            asked: formatInstant(asked),
            decided: decided === null ? null : formatInstant(decided),
          },
        };
      }
      case 'file':
        throw new Failure('not-readable', 'A file is sent to the case itself: POST /cases/NUMBER/files.');
    }
  }
}

/** The number that an alert or a snapshot is pinned by. @throws Failure 404 for what is none */
function numberOf(kind: string, ref: string): number {
  if (!/^[1-9]\d{0,14}$/.test(ref)) throw notFound(`${kind} of this number`);
  return Number(ref);
}

/** The tags of techniques that a rule's text bears. */
const tagsOf = (text: string): string[] => [...new Set(text.match(/\battack\.t\d{4}(?:\.\d{3})?\b/gi) ?? [])];
