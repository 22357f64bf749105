import { isJsonObject, type Json } from '../base/json.js';
import { memoOfText } from '../base/memo.js';
import { isColumnName } from '../events/columns.js';
import type { Event } from '../events/event.js';
import { parsePath } from '../recipes/field-path.js';
import type { Predicate } from '../predicate/predicate.js';
import { multiSearch } from '../text/multi-search.js';
import { anchorsOf, type Anchor } from '../predicate/index-atoms.js';
import { FieldMemory, lowerOrNull, textOrNull, type FieldSlot } from '../predicate/field-memory.js';

/** Longer values seldom come again, and are not remembered. */
const REMEMBERED_SIGNS = 80;

interface IndexedField {
  readonly slot: FieldSlot;
  /** The rules that a text of this field, in small letters, makes worth asking. */
  readonly rulesOf: (text: string) => readonly number[];
}

const NO_FIELDS: readonly IndexedField[] = [];

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
  /** Columns, which any event may have. */
  private readonly columns: readonly IndexedField[];
  /** The source's own fields by the key of a record under which they can stand: packs name far more than any one has. */
  private readonly byKey: ReadonlyMap<string, readonly IndexedField[]>;
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
    const columns: IndexedField[] = [];
    const byKey = new Map<string, IndexedField[]>();
    for (const [field, anchors] of byField) {
      const indexed = indexField(memory.slot(field), anchors);
      if (isColumnName(field)) columns.push(indexed);
      else
        for (const key of new Set([field, parsePath(field)[0] ?? field])) {
          const known = byKey.get(key);
          if (known === undefined) byKey.set(key, [indexed]);
          else known.push(indexed);
        }
    }
    this.columns = columns;
    this.byKey = byKey;
    this.unanchored = unanchored;
    this.seen = new Uint32Array(predicates.length);
  }

  /** Positions of the rules that are worth asking about an event, each once. */
  candidates(event: Event): readonly number[] {
    let found: number[] | null = null;
    this.turn++;
    for (const field of this.columns) found = this.addField(found, field, event);
    if (this.byKey.size > 0 && isJsonObject(event.original))
      for (const key of Object.keys(event.original))
        for (const field of this.byKey.get(key) ?? NO_FIELDS) found = this.addField(found, field, event);
    return found === null ? this.unanchored : [...this.unanchored, ...found];
  }

  private addField(found: number[] | null, { slot, rulesOf }: IndexedField, event: Event): number[] | null {
    const value = slot.of(event);
    if (value === null) return found;
    if (!Array.isArray(value)) {
      const text = slot.loweredOf(event);
      return text === null ? found : this.add(found, rulesOf(text));
    }
    let all = found;
    for (const element of value as readonly Json[]) {
      const text = lowerOrNull(textOrNull(element));
      if (text !== null) all = this.add(all, rulesOf(text));
    }
    return all;
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
