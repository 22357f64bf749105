import { DAY, type Instant, MAX_DURATION, parseDuration } from '../base/instant.js';
import { localDay, zoneName } from '../text/zones.js';
import type { Window } from '../wick/plan.js';
import { compileHunt, asksOf } from '../wick/compile.js';
import { type Carried, readCarriedCondition } from './carried.js';
import type { Card, CardWindow } from './board.js';

/** What a whole board is looked at under. */
export interface BoardView {
  readonly window: Window;
  /** IANA name: says where a day begins. */
  readonly zone: string;
  readonly carried: readonly string[];
  readonly inputs: Readonly<Record<string, string>>;
}

/** What one card asks. */
export interface CardQuestion {
  readonly text: string;
  readonly window: Window;
  readonly parameters: Readonly<Record<string, string>>;
  readonly carried: readonly string[];
  /** Values that the Beam carries and the card counts by: it shows all of them, and marks these. */
  readonly marked: readonly Carried[];
}

/** How long a duration such as `24h` is, microseconds; at most as long as anything is kept. */
export const lengthOf = (last: string): number => Math.min(MAX_DURATION, parseDuration(last) ?? DAY);

/** The window of a card: its own, which ends with the Beam's, or the Beam's. @param parse reads ISO 8601 */
export function windowOfCard(
  own: CardWindow | undefined,
  { window, zone }: BoardView,
  parse: (text: string) => Instant | null,
): Window {
  if (own === undefined) return window;
  if ('last' in own) {
    if (own.last === 'day') return localDay(window.to - 1, zoneName(zone) ?? 'UTC');
    return { from: window.to - lengthOf(own.last), to: window.to };
  }
  const from = parse(own.from);
  const to = parse(own.to);
  return from === null || to === null ? window : { from, to };
}

/** The fields that a hunt counts by, where its rows are a tally of events; none where it cannot be read. */
function countedBy(text: string, view: BoardView, parameters: Readonly<Record<string, string>>): Set<string> {
  try {
    const plan = compileHunt(text, { window: view.window, now: view.window.to, parameters, writing: true });
    const tally = plan.steps.find(({ step }) => step === 'tally');
    if (tally?.step !== 'tally') return new Set();
    return new Set(tally.keys.flatMap(({ expr }) => (expr.op === 'column' ? [expr.slot] : [])));
  } catch {
    // Its mistake is told when it is asked.
    return new Set();
  }
}

/**
 * What a card asks under a Beam: only the inputs that its hunt names, and of what is carried only what does not stand
 * for one of the values that it counts by.
 * @param text the hunt of the card
 */
export function questionOf(
  card: Card,
  text: string,
  view: BoardView,
  parse: (text: string) => Instant | null,
): CardQuestion {
  const asked = new Set(asksOf(text).map(({ name }) => name.toLowerCase()));
  const parameters = Object.fromEntries(
    Object.entries(view.inputs).filter(([name, value]) => value !== '' && asked.has(name.toLowerCase())),
  );
  const counted = view.carried.length === 0 ? new Set<string>() : countedBy(text, view, parameters);
  const marked: Carried[] = [];
  const carried = view.carried.filter((condition) => {
    const read = readCarriedCondition(condition);
    if (read === null || !counted.has(read.field)) return true;
    marked.push(read);
    return false;
  });
  return { text, window: windowOfCard(card.window, view, parse), parameters, carried, marked };
}
