import { lowerText } from '../text/letters.js';
import { isJsonObject, type Json } from '../base/json.js';
import type { Event } from '../events/event.js';
import { fieldLookup, type FieldLookup } from './field-lookup.js';
import { jsonToText } from '../text/json-text.js';

/** A value as text tests see it: objects are no text. */
export const textOrNull = (value: Json): string | null =>
  value === null || isJsonObject(value) ? null : jsonToText(value);

/** In small letters; null stays null. */
export const lowerOrNull = (text: string | null): string | null => (text === null ? null : lowerText(text));

/** One field of the event at hand, looked up once however many rules ask for it. */
export class FieldSlot {
  private turn = -1;
  private value: Json = null;
  private textTurn = -1;
  private text: string | null = null;

  constructor(
    private readonly memory: FieldMemory,
    private readonly lookup: FieldLookup,
  ) {}

  of(event: Event): Json {
    const turn = this.memory.turnOf(event);
    if (this.turn !== turn) {
      this.value = this.lookup(event);
      this.turn = turn;
    }
    return this.value;
  }

  /** The value as text in small letters; null where it is none. */
  loweredOf(event: Event): string | null {
    const turn = this.memory.turnOf(event);
    if (this.textTurn !== turn) {
      this.text = lowerOrNull(textOrNull(this.of(event)));
      this.textTurn = turn;
    }
    return this.text;
  }
}

/**
 * The fields that a set of rules asks for. Rules that share a memory look each field of an event up once between them,
 * as long as they are asked about one event after another and not one rule after another.
 */
export class FieldMemory {
  private readonly slots = new Map<string, FieldSlot>();
  private event: Event | null = null;
  private turn = 0;

  slot(field: string): FieldSlot {
    let slot = this.slots.get(field);
    if (slot === undefined) {
      slot = new FieldSlot(this, fieldLookup(field));
      this.slots.set(field, slot);
    }
    return slot;
  }

  /** A number that changes whenever another event is looked at. */
  turnOf(event: Event): number {
    if (event !== this.event) {
      this.event = event;
      this.turn++;
    }
    return this.turn;
  }
}
