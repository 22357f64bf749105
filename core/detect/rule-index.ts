import type { Json } from '../base/json.js';
import { memoOfText } from '../base/memo.js';
import type { Event } from '../events/event.js';
import type { Predicate } from '../sigma/predicate.js';
import { multiSearch } from '../text/multi-search.js';
import { anchorsOf, type Anchor } from './anchors.js';
import { FieldMemory, textOrNull, type FieldSlot } from './field-memory.js';

/** Longer values seldom come again, and are not remembered. */
const REMEMBERED_SIGNS = 80;

interface IndexedField {
  readonly slot: FieldSlot;
  /** The rules that a text of this field, in small letters, makes worth asking. */
  readonly rulesOf: (text: string) => readonly number[];
}

function indexField(slot: FieldSlot, anchors: readonly (Anchor & { rule: number })[]): IndexedField {
  const whole = new Map<string, number[]>();
  const held = anchors.filter(({ how }) => how === 'holds');
  for (const { rule, text } of anchors.filter(({ how }) => how === 'is')) {
    const rules = whole.get(text);
    if (rules === undefined) whole.set(text, [rule]);
    else rules.push(rule);
  }
  const search = held.length === 0 ? null : multiSearch(held.map(({ text }) => text));
  const look = (text: string): readonly number[] => {
    const found = new Set(whole.get(text));
    search?.(text, (position) => found.add(held[position]?.rule ?? -1));
    return [...found];
  };
  const remembered = memoOfText(look);
  return { slot, rulesOf: (text) => (text.length <= REMEMBERED_SIGNS ? remembered(text) : look(text)) };
}

/**
 * Says which of many rules an event can meet at all, so that the cost of an event hardly grows with the number of
 * rules: of each rule something simple is known that one of the event's values must be or hold.
 */
export class RuleIndex {
  private readonly fields: readonly IndexedField[];
  /** Rules of which nothing simple is known: they are always worth asking. */
  private readonly unanchored: readonly number[];
  private readonly seen: Uint32Array;
  private turn = 0;

  /** @param memory shared with the rules, so that an event's fields are looked up once */
  constructor(predicates: readonly Predicate[], memory = new FieldMemory()) {
    const byField = new Map<string, (Anchor & { rule: number })[]>();
    const unanchored: number[] = [];
    predicates.forEach((predicate, rule) => {
      const anchors = anchorsOf(predicate);
      if (anchors === null) unanchored.push(rule);
      for (const anchor of anchors ?? []) {
        const of = byField.get(anchor.field);
        if (of === undefined) byField.set(anchor.field, [{ ...anchor, rule }]);
        else of.push({ ...anchor, rule });
      }
    });
    this.fields = Array.from(byField, ([field, anchors]) => indexField(memory.slot(field), anchors));
    this.unanchored = unanchored;
    this.seen = new Uint32Array(predicates.length);
  }

  /** Positions of the rules that are worth asking about an event, each once. */
  candidates(event: Event): readonly number[] {
    let found: number[] | null = null;
    this.turn++;
    for (const { slot, rulesOf } of this.fields) {
      const value = slot.of(event);
      if (value === null) continue;
      if (Array.isArray(value)) {
        for (const element of value as readonly Json[]) {
          const text = textOrNull(element)?.toLowerCase();
          if (text !== undefined) found = this.add(found, rulesOf(text));
        }
        continue;
      }
      const text = slot.loweredOf(event);
      if (text !== null) found = this.add(found, rulesOf(text));
    }
    return found === null ? this.unanchored : [...this.unanchored, ...found];
  }

  private add(found: number[] | null, rules: readonly number[]): number[] | null {
    if (rules.length === 0) return found;
    const all = found ?? [];
    for (const rule of rules) {
      if (this.seen[rule] === this.turn) continue;
      this.seen[rule] = this.turn;
      all.push(rule);
    }
    return all;
  }
}
