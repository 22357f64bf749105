import { crc32 } from '../../core/formats/evtx/crc32.js';

/** What stands in an element or an attribute. */
export type Content =
  | { readonly text: string }
  | { readonly cdata: string }
  | { readonly charRef: number }
  | { readonly entity: string }
  /** The value of the record at this place; an optional one leaves out what holds nothing but it, where it is null. */
  | { readonly value: number; readonly type: number; readonly optional?: boolean };

/** An element of a template. */
export interface Element {
  readonly name: string;
  readonly attributes?: readonly (readonly [name: string, content: readonly Content[]])[];
  readonly children?: readonly (Element | Content)[];
}

/** A template, which many records share. */
export interface Template {
  /** 16 bytes. */
  readonly guid: Uint8Array;
  readonly root: Element;
}

/** A value of a record: its type in the format, and its bytes; another fragment for type 0x21. */
export type RecordValue =
  | { readonly type: number; readonly bytes: Uint8Array }
  | { readonly type: 0x21; readonly template: Template; readonly values: readonly RecordValue[] };

export interface EventRecord {
  /** When it was written, 100-nanosecond steps since 1601. */
  readonly written: bigint;
  readonly template: Template;
  readonly values: readonly RecordValue[];
}

const FILE_HEADER = 4096;
const CHUNK = 65_536;
const CHUNK_HEADER = 512;

/** Little-endian bytes that grow. */
class Bytes {
  bytes = new Uint8Array(4096);
  view = new DataView(this.bytes.buffer);
  length = 0;

  private room(more: number): void {
    if (this.length + more <= this.bytes.length) return;
    const grown = new Uint8Array(Math.max(this.bytes.length * 2, this.length + more));
    grown.set(this.bytes);
    this.bytes = grown;
    this.view = new DataView(grown.buffer);
  }
  u8(value: number): void {
    this.room(1);
    this.view.setUint8(this.length++, value);
  }
  u16(value: number): void {
    this.room(2);
    this.view.setUint16(this.length, value, true);
    this.length += 2;
  }
  u32(value: number): void {
    this.room(4);
    this.view.setUint32(this.length, value, true);
    this.length += 4;
  }
  u64(value: bigint): void {
    this.room(8);
    this.view.setBigUint64(this.length, value, true);
    this.length += 8;
  }
  put(bytes: Uint8Array): void {
    this.room(bytes.length);
    this.bytes.set(bytes, this.length);
    this.length += bytes.length;
  }
  utf16(text: string): void {
    for (let i = 0; i < text.length; i++) this.u16(text.charCodeAt(i));
  }
  done(): Uint8Array {
    return this.bytes.slice(0, this.length);
  }
}

/** One chunk: names and templates are written at their first use, and pointed at afterwards. */
class Chunk {
  readonly out = new Bytes();
  private readonly names = new Map<string, number>();
  private readonly buckets = new Map<number, number>();
  private readonly templates = new Map<string, number>();
  private readonly templateBuckets = new Map<number, number>();
  records = 0;
  last = 0;

  constructor(readonly first: number) {
    for (let i = 0; i < CHUNK_HEADER; i++) this.out.u8(0);
  }

  private name(text: string): void {
    const known = this.names.get(text);
    if (known !== undefined) {
      this.out.u32(known);
      return;
    }
    const at = this.out.length + 4;
    this.out.u32(at);
    let hash = 0;
    for (let i = 0; i < text.length; i++) hash = (Math.imul(hash, 65_599) + text.charCodeAt(i)) >>> 0;
    const bucket = (hash & 0xffff) % 64;
    this.out.u32(this.buckets.get(bucket) ?? 0);
    this.out.u16(hash & 0xffff);
    this.out.u16(text.length);
    this.out.utf16(text);
    this.out.u16(0);
    this.names.set(text, at);
    this.buckets.set(bucket, at);
  }

  private content(content: Content, more: boolean): void {
    const flag = more ? 0x40 : 0;
    if ('value' in content) {
      this.out.u8(content.optional === true ? 0x0e : 0x0d);
      this.out.u16(content.value);
      this.out.u8(content.type);
    } else if ('text' in content) {
      this.out.u8(0x05 | flag);
      this.out.u8(1);
      this.out.u16(content.text.length);
      this.out.utf16(content.text);
    } else if ('cdata' in content) {
      this.out.u8(0x07 | flag);
      this.out.u16(content.cdata.length);
      this.out.utf16(content.cdata);
    } else if ('charRef' in content) {
      this.out.u8(0x08 | flag);
      this.out.u16(content.charRef);
    } else {
      this.out.u8(0x09 | flag);
      this.name(content.entity);
    }
  }

  private element({ name, attributes = [], children = [] }: Element): void {
    const { out } = this;
    out.u8(attributes.length > 0 ? 0x41 : 0x01);
    out.u16(0xffff);
    const size = out.length;
    out.u32(0);
    this.name(name);
    if (attributes.length > 0) {
      const listSize = out.length;
      out.u32(0);
      attributes.forEach(([attribute, content], i) => {
        out.u8(i < attributes.length - 1 ? 0x46 : 0x06);
        this.name(attribute);
        content.forEach((one, k) => this.content(one, k < content.length - 1));
      });
      out.view.setUint32(listSize, out.length - listSize - 4, true);
    }
    if (children.length === 0) out.u8(0x03);
    else {
      out.u8(0x02);
      children.forEach((child, i) => {
        if ('name' in child) this.element(child);
        else this.content(child, i < children.length - 1);
      });
      out.u8(0x04);
    }
    out.view.setUint32(size, out.length - size - 4, true);
  }

  private fragment(template: Template, values: readonly RecordValue[]): void {
    const { out } = this;
    out.put(Uint8Array.of(0x0f, 1, 1, 0));
    out.u8(0x0c);
    out.u8(1);
    const id = new DataView(template.guid.buffer, template.guid.byteOffset).getUint32(0, true);
    out.u32(id);
    const key = Buffer.from(template.guid).toString('hex');
    const known = this.templates.get(key);
    if (known !== undefined) out.u32(known);
    else {
      const at = out.length + 4;
      out.u32(at);
      const bucket = id % 32;
      out.u32(this.templateBuckets.get(bucket) ?? 0);
      out.put(template.guid);
      const size = out.length;
      out.u32(0);
      out.put(Uint8Array.of(0x0f, 1, 1, 0));
      this.element(template.root);
      out.u8(0);
      out.view.setUint32(size, out.length - size - 4, true);
      this.templates.set(key, at);
      this.templateBuckets.set(bucket, at);
    }
    out.u32(values.length);
    const sizes: number[] = [];
    for (const value of values) {
      sizes.push(out.length);
      out.u16('bytes' in value ? value.bytes.length : 0);
      out.u8(value.type);
      out.u8(0);
    }
    values.forEach((value, i) => {
      if ('bytes' in value) {
        out.put(value.bytes);
        return;
      }
      const begin = out.length;
      this.fragment(value.template, value.values);
      out.u8(0);
      out.view.setUint16(sizes[i] ?? 0, out.length - begin, true);
    });
  }

  /** @returns false where it does not fit any more: then nothing of it counts */
  add(record: EventRecord, id: number, most = CHUNK): boolean {
    const { out } = this;
    const before = {
      length: out.length,
      names: new Map(this.names),
      buckets: new Map(this.buckets),
      templates: new Map(this.templates),
      templateBuckets: new Map(this.templateBuckets),
    };
    const begin = out.length;
    out.u32(0x00002a2a);
    out.u32(0);
    out.u64(BigInt(id));
    out.u64(record.written);
    this.fragment(record.template, record.values);
    out.u8(0);
    const size = out.length - begin + 4;
    out.u32(size);
    out.view.setUint32(begin + 4, size, true);
    if (out.length > most) {
      out.length = before.length;
      for (const name of ['names', 'buckets', 'templates', 'templateBuckets'] as const) {
        const map = this[name] as Map<unknown, number>;
        map.clear();
        for (const [key, value] of before[name] as Map<unknown, number>) map.set(key, value);
      }
      return false;
    }
    this.last = begin;
    this.records++;
    return true;
  }

  done(): Uint8Array {
    const bytes = new Uint8Array(CHUNK);
    bytes.set(this.out.done());
    const view = new DataView(bytes.buffer);
    bytes.set(new TextEncoder().encode('ElfChnk\0'));
    const last = this.first + this.records - 1;
    view.setBigUint64(8, BigInt(this.first), true);
    view.setBigUint64(16, BigInt(last), true);
    view.setBigUint64(24, BigInt(this.first), true);
    view.setBigUint64(32, BigInt(last), true);
    view.setUint32(40, 128, true);
    view.setUint32(44, this.last, true);
    view.setUint32(48, this.out.length, true);
    view.setUint32(52, crc32(bytes.subarray(CHUNK_HEADER, this.out.length)), true);
    for (const [bucket, at] of this.buckets) view.setUint32(128 + 4 * bucket, at, true);
    for (const [bucket, at] of this.templateBuckets) view.setUint32(384 + 4 * bucket, at, true);
    view.setUint32(124, crc32(bytes.subarray(128, CHUNK_HEADER), crc32(bytes.subarray(0, 120))), true);
    return bytes;
  }
}

export interface WriteOptions {
  /** As a file is whose writer did not close it. */
  readonly dirty?: boolean;
  /** Records of one chunk at most. */
  readonly perChunk?: number;
}

/**
 * Writes a binary event file (version 3.1): a header of 4,096 bytes, and chunks of 65,536.
 * @throws Error for a record that fits in no chunk
 */
export function writeEvtx(
  records: readonly EventRecord[],
  { dirty = false, perChunk = Infinity }: WriteOptions = {},
): Uint8Array {
  const chunks: Uint8Array[] = [];
  let chunk = new Chunk(1);
  records.forEach((record, i) => {
    if (chunk.records < perChunk && chunk.add(record, i + 1)) return;
    chunks.push(chunk.done());
    chunk = new Chunk(i + 1);
    if (!chunk.add(record, i + 1)) throw new Error(`Record ${i + 1} fits in no chunk.`);
  });
  if (chunk.records > 0) chunks.push(chunk.done());
  const header = new Uint8Array(FILE_HEADER);
  const view = new DataView(header.buffer);
  header.set(new TextEncoder().encode('ElfFile\0'));
  view.setBigUint64(8, 0n, true);
  view.setBigUint64(16, BigInt(Math.max(0, chunks.length - 1)), true);
  view.setBigUint64(24, BigInt(records.length + 1), true);
  view.setUint32(32, 128, true);
  view.setUint16(36, 1, true);
  view.setUint16(38, 3, true);
  view.setUint16(40, FILE_HEADER, true);
  view.setUint16(42, chunks.length, true);
  view.setUint32(120, dirty ? 1 : 0, true);
  view.setUint32(124, crc32(header.subarray(0, 120)), true);
  const file = new Uint8Array(FILE_HEADER + CHUNK * chunks.length);
  file.set(header);
  chunks.forEach((bytes, i) => file.set(bytes, FILE_HEADER + CHUNK * i));
  return file;
}

/** Bytes of values by their types. */
export const bytesOf = {
  text: (text: string): Uint8Array => {
    const out = new Bytes();
    out.utf16(text);
    return out.done();
  },
  u8: (value: number): Uint8Array => Uint8Array.of(value),
  u16: (value: number): Uint8Array => {
    const out = new Bytes();
    out.u16(value & 0xffff);
    return out.done();
  },
  u32: (value: number): Uint8Array => {
    const out = new Bytes();
    out.u32(value >>> 0);
    return out.done();
  },
  u64: (value: bigint): Uint8Array => {
    const out = new Bytes();
    out.u64(BigInt.asUintN(64, value));
    return out.done();
  },
  /** `S-1-5-21-…` */
  sid: (text: string): Uint8Array => {
    const [, revision = '1', authority = '0', ...rest] = text.split('-');
    const out = new Bytes();
    out.u8(Number(revision));
    out.u8(rest.length);
    for (let i = 5; i >= 0; i--) out.u8(Math.floor(Number(authority) / 256 ** i) & 0xff);
    for (const one of rest) out.u32(Number(one));
    return out.done();
  },
  /** `{54849625-5478-4994-a5ba-3e3b0328c30d}` */
  guid: (text: string): Uint8Array => {
    const hex = text.replace(/[{}-]/g, '');
    const bytes = Buffer.from(hex, 'hex');
    return Uint8Array.from([3, 2, 1, 0, 5, 4, 7, 6, 8, 9, 10, 11, 12, 13, 14, 15], (i) => bytes[i] ?? 0);
  },
  /** From an instant in microseconds. */
  fileTime: (micros: number): Uint8Array => bytesOf.u64(fileTimeOf(micros)),
};

const TO_1601 = 11_644_473_600_000_000n;
/** 100-nanosecond steps since 1601, from microseconds since 1970. */
export const fileTimeOf = (micros: number): bigint => (BigInt(micros) + TO_1601) * 10n;
