import { compareCodePoints } from '../base/code-points.js';
import type { Instant } from '../base/instant.js';

/** Texts of one template. */
export interface Shape {
  readonly template: string;
  readonly events: number;
  /** Of all texts, 0..1. */
  readonly share: number;
  readonly first: Instant | null;
  readonly last: Instant | null;
  /** The earliest text. */
  readonly example: string;
}

interface Gathered {
  readonly words: readonly string[];
  events: number;
  first: Instant | null;
  last: Instant | null;
  example: string;
  /** Texts come in the order they happened; of several templates the example of the earliest is kept. */
  readonly order: number;
}

/** A place where more different words than this stand holds a value, not a word of the template. */
const MAX_WORDS = 10;
const ANY = '*';
const WHITE = /[ \t\n\v\f\r]+/;

/** A word that is a value by its looks becomes `*`; one like `port=22` keeps what names it. */
function generalise(word: string): string {
  const equals = word.indexOf('=');
  if (equals >= 0) return `${word.slice(0, equals)}=${ANY}`;
  return /[0-9@/\\]/.test(word) ? ANY : word;
}

/**
 * Groups texts by template: words that look like values become `*`, then, among templates of equally many words
 * that differ in one place only, a place where more than ten different words stand becomes `*`, the largest group
 * first. A plain form of log template mining as surveyed by P. He, J. Zhu et al., 2016.
 * Memory grows with the number of different templates, not with the number of texts.
 */
export class Shapes {
  private readonly gathered = new Map<string, Gathered>();
  private texts = 0;

  /** Adds a text. Texts must come in the order they happened. @param time when, microseconds; null where unknown */
  add(text: string, time: Instant | null, events = 1, last: Instant | null = time): void {
    this.texts += events;
    const words = text
      .split(WHITE)
      .filter((word) => word !== '')
      .map(generalise);
    const template = words.join(' ');
    const known = this.gathered.get(template);
    if (known === undefined) {
      this.gathered.set(template, {
        words,
        events,
        first: time,
        last,
        example: text,
        order: this.gathered.size,
      });
    } else {
      known.events += events;
      known.first ??= time;
      known.last = laterOf(known.last, last);
    }
  }

  /** How many different templates are held before any are put together. */
  get size(): number {
    return this.gathered.size;
  }

  /** The templates found, the rarest first, then by template. */
  found(): Shape[] {
    const byLength = new Map<number, Gathered[]>();
    for (const one of this.gathered.values()) {
      const same = byLength.get(one.words.length);
      if (same === undefined) byLength.set(one.words.length, [one]);
      else same.push(one);
    }
    return [...byLength.values()]
      .flatMap(putTogether)
      .map(({ words, events, first, last, example }) => ({
        template: words.join(' '),
        events,
        share: this.texts === 0 ? 0 : events / this.texts,
        first,
        last,
        example,
      }))
      .sort((a, b) => a.events - b.events || compareCodePoints(a.template, b.template));
  }
}

const laterOf = (a: Instant | null, b: Instant | null): Instant | null =>
  a === null ? b : b === null ? a : Math.max(a, b);

/** Templates that are alike but for one place. */
interface Group {
  readonly place: number;
  readonly members: readonly Gathered[];
}

/** Puts templates of equally many words together until no place holds too many different words. */
function putTogether(templates: readonly Gathered[]): readonly Gathered[] {
  let current = templates;
  for (;;) {
    const group = largestGroup(current);
    if (group === null) return current;
    const members = new Set(group.members);
    const merged = mergeAll(group);
    current = [...current.filter((one) => !members.has(one)), merged];
  }
}

function largestGroup(templates: readonly Gathered[]): Group | null {
  if (templates.length <= MAX_WORDS) return null;
  let best: Group | null = null;
  const places = templates[0]?.words.length ?? 0;
  for (let place = 0; place < places; place++) {
    const groups = new Map<string, Gathered[]>();
    for (const one of templates) {
      const name = one.words.map((word, i) => (i === place ? '' : word)).join(' ');
      const same = groups.get(name);
      if (same === undefined) groups.set(name, [one]);
      else same.push(one);
    }
    for (const members of groups.values()) {
      if (members.length > MAX_WORDS && members.length > (best?.members.length ?? 0))
        best = { place, members };
    }
  }
  return best;
}

function mergeAll({ place, members }: Group): Gathered {
  const earliest = members.reduce((a, b) => (b.order < a.order ? b : a));
  return {
    words: earliest.words.map((word, i) => (i === place ? ANY : word)),
    events: members.reduce((sum, { events }) => sum + events, 0),
    first: earliest.first,
    last: members.reduce<Instant | null>((last, one) => laterOf(last, one.last), null),
    example: earliest.example,
    order: earliest.order,
  };
}
