import type { Instant } from '../base/instant.js';
import type { SubjectKind } from './kinds.js';
import type { Joined } from './subject.js';

// A subject may have several names and ids. What belongs together is told by lists, by events that carry a name and an
// id at once, and by people; where a name or id went from one subject to another, it belonged to each while it was seen
// there, and is told.

/** A name and an id, or a host and an address, in one event or in many of one day. */
export interface SeenTogether {
  readonly name: string;
  readonly other: string;
  readonly first: Instant;
  readonly last: Instant;
}

/** What a list says of a subject: its key and what else the row calls it. */
export interface ListedName {
  readonly list: string;
  readonly name: string;
  readonly also: readonly { readonly column: string; readonly value: string }[];
}

/** What a person said about two names. */
export interface Said {
  readonly name: string;
  readonly other: string;
  readonly joined: boolean;
  readonly reason: string;
  readonly by: string;
}

export interface KnownAs extends Joined {
  /** Who says so. */
  readonly by: 'events' | 'list' | 'person';
  /** The list and its column, the person and the reason, or the id that both names were seen with. */
  readonly where: string;
}

/** Something that is near, and not joined. */
export interface Told {
  readonly value: string;
  readonly why: 'moved' | 'shared' | 'split';
  readonly words: string;
}

export interface Identity {
  readonly kind: SubjectKind;
  readonly name: string;
  readonly names: readonly KnownAs[];
  readonly told: readonly Told[];
}

export interface IdentityFacts {
  /** Every sighting of the name with an id, and of those ids with any name. */
  readonly seen: readonly SeenTogether[];
  readonly listed: readonly ListedName[];
  readonly said: readonly Said[];
}

/** A stretch in which an id was seen with one name only. */
export interface Stretch {
  readonly name: string;
  readonly from: Instant;
  readonly to: Instant;
}

/**
 * Whose an id or address was when: its sightings in order of time, those of one name in a row taken together. Sightings
 * of different names may overlap within a day; each keeps its own.
 */
export function stretchesOf(seen: readonly SeenTogether[]): Stretch[] {
  const stretches: { name: string; from: Instant; to: Instant }[] = [];
  for (const { name, first, last } of [...seen].sort(
    (a, b) => a.first - b.first || a.last - b.last || (a.name < b.name ? -1 : 1),
  )) {
    const before = stretches.at(-1);
    if (before?.name === name) before.to = Math.max(before.to, last);
    else stretches.push({ name, from: first, to: last });
  }
  return stretches;
}

/**
 * The names and ids of a subject.
 *
 * 1. An id seen with the name belongs to it in the stretches in which it was seen with it.
 * 2. Another name of the same id is a former or later name (a user was renamed) where the id went over once, and neither
 *    name was ever seen with another id. Anything else — an id given to somebody else, two names at once — is told.
 * 3. What a list says holds always. 4. What a person says holds over all of it.
 */
export function identityOf(kind: SubjectKind, name: string, facts: IdentityFacts): Identity {
  const names: KnownAs[] = [];
  const told: Told[] = [];
  const said = new Map(facts.said.map((one) => [one.name === name ? one.other : one.name, one]));
  const add = (one: KnownAs): void => {
    const word = said.get(one.value);
    if (one.value === name) return;
    if (word?.joined === false) {
      if (!told.some(({ value, why }) => value === one.value && why === 'split'))
        told.push({ value: one.value, why: 'split', words: `split off by ${word.by}: ${word.reason}` });
      return;
    }
    names.push(one);
  };
  for (const { list, name: key, also } of facts.listed) {
    if (key !== name) add({ value: key, from: null, to: null, by: 'list', where: list });
    for (const { column, value } of also)
      add({ value, from: null, to: null, by: 'list', where: `${list}, ${column}` });
  }
  const idsOf = groupBy(facts.seen, ({ name: one }) => one);
  for (const [id, seen] of groupBy(facts.seen, ({ other }) => other)) {
    const stretches = stretchesOf(seen);
    if (!stretches.some((one) => one.name === name)) continue;
    for (const { name: owner, from, to } of stretches)
      if (owner === name) add({ value: id, from, to, by: 'events', where: 'seen together' });
    const others = [...new Set(stretches.map((one) => one.name))].filter((one) => one !== name);
    for (const other of others) {
      const [first, second, ...more] = stretches;
      const isRenamed =
        kind === 'user' &&
        more.length === 0 &&
        first !== undefined &&
        second !== undefined &&
        first.to < second.from &&
        new Set(idsOf.get(name)?.map((one) => one.other)).size === 1 &&
        new Set(idsOf.get(other)?.map((one) => one.other)).size === 1;
      const theirs = stretches.filter((one) => one.name === other);
      if (isRenamed)
        for (const { from, to } of theirs)
          add({ value: other, from, to, by: 'events', where: `the same id ${id}` });
      else
        told.push({
          value: other,
          why: stretches.some((one, i) => i > 0 && one.from <= (stretches[i - 1]?.to ?? 0))
            ? 'shared'
            : 'moved',
          words: `${id} was also seen with ${other}`,
        });
    }
  }
  for (const { name: one, other, joined, reason, by } of facts.said)
    if (joined) {
      const value = one === name ? other : one;
      if (value !== name)
        names.push({ value, from: null, to: null, by: 'person', where: `${by}: ${reason}` });
    }
  return { kind, name, names, told };
}

function groupBy<T>(items: readonly T[], keyOf: (item: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const item of items) {
    const group = groups.get(keyOf(item));
    if (group === undefined) groups.set(keyOf(item), [item]);
    else group.push(item);
  }
  return groups;
}
