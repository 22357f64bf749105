import { BinaryXml } from './binary-xml.js';
import { crc32 } from './crc32.js';
import { FieldReader, type RecordFields } from './field-plan.js';

// Binary event files of the operating system, version 3: a header of 4,096 bytes, then chunks of 65,536 bytes, each with
// its records, and the names and templates they share. After the open descriptions of the format and of its binary XML
// (MS-EVEN6, section 2.2.12).

const FILE_HEADER = 4096;
const CHUNK = 65_536;
const CHUNK_HEADER = 512;
const RECORD_HEADER = 24;

/** What is found in a file, in order. */
export type EvtxPart =
  | {
      readonly part: 'record';
      /** The record as XML, written when it is asked for the first time. */
      readonly xml: string;
      /** Its fields, where they are asked for and can be told without its XML. */
      readonly fields: RecordFields | null;
    }
  /** Something that cannot be read; the rest is read nevertheless. */
  | { readonly part: 'error'; readonly message: string };

const startsWith = (bytes: Uint8Array, at: number, text: string): boolean => {
  for (let i = 0; i < text.length; i++) if (bytes[at + i] !== text.charCodeAt(i)) return false;
  return true;
};

/** Whether a file begins as binary event files do. */
export const isEvtx = (bytes: Uint8Array): boolean => startsWith(bytes, 0, 'ElfFile\0');

/**
 * Reads a binary event file piece by piece, in the memory of a chunk. It never throws: chunks and records that cannot be
 * read are told, and the rest is read. A dirty header, of a file that was not closed, says nothing about its chunks.
 */
export class EvtxReader {
  private held = new Uint8Array(0);
  private at = 0;
  private header = true;

  /** @param withFields fields are told as far as they can be, and XML is written only of what has none */
  constructor(private readonly withFields = false) {}

  push(piece: Uint8Array): EvtxPart[] {
    const all = new Uint8Array(this.held.length + piece.length);
    all.set(this.held);
    all.set(piece, this.held.length);
    let place = 0;
    const found: EvtxPart[] = [];
    if (this.header && all.length >= FILE_HEADER) {
      this.header = false;
      place = FILE_HEADER;
      this.at = FILE_HEADER;
    }
    if (!this.header)
      for (; all.length - place >= CHUNK; place += CHUNK) {
        found.push(...this.chunk(all.subarray(place, place + CHUNK)));
        this.at += CHUNK;
      }
    this.held = all.slice(place);
    return found;
  }

  /** What is left: a chunk that is torn off gives the records that are whole. */
  end(): EvtxPart[] {
    const rest = this.held;
    this.held = new Uint8Array(0);
    if (rest.length === 0) return [];
    if (this.header) return [{ part: 'error', message: 'the file ends within its header' }];
    return this.chunk(rest);
  }

  private chunk(bytes: Uint8Array): EvtxPart[] {
    const where = `the chunk at ${this.at}`;
    if (bytes.every((byte) => byte === 0)) return [];
    if (bytes.length < CHUNK_HEADER || !startsWith(bytes, 0, 'ElfChnk\0'))
      return [{ part: 'error', message: `${where} is damaged: it does not begin as one` }];
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const free = Math.min(Math.max(view.getUint32(48, true), CHUNK_HEADER), CHUNK);
    const torn = bytes.length < free;
    const damage = torn
      ? `${where} is torn: ${bytes.length} of ${free} bytes are there`
      : isWhole(bytes, view, free)
        ? null
        : `${where} is damaged: its checksum does not hold`;
    const { parts, stopped } = readRecords(bytes, view, Math.min(free, bytes.length), this.withFields);
    // One error is told of a chunk, however much of it is damaged; records that are whole are given.
    const told = damage ?? stopped;
    return told === null
      ? parts
      : [
          ...parts.filter(({ part }) => part === 'record'),
          { part: 'error', message: damage ?? `${where}: ${told}` },
        ];
  }
}

const isWhole = (bytes: Uint8Array, view: DataView, free: number): boolean =>
  crc32(bytes.subarray(CHUNK_HEADER, free)) === view.getUint32(52, true) &&
  crc32(bytes.subarray(128, CHUNK_HEADER), crc32(bytes.subarray(0, 120))) === view.getUint32(124, true);

function readRecords(
  bytes: Uint8Array,
  view: DataView,
  end: number,
  withFields: boolean,
): { readonly parts: EvtxPart[]; readonly stopped: string | null } {
  const xml = new BinaryXml(bytes);
  const fields = withFields ? new FieldReader(xml, bytes, view) : null;
  const parts: EvtxPart[] = [];
  let stopped: string | null = null;
  let at = CHUNK_HEADER;
  while (at + RECORD_HEADER + 4 <= end) {
    const isRecord = view.getUint32(at, true) === 0x00002a2a;
    const size = isRecord ? view.getUint32(at + 4, true) : 0;
    if (
      !isRecord ||
      size < RECORD_HEADER + 4 ||
      at + size > end ||
      view.getUint32(at + size - 4, true) !== size
    ) {
      stopped ??= `a record at ${at} is not whole`;
      // The next that is whole may stand anywhere behind.
      const next = nextRecord(view, at + 1, end);
      if (next < 0) break;
      at = next;
      continue;
    }
    try {
      parts.push(recordAt(xml, fields, at + RECORD_HEADER, at + size - 4));
    } catch (error) {
      const number = view.getBigUint64(at + 8, true);
      stopped ??= `record ${number} cannot be read: ${error instanceof RangeError ? 'it reaches beyond the chunk' : (error as Error).message}`;
    }
    at += size;
  }
  return { parts, stopped };
}

/** A record whose fields are known; its XML is written when it is asked for. */
class FieldedRecord {
  readonly part = 'record';
  private written: string | undefined;

  constructor(
    private readonly reader: BinaryXml,
    private readonly at: number,
    private readonly end: number,
    readonly fields: RecordFields,
  ) {}

  get xml(): string {
    return (this.written ??= this.reader.xmlOf(this.at, this.end));
  }
}

/** A record: with its fields where they can be told, else with its XML. @throws EvtxError, RangeError */
function recordAt(xml: BinaryXml, reader: FieldReader | null, at: number, end: number): EvtxPart {
  xml.begin();
  const fields = reader?.fieldsOf(at, end) ?? null;
  return fields === null
    ? { part: 'record', xml: xml.xmlOf(at, end), fields }
    : new FieldedRecord(xml, at, end, fields);
}

/** Where the next record begins that is whole; -1 for nowhere. */
function nextRecord(view: DataView, from: number, end: number): number {
  for (let at = from; at + RECORD_HEADER + 4 <= end; at++) {
    if (view.getUint32(at, true) !== 0x00002a2a) continue;
    const size = view.getUint32(at + 4, true);
    if (size >= RECORD_HEADER + 4 && at + size <= end && view.getUint32(at + size - 4, true) === size)
      return at;
  }
  return -1;
}
