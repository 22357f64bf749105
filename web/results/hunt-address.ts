import type { Question } from '../../core/wire/paths.js';
import { writeBeam } from '../beam/beam.js';

/** What of a hunt stands in the address besides the Beam: enough for a colleague to see the same. */
export interface HuntAddress {
  readonly text: string;
  /** What its blanks are filled with, by name. */
  readonly blanks: Readonly<Record<string, string>>;
  /** The line of the step whose rows are looked at; null for the whole hunt. */
  readonly peek: number | null;
  /** The event that is read. */
  readonly readId: string | null;
  readonly view: string | null;
  /** The columns that are shown; null for the usual ones. */
  readonly columns: readonly string[] | null;
  /** The field that splits the bars of the timeline; null for the outcome. */
  readonly split: string | null;
  /** Whether the period before is drawn behind the timeline. */
  readonly before: boolean;
  /** The point of the path that was reached; null where a path begins. */
  readonly at: number | null;
  /** The step of the guided first hunt that is shown; null without the guide. */
  readonly guide: number | null;
}

export const FIRST_HUNT = 'from signin';
const BLANK = 'p.';

/** Names of columns as they stand in an address; none for what is no list. */
function readColumns(text: string): string[] {
  try {
    const read: unknown = JSON.parse(text);
    return Array.isArray(read) ? read.filter((name): name is string => typeof name === 'string') : [];
  } catch {
    return [];
  }
}

/** Reads a hunt off an address. */
export function readHuntAddress(parameters: URLSearchParams): HuntAddress {
  const whole = (name: string): number | null => {
    const number = Number(parameters.get(name) ?? '');
    return Number.isInteger(number) && number > 0 ? number : null;
  };
  return {
    text: parameters.get('q') ?? FIRST_HUNT,
    blanks: Object.fromEntries(
      [...parameters].flatMap(([name, value]) =>
        name.startsWith(BLANK) ? [[name.slice(BLANK.length), value]] : [],
      ),
    ),
    peek: whole('peek'),
    readId: parameters.get('event'),
    view: parameters.get('view'),
    columns: parameters.has('columns') ? readColumns(parameters.get('columns') ?? '') : null,
    split: parameters.get('split'),
    before: parameters.get('before') === '1',
    at: whole('at'),
    guide: whole('guide'),
  };
}

/** The address with a change of the hunt in it; what is null is taken out. */
export function writeHuntAddress(parameters: URLSearchParams, change: Partial<HuntAddress>): URLSearchParams {
  const next = new URLSearchParams(parameters);
  const put = (name: string, value: string | number | null | undefined): void => {
    if (value === undefined) return;
    if (value === null) next.delete(name);
    else next.set(name, String(value));
  };
  put('q', change.text);
  put('peek', change.peek);
  put('event', change.readId);
  put('view', change.view);
  put('columns', change.columns == null ? change.columns : JSON.stringify(change.columns));
  put('split', change.split);
  put('before', change.before === undefined ? undefined : change.before ? 1 : null);
  put('at', change.at);
  put('guide', change.guide);
  if (change.blanks !== undefined) {
    for (const name of [...next.keys()]) if (name.startsWith(BLANK)) next.delete(name);
    for (const [name, value] of Object.entries(change.blanks))
      if (value !== '') next.set(BLANK + name, value);
  }
  return next;
}

/** The address that asks a question again, with the Beam it was asked under. */
export function addressOfQuestion(parameters: URLSearchParams, question: Question): URLSearchParams {
  const { text, window, last, parameters: blanks = {}, carried = [] } = question;
  const lit = writeBeam(writeBeam(parameters, last === undefined ? window : { last }), { carried });
  return writeHuntAddress(lit, { text, blanks, peek: null, readId: null });
}
