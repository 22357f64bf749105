import { attributeNames } from '../event-fields.js';
import type { BinaryXml, ElementNode, Instance, Part, Value } from './binary-xml.js';
import { cleanText, cleanValueText, hasRoom, valueTexts } from './values.js';

// Fields of a record straight from its values: the template of a chunk is looked through once, and then says of each record
// which value is which field. Whatever is not written as nearly all records are (a text beside elements, records within
// texts, more than one root) has no plan, and is read by way of its XML; both ways give the same fields.

/** Fields by their names; nothing for a lone dash. */
export type RecordFields = Record<string, string | null>;

/** A piece of a text: as it stands in the template, or a value of the record. */
type Piece = { readonly text: string } | { readonly value: number; readonly optional: boolean };

interface Field {
  /** Which kind of field: an attribute of the system part, or the text of an element without elements. */
  readonly of: 'attribute' | 'element';
  /** The name of the field, or of the element. */
  readonly name: string;
  /** The `Name` of a `Data` element, which names its field; null where it has none. */
  readonly label: readonly Piece[] | null;
  readonly isData: boolean;
  readonly pieces: readonly Piece[];
  /** The optional value without which the element is left out; −1 for none. */
  readonly unless: number;
  /** How deep the element stands within its template; the root is 1. */
  readonly depth: number;
}

interface Plan {
  readonly root: string;
  readonly fields: readonly Field[];
  /** Characters of its XML besides the values. */
  readonly size: number;
  /** How often one value is written at most. */
  readonly uses: number;
  /** Values that stand where no element may: in an attribute, beside a text, in what is named by its own `Name`. */
  readonly inTexts: ReadonlySet<number>;
}

/** Templates with more are read by way of XML, which counts its steps. */
const MAX_PIECES = 2000;
/** Elements that stand deeper are left to the way of XML, which says what is too deep. */
const DEEPEST = 16;
/** Below this nothing of a record is a field: `Event`, `System`. */
const FIRST_DEPTH = 3;
const MAX_LENGTH = 1 << 20;
/** A character of a value becomes at most so many of XML. */
const SWELL = 6;

const PLAIN_NAME = /^[A-Za-z_][\w.-]{0,199}$/;

/** What has no plan. */
class Irregular extends Error {}

function piecesOf(parts: readonly Part[]): Piece[] {
  return parts.map((part) => {
    if (part.part === 'text') return { text: part.plain };
    if (part.part === 'value') return { value: part.at, optional: part.optional };
    throw new Irregular();
  });
}

class PlanMaker {
  readonly fields: Field[] = [];
  size = 0;
  pieces = 0;
  private readonly uses = new Map<number, number>();
  private readonly inTexts = new Set<number>();

  private count(pieces: readonly Piece[], mayNest = false): void {
    this.pieces += pieces.length + 1;
    if (this.pieces > MAX_PIECES) throw new Irregular();
    for (const piece of pieces)
      if ('text' in piece) this.size += SWELL * piece.text.length;
      else {
        this.uses.set(piece.value, (this.uses.get(piece.value) ?? 0) + 1);
        if (!mayNest || pieces.length > 1) this.inTexts.add(piece.value);
      }
  }

  element({ name, attributes, children }: ElementNode, depth: number): void {
    if (depth > DEEPEST || !PLAIN_NAME.test(name)) throw new Irregular();
    this.size += 2 * name.length + 5;
    const only = children.length === 1 ? children[0] : undefined;
    const unless = only?.part === 'value' && only.optional ? only.at : -1;
    const wanted = Object.hasOwn(attributeNames, name) ? attributeNames[name] : undefined;
    let label: Piece[] | null = null;
    const seen = new Set<string>();
    for (const attribute of attributes) {
      if (seen.has(attribute.name) || attribute.name === '') throw new Irregular();
      seen.add(attribute.name);
      const pieces = piecesOf(attribute.parts);
      this.size += attribute.name.length + 4;
      this.count(pieces);
      if (attribute.name === 'Name') label = pieces;
    }
    // In the order in which they are known by, as whoever reads the XML meets them.
    for (const [attribute, as] of Object.entries(wanted ?? {})) {
      const found = attributes.find((one) => one.name === attribute);
      if (found !== undefined)
        this.fields.push({
          of: 'attribute',
          name: as,
          label: null,
          isData: false,
          pieces: piecesOf(found.parts),
          unless,
          depth,
        });
    }
    const isData = name === 'Data';
    if (children.some(({ part }) => part === 'element')) {
      if (isData) throw new Irregular();
      for (const child of children) {
        if (child.part !== 'element') throw new Irregular();
        this.element(child, depth + 1);
      }
      return;
    }
    const pieces = piecesOf(children);
    this.count(pieces, !isData);
    this.fields.push({ of: 'element', name, label: isData ? label : null, isData, pieces, unless, depth });
  }

  plan(root: string): Plan {
    const { fields, size, inTexts } = this;
    return { root, fields, size, uses: Math.max(1, ...this.uses.values()), inTexts };
  }
}

function planOf(parts: readonly Part[]): Plan | null {
  const [root] = parts;
  if (root?.part !== 'element' || parts.length !== 1) return null;
  const maker = new PlanMaker();
  try {
    maker.element(root, 1);
  } catch (error) {
    if (error instanceof Irregular) return null;
    throw error;
  }
  return maker.plan(root.name);
}

/** Reads the fields of the records of one chunk. */
export class FieldReader {
  private readonly plans = new Map<readonly Part[], Plan | null>();
  private unnamed = 0;
  private budget = 0;

  constructor(
    private readonly xml: BinaryXml,
    private readonly bytes: Uint8Array,
    private readonly view: DataView,
  ) {}

  /**
   * The fields of a record's fragment; null for what is read by way of its XML.
   * @throws EvtxError, RangeError as the way of XML does
   */
  fieldsOf(at: number, end: number): RecordFields | null {
    this.unnamed = 0;
    this.budget = MAX_LENGTH;
    const fields: RecordFields = {};
    try {
      return this.fragment(at, end, true, 0, fields) ? fields : null;
    } catch (error) {
      if (error instanceof Irregular) return null;
      throw error;
    }
  }

  /** @returns whether there was an element in it */
  private fragment(at: number, end: number, ids: boolean, base: number, into: RecordFields): boolean {
    const { parts } = this.xml.fragment(at, end, ids, base);
    if (base > DEEPEST || (base === 0 && parts.length !== 1)) throw new Irregular();
    for (const part of parts) {
      const instance: Instance =
        part.part === 'instance' ? part.instance : { template: [part], values: NO_VALUES };
      const plan = this.planFor(instance.template);
      if (plan === null || (base === 0 && plan.root !== 'Event')) throw new Irregular();
      this.run(plan, instance.values, base, into, SWELL * plan.uses * (end - at));
    }
    return parts.length > 0;
  }

  private planFor(template: readonly Part[]): Plan | null {
    let plan = this.plans.get(template);
    if (plan === undefined) {
      plan = planOf(template);
      this.plans.set(template, plan);
    }
    return plan;
  }

  private run(plan: Plan, values: readonly Value[], base: number, into: RecordFields, most: number): void {
    this.budget -= plan.size + most;
    if (this.budget < 0) throw new Irregular();
    // What is no field is read by the way of XML alone: it must be such that it could be read.
    for (let i = 0; i < values.length; i++) {
      const { type, size } = values[i] ?? NO_VALUE;
      if (!hasRoom(type, size) || (type === 0x21 && size > 0 && plan.inTexts.has(i))) throw new Irregular();
    }
    for (const field of plan.fields) this.field(field, values, base, into);
  }

  private field(field: Field, values: readonly Value[], base: number, into: RecordFields): void {
    if (field.unless >= 0 && isNull(values[field.unless])) {
      // A root that is left out leaves nothing to be a record, or an element.
      if (field.depth === 1) throw new Irregular();
      return;
    }
    if (field.of === 'attribute') {
      const [only] = field.pieces;
      if (field.pieces.length === 1 && only !== undefined && leftOut(only, values)) return;
      into[field.name] = this.text(field.pieces, values);
      return;
    }
    const depth = base + field.depth;
    const [only] = field.pieces;
    const value =
      field.pieces.length === 1 && only !== undefined && 'value' in only ? values[only.value] : undefined;
    if (value !== undefined && value.type === 0x21 && value.size > 0) {
      if (field.isData || !this.fragment(value.at, value.at + value.size, false, depth, into))
        throw new Irregular();
      return;
    }
    if (depth < FIRST_DEPTH) return;
    if (value !== undefined && (value.type & 0x80) !== 0) {
      const texts = valueTexts(value.type & 0x7f, this.bytes, this.view, value.at, value.size);
      for (const text of texts.length === 0 ? [''] : texts) this.put(field, values, cleanText(text), into);
      return;
    }
    const text = this.text(field.pieces, values);
    this.put(field, values, text.includes('\r') ? text.replace(/\r\n?/g, '\n') : text, into);
  }

  private put(field: Field, values: readonly Value[], whole: string, into: RecordFields): void {
    const text = whole.trim();
    if (!field.isData) {
      if (text !== '') into[field.name] = text;
      return;
    }
    const [only] = field.label ?? [];
    const hasLabel =
      field.label !== null && !(field.label.length === 1 && only !== undefined && leftOut(only, values));
    const name = hasLabel ? this.text(field.label ?? [], values) : `Data${this.unnamed++}`;
    // An object takes this for its prototype.
    if (name === '__proto__') throw new Irregular();
    into[name] = text === '-' ? null : text;
  }

  private text(pieces: readonly Piece[], values: readonly Value[]): string {
    const [only] = pieces;
    if (pieces.length === 1 && only !== undefined) return this.piece(only, values);
    let text = '';
    for (const piece of pieces) text += this.piece(piece, values);
    return text;
  }

  private piece(piece: Piece, values: readonly Value[]): string {
    if ('text' in piece) return piece.text;
    const value = values[piece.value];
    if (value === undefined || value.size === 0 || value.type === 0) return '';
    if (value.type === 0x21) throw new Irregular();
    return cleanValueText(value.type, this.bytes, this.view, value.at, value.size);
  }
}

const NO_VALUES: readonly Value[] = [];
const NO_VALUE: Value = { type: 0, at: 0, size: 0 };

const isNull = (value: Value | undefined): boolean =>
  value === undefined || value.type === 0 || value.size === 0;

/** Whether an attribute that would hold nothing but this is left out. */
const leftOut = (piece: Piece, values: readonly Value[]): boolean =>
  'value' in piece && piece.optional && isNull(values[piece.value]);
