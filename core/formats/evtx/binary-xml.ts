import { utf16Text } from './utf16.js';
import { cleanText, escapeAttribute, escapeText, valueText, valueTexts } from './values.js';

// Binary XML of event records: tokens, names and templates of a chunk. Offsets are from the begin of the chunk. The tree
// of a template is read once for a chunk, and written out with the values of each record.

/** What cannot be read, and where. */
export class EvtxError extends Error {
  override readonly name = 'EvtxError';
}

export type Part =
  /** A text as XML, and as it is. */
  | { readonly part: 'text'; readonly text: string; readonly plain: string }
  | { readonly part: 'value'; readonly at: number; readonly optional: boolean }
  | ElementNode
  | { readonly part: 'instance'; readonly instance: Instance };

export interface ElementNode {
  readonly part: 'element';
  readonly name: string;
  readonly attributes: readonly { readonly name: string; readonly parts: readonly Part[] }[];
  readonly children: readonly Part[];
}

/** A value of a record as it lies in the chunk. */
export interface Value {
  readonly type: number;
  readonly at: number;
  readonly size: number;
}

export interface Instance {
  readonly template: readonly Part[];
  readonly values: readonly Value[];
}

/** Elements within elements, and records within values: deeper is an attack on whatever walks them. */
const DEEPEST = 24;
const MAX_VALUES = 4096;
/** Steps of one record: a template that names the same nested value over and over multiplies them. */
const MAX_STEPS = 100_000;
/** Characters of one record as XML. */
const MAX_LENGTH = (1 << 20) + 1;

const ENTITIES: ReadonlyMap<string, string> = new Map([
  ['amp', '&'],
  ['lt', '<'],
  ['gt', '>'],
  ['quot', '"'],
  ['apos', "'"],
]);

const textPart = (text: string, inAttribute: boolean): Part => ({
  part: 'text',
  text: (inAttribute ? escapeAttribute : escapeText)(text),
  plain: cleanText(text),
});

/** Names and templates of one chunk. */
export class BinaryXml {
  private readonly view: DataView;
  private readonly names = new Map<number, { readonly text: string; readonly end: number }>();
  private readonly templates = new Map<number, { readonly parts: readonly Part[]; readonly end: number }>();
  /** Templates that are being read: one that holds itself is no template. */
  private readonly reading = new Set<number>();

  /** Steps that are left for the record that is read. */
  private steps = 0;

  constructor(private readonly bytes: Uint8Array) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  /** Steps that a record may take, from now on. */
  begin(): void {
    this.steps = MAX_STEPS;
  }

  /** A record's fragment as XML. @throws EvtxError, RangeError where it reaches out of the chunk */
  xmlOf(at: number, end: number): string {
    this.begin();
    const writer = new XmlWriter(this, this.bytes, this.view);
    writer.parts(this.fragment(at, end, true, 0).parts, [], 0);
    return writer.text;
  }

  /** @throws EvtxError for a record that takes more than any does */
  step(): void {
    if (--this.steps < 0) throw new EvtxError(`it takes more than ${MAX_STEPS} steps`);
  }

  /** @param ids whether elements carry a dependency id: those within values do not */
  fragment(
    at: number,
    end: number,
    ids: boolean,
    depth: number,
  ): { readonly parts: readonly Part[]; readonly end: number } {
    if (depth > DEEPEST) throw new EvtxError(`it nests deeper than ${DEEPEST} levels`);
    const parts: Part[] = [];
    let place = at;
    while (place < end) {
      this.step();
      const token = this.view.getUint8(place);
      switch (token) {
        case 0x00:
          return { parts, end: place + 1 };
        case 0x0f:
          place += 4;
          break;
        case 0x0c: {
          const read = this.instance(place, depth + 1);
          parts.push({ part: 'instance', instance: read.instance });
          place = read.end;
          break;
        }
        case 0x01:
        case 0x41: {
          const read = this.element(place, ids, depth + 1);
          parts.push(read.element);
          place = read.end;
          break;
        }
        case 0x0a: {
          const name = this.name(place + 1);
          const dataAt = name.end;
          const length = this.view.getUint8(dataAt) === 0x0b ? this.view.getUint16(dataAt + 1, true) : 0;
          place = length === 0 && this.view.getUint8(dataAt) !== 0x0b ? dataAt : dataAt + 3 + 2 * length;
          break;
        }
        default:
          throw new EvtxError(`an unknown token 0x${token.toString(16)} at ${place}`);
      }
    }
    return { parts, end: place };
  }

  private instance(at: number, depth: number): { readonly instance: Instance; readonly end: number } {
    const definition = this.view.getUint32(at + 6, true);
    let place = at + 10;
    const template = this.template(definition, depth);
    // A template that stands here is passed over; one that stands elsewhere is only pointed at.
    if (definition === place) place = template.end;
    const count = this.view.getUint32(place, true);
    if (count > MAX_VALUES) throw new EvtxError(`${count} values at ${place}`);
    place += 4;
    const values: Value[] = [];
    let data = place + 4 * count;
    for (let i = 0; i < count; i++) {
      const size = this.view.getUint16(place + 4 * i, true);
      values.push({ type: this.view.getUint8(place + 4 * i + 2), at: data, size });
      data += size;
    }
    if (data > this.bytes.length) throw new EvtxError(`values at ${place} reach beyond the chunk`);
    return { instance: { template: template.parts, values }, end: data };
  }

  private template(at: number, depth: number): { readonly parts: readonly Part[]; readonly end: number } {
    const known = this.templates.get(at);
    if (known !== undefined) return known;
    if (this.reading.has(at)) throw new EvtxError(`the template at ${at} holds itself`);
    this.reading.add(at);
    try {
      const size = this.view.getUint32(at + 20, true);
      const begin = at + 24;
      if (begin + size > this.bytes.length)
        throw new EvtxError(`the template at ${at} reaches beyond the chunk`);
      const { parts } = this.fragment(begin, begin + size, true, depth);
      const read = { parts, end: begin + size };
      this.templates.set(at, read);
      return read;
    } finally {
      this.reading.delete(at);
    }
  }

  /** A name that is pointed at; where it stands there itself, it ends behind it. */
  private name(at: number): { readonly text: string; readonly end: number } {
    const offset = this.view.getUint32(at, true);
    let known = this.names.get(offset);
    if (known === undefined) {
      const length = this.view.getUint16(offset + 6, true);
      const text = this.utf16(offset + 8, length);
      known = {
        text: /^[\p{L}_:][\p{L}\p{N}_:.-]*$/u.test(text) ? text : 'unreadable-name',
        end: offset + 10 + 2 * length,
      };
      this.names.set(offset, known);
    }
    return { text: known.text, end: offset === at + 4 ? known.end : at + 4 };
  }

  private utf16(at: number, length: number): string {
    return utf16Text(this.bytes, at, length);
  }

  private element(
    at: number,
    ids: boolean,
    depth: number,
  ): { readonly element: ElementNode; readonly end: number } {
    if (depth > DEEPEST) throw new EvtxError(`it nests deeper than ${DEEPEST} levels`);
    const hasAttributes = this.view.getUint8(at) === 0x41;
    let place = at + (ids ? 7 : 5);
    const { text: name, end } = this.name(place);
    place = end;
    const attributes: { name: string; parts: Part[] }[] = [];
    if (hasAttributes) {
      const listEnd = place + 4 + this.view.getUint32(place, true);
      place += 4;
      while (place < listEnd) {
        const token = this.view.getUint8(place);
        if ((token & 0x3f) !== 0x06) break;
        const attribute = this.name(place + 1);
        const read = this.contents(attribute.end, ids, depth, true);
        attributes.push({ name: attribute.text, parts: read.parts });
        place = read.end;
      }
    }
    const close = this.view.getUint8(place);
    if (close === 0x03)
      return { element: { part: 'element', name, attributes, children: [] }, end: place + 1 };
    if (close !== 0x02) throw new EvtxError(`an unknown token 0x${close.toString(16)} at ${place}`);
    const read = this.contents(place + 1, ids, depth, false);
    return { element: { part: 'element', name, attributes, children: read.parts }, end: read.end };
  }

  /** What stands in an attribute, up to the next; or in an element, with its end. */
  private contents(
    at: number,
    ids: boolean,
    depth: number,
    inAttribute: boolean,
  ): { readonly parts: Part[]; readonly end: number } {
    const parts: Part[] = [];
    let place = at;
    for (;;) {
      this.step();
      const token = this.view.getUint8(place);
      switch (token & 0x3f) {
        case 0x04:
          if (inAttribute) return { parts, end: place };
          return { parts, end: place + 1 };
        case 0x05: {
          const type = this.view.getUint8(place + 1);
          const length = this.view.getUint16(place + 2, true);
          if (type !== 0x01) throw new EvtxError(`a value of type 0x${type.toString(16)} at ${place}`);
          parts.push(textPart(this.utf16(place + 4, length), inAttribute));
          place += 4 + 2 * length;
          break;
        }
        case 0x07: {
          const length = this.view.getUint16(place + 1, true);
          parts.push(textPart(this.utf16(place + 3, length), false));
          place += 3 + 2 * length;
          break;
        }
        case 0x08: {
          const code = this.view.getUint16(place + 1, true);
          parts.push(textPart(String.fromCharCode(code), inAttribute));
          place += 3;
          break;
        }
        case 0x09: {
          const { text, end } = this.name(place + 1);
          const meant = ENTITIES.get(text);
          parts.push({
            part: 'text',
            text: meant === undefined ? `&amp;${text};` : `&${text};`,
            plain: meant ?? `&${text};`,
          });
          place = end;
          break;
        }
        case 0x0d:
        case 0x0e:
          parts.push({
            part: 'value',
            at: this.view.getUint16(place + 1, true),
            optional: (token & 0x3f) === 0x0e,
          });
          place += 4;
          break;
        case 0x01: {
          if (inAttribute) return { parts, end: place };
          const read = this.element(place, ids, depth + 1);
          parts.push(read.element);
          place = read.end;
          break;
        }
        case 0x0c: {
          const read = this.instance(place, depth + 1);
          parts.push({ part: 'instance', instance: read.instance });
          place = read.end;
          break;
        }
        case 0x0f:
          place += 4;
          break;
        default:
          if (inAttribute) return { parts, end: place };
          throw new EvtxError(`an unknown token 0x${token.toString(16)} at ${place}`);
      }
    }
  }
}

/** Writes a record's XML. */
class XmlWriter {
  text = '';

  constructor(
    private readonly xml: BinaryXml,
    private readonly bytes: Uint8Array,
    private readonly view: DataView,
  ) {}

  private add(text: string): void {
    this.text += text;
    if (this.text.length > MAX_LENGTH) throw new EvtxError('it is longer than a record may be');
  }

  parts(parts: readonly Part[], values: readonly Value[], depth: number, inAttribute = false): void {
    if (depth > DEEPEST) throw new EvtxError(`it nests deeper than ${DEEPEST} levels`);
    for (const part of parts) {
      this.xml.step();
      switch (part.part) {
        case 'text':
          this.add(part.text);
          break;
        case 'value': {
          const value = values[part.at];
          if (value !== undefined) this.value(value, depth, inAttribute);
          break;
        }
        case 'element':
          this.element(part, values, depth);
          break;
        case 'instance':
          this.parts(part.instance.template, part.instance.values, depth + 1);
          break;
      }
    }
  }

  private value({ type, at, size }: Value, depth: number, inAttribute: boolean): void {
    if (size === 0 || type === 0x00) return;
    if (type === 0x21) {
      this.parts(this.xml.fragment(at, at + size, false, depth + 1).parts, [], depth + 1);
      return;
    }
    this.add((inAttribute ? escapeAttribute : escapeText)(valueText(type, this.bytes, this.view, at, size)));
  }

  private isNull(part: Part, values: readonly Value[]): boolean {
    if (part.part !== 'value' || !part.optional) return false;
    const value = values[part.at];
    return value === undefined || value.type === 0x00 || value.size === 0;
  }

  private element(
    { name, attributes, children }: ElementNode,
    values: readonly Value[],
    depth: number,
  ): void {
    const only = children.length === 1 ? children[0] : undefined;
    // An element that would hold nothing but an optional value is left out with it.
    if (only !== undefined && this.isNull(only, values)) return;
    const begin = this.open(name, attributes, values, depth);
    const list = only?.part === 'value' ? values[only.at] : undefined;
    // A list of values is an element for each.
    if (list !== undefined && (list.type & 0x80) !== 0) {
      const texts = valueTexts(list.type & 0x7f, this.bytes, this.view, list.at, list.size);
      this.add(texts.map((text) => `${begin}>${escapeText(text)}</${name}>`).join('') || `${begin}/>`);
      return;
    }
    if (children.length === 0) {
      this.add(`${begin}/>`);
      return;
    }
    this.add(`${begin}>`);
    this.parts(children, values, depth + 1);
    this.add(`</${name}>`);
  }

  private open(
    name: string,
    attributes: ElementNode['attributes'],
    values: readonly Value[],
    depth: number,
  ): string {
    let text = `<${name}`;
    for (const attribute of attributes) {
      const [only] = attribute.parts;
      if (only !== undefined && attribute.parts.length === 1 && this.isNull(only, values)) continue;
      const inner = new XmlWriter(this.xml, this.bytes, this.view);
      inner.parts(attribute.parts, values, depth + 1, true);
      text += ` ${attribute.name}="${inner.text}"`;
    }
    return text;
  }
}
