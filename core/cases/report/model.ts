import { formatInstant, parseInstant, type Instant } from '../../base/instant.js';
import type { Json } from '../../base/json.js';
import { techniques } from '../../sigma/techniques.js';
import { saysOf, type EvidenceSays } from '../evidence.js';
import { mayLeave, stricter } from '../marking.js';
import { storyOf, type Gap } from '../story.js';
import type { CaseRole, Marking, PinKind } from '../words.js';

/** A pinned thing as it is kept. Times are ISO 8601. */
export interface CasePin {
  readonly kind: PinKind;
  readonly ref: string;
  readonly title: string;
  readonly time: string | null;
  readonly who: string;
  readonly at: string;
  readonly why: string;
  readonly key: boolean;
  /** Null where it is that of the case. */
  readonly marking: Marking | null;
  /** The canonical text of what was frozen, and its SHA-256 in hexadecimal; null for pins from before it was. */
  readonly frozen: string | null;
  readonly sha256: string | null;
}

/** A case with all that it holds. */
export interface CaseRecord {
  readonly number: string;
  readonly title: string;
  readonly state: 'open' | 'closed';
  readonly severity: string | null;
  readonly verdict: string | null;
  readonly owner: string;
  readonly created: string;
  readonly lede: string;
  readonly marking: Marking;
  readonly pins: readonly CasePin[];
  readonly notes: readonly {
    readonly who: string;
    readonly at: string;
    readonly text: string;
    readonly inReport: boolean;
    /** The title of the pin it is about. */
    readonly about: string | null;
  }[];
  readonly tasks: readonly {
    readonly what: string;
    readonly owner: string;
    readonly due: string | null;
    readonly done: string | null;
  }[];
  readonly subjects: readonly { readonly kind: string; readonly name: string; readonly role: CaseRole }[];
  readonly done: readonly {
    readonly what: string;
    readonly state: string;
    readonly askedBy: string;
    readonly decidedBy: string | null;
    readonly at: string;
  }[];
}

/** A thing of the story as the report tells it. */
export interface ReportStep {
  readonly pin: CasePin;
  readonly says: EvidenceSays;
  readonly time: string;
  readonly gap: Gap | null;
  readonly newDay: boolean;
}

/** What a report says, however it is written down. */
export interface Report {
  readonly record: CaseRecord;
  /** Whom it is for: what is marked more strictly is not in it. */
  readonly marking: Marking;
  readonly made: string;
  readonly lede: string;
  readonly steps: readonly ReportStep[];
  readonly notes: CaseRecord['notes'];
  readonly techniques: readonly { readonly id: string; readonly name: string }[];
  readonly leftOut: { readonly pins: number; readonly notes: number };
}

const timeOf = ({ time, at }: Pick<CasePin, 'time' | 'at'>): Instant => parseInstant(time ?? at) ?? 0;
const dayOf = (iso: string): string => iso.slice(0, 10);

/** What was frozen, read again; null where there is nothing, or it is no JSON. */
export function thawed({ frozen }: Pick<CasePin, 'frozen'>): Json | null {
  if (frozen === null) return null;
  try {
    return JSON.parse(frozen) as Json;
  } catch {
    return null;
  }
}

const quoted = (titles: readonly string[]): string =>
  titles.length < 2
    ? titles.map((title) => `“${title}”`).join('')
    : `${titles
        .slice(0, -1)
        .map((title) => `“${title}”`)
        .join(', ')} and “${titles.at(-1)}”`;
/** More than these no opening sentence holds. */
const MAX_IN_LEDE = 6;

/** An opening for a report, out of what is marked as key; the analyst writes a better one. */
export function proposedLede(steps: readonly ReportStep[]): string {
  const key = steps.filter(({ pin }) => pin.key);
  const told = key.length > 0 ? key : steps;
  const [first] = told;
  const last = told.at(-1);
  if (first === undefined || last === undefined) return 'Nothing is pinned to this case yet.';
  const names = told.slice(0, MAX_IN_LEDE).map(({ pin }) => pin.title);
  const more = told.length - names.length;
  const span =
    first === last
      ? `On ${dayOf(first.time)}`
      : `Between ${first.time.slice(0, 16).replace('T', ' ')} and ${last.time.slice(0, 16).replace('T', ' ')} UTC`;
  return `${span}: ${quoted(names)}${more > 0 ? `, and ${more} more` : ''}.`;
}

/**
 * A report of a case for readers of a marking. What is marked more strictly is left out, and counted.
 * @param marking of the readers; the case's own where it is stricter would leave out all that bears no marking of its own
 * @param now when it is made
 */
export function reportOf(record: CaseRecord, marking: Marking, now: Instant): Report {
  const readable = record.pins.filter((pin) => mayLeave(pin.marking ?? record.marking, marking));
  const steps = storyOf(readable, timeOf, (pin) => dayOf(pin.time ?? pin.at)).map(
    ({ one: pin, ...between }): ReportStep => ({
      pin,
      says: saysOf(thawed(pin)),
      time: pin.time ?? pin.at,
      ...between,
    }),
  );
  const titles = new Set(readable.map(({ title }) => title));
  // Of two that are called alike the note may be about the one that is left out.
  for (const pin of record.pins) if (!readable.includes(pin)) titles.delete(pin.title);
  const wholeMayLeave = mayLeave(record.marking, marking);
  const wanted = record.notes.filter(({ inReport }) => inReport);
  const notes = wanted.filter(({ about }) => (about === null ? wholeMayLeave : titles.has(about)));
  const ids = [...new Set(steps.flatMap(({ says }) => says.techniques))].sort();
  return {
    record: wholeMayLeave ? record : withoutWhatIsOfTheCase(record),
    marking,
    made: formatInstant(now),
    lede: (wholeMayLeave ? record.lede.trim() : '') || proposedLede(steps),
    steps,
    notes,
    techniques: ids.map((id) => ({ id, name: techniques[id.toLowerCase()] ?? '' })),
    leftOut: { pins: record.pins.length - readable.length, notes: wanted.length - notes.length },
  };
}

/** A case of which only things with a marking of their own may be read: nothing that was written on the case itself. */
const withoutWhatIsOfTheCase = (record: CaseRecord): CaseRecord => ({
  ...record,
  title: 'Parts of a case',
  severity: null,
  verdict: null,
  owner: '',
  lede: '',
  tasks: [],
  subjects: [],
  done: [],
});

/** The marking that a report bears: that of its strictest part. */
export const markingOfReport = ({ record, steps, marking }: Report): Marking =>
  steps.reduce(
    (found, { pin }) => stricter(found, pin.marking ?? record.marking),
    mayLeave(record.marking, marking) ? record.marking : marking,
  );
