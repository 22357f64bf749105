import { Gunzip, Unzip, UnzipInflate, UnzipPassThrough } from 'fflate';
import { Decompress } from 'fzstd';
import { type EvtxPart, EvtxReader, isEvtx } from './evtx/evtx.js';
import type { RecordFields } from './evtx/field-plan.js';
import { isTar, TarReader } from './tar.js';

// From the bytes of a file to text, before anything is cut: what is packed is unpacked, archives give their members one
// after another, binary event files become XML, and texts are read in the encoding they are in. All in bounded memory.

/** What a file gives, in order. */
export type Decoded =
  | {
      readonly part: 'text';
      readonly text: string;
      /** The text is one event record, and these are its fields; only where fields were asked for, and not of all. */
      readonly fields?: RecordFields;
    }
  /** A member of an archive, or the file itself, is over: what follows is of another. */
  | { readonly part: 'end'; readonly name: string }
  /** Something that cannot be read; the rest is read nevertheless. */
  | { readonly part: 'error'; readonly message: string };

/** So much is looked at to see what a file is. */
const HEAD = 4096;
/** What packs is unpacked in pieces of so much, so that little can swell to much at once. */
const PIECE = 16_384;
/** Archives within what is packed within archives: deeper is an attack. */
const DEEPEST = 4;
/** Members of one archive. */
const MAX_MEMBERS = 100_000;

/** What is unpacked at one time, by all layers together: what swells to more within what is packed is an attack. */
const MAX_SWELL = 32 * 1024 * 1024;

/** What all layers of a file share: how much is unpacked while one piece is taken, and what is asked for. */
class Layers {
  private left = MAX_SWELL;

  constructor(readonly withFields: boolean) {}

  begin(): void {
    this.left = MAX_SWELL;
  }

  /** @throws Error beyond what is allowed */
  spend(bytes: number): void {
    this.left -= bytes;
    if (this.left < 0) throw new Error('it swells to more than is taken');
  }
}

/** Takes bytes, and gives what they hold. */
export interface Decoder {
  push(bytes: Uint8Array): Decoded[];
  end(): Decoded[];
}

const begins = (bytes: Uint8Array, ...signs: readonly number[]): boolean =>
  signs.every((sign, i) => bytes[i] === sign);

/** The encoding of a text by its beginning: a mark, zeros at every other place, else UTF-8 where it is that. */
export function encodingOf(head: Uint8Array): 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252' {
  if (begins(head, 0xef, 0xbb, 0xbf)) return 'utf-8';
  if (begins(head, 0xff, 0xfe)) return 'utf-16le';
  if (begins(head, 0xfe, 0xff)) return 'utf-16be';
  let [even, odd] = [0, 0];
  for (let i = 0; i < head.length; i++)
    if (head[i] === 0) {
      if (i % 2 === 0) even++;
      else odd++;
    }
  const half = head.length / 2;
  if (head.length >= 8 && odd > half * 0.6 && even < half * 0.1) return 'utf-16le';
  if (head.length >= 8 && even > half * 0.6 && odd < half * 0.1) return 'utf-16be';
  try {
    // A sign that is cut off at the end is no mistake.
    new TextDecoder('utf-8', { fatal: true }).decode(head, { stream: true });
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}

/** What a file is, by its beginning. */
export function kindOf(head: Uint8Array): 'gzip' | 'zstd' | 'zip' | 'tar' | 'events' | 'text' {
  if (begins(head, 0x1f, 0x8b)) return 'gzip';
  if (begins(head, 0x28, 0xb5, 0x2f, 0xfd)) return 'zstd';
  if (begins(head, 0x50, 0x4b, 0x03, 0x04)) return 'zip';
  if (isTar(head)) return 'tar';
  return isEvtx(head) ? 'events' : 'text';
}

class TextReader implements Decoder {
  private readonly decoder: InstanceType<typeof TextDecoder>;

  constructor(head: Uint8Array) {
    this.decoder = new TextDecoder(encodingOf(head));
  }

  push(bytes: Uint8Array): Decoded[] {
    const text = this.decoder.decode(bytes, { stream: true });
    return text === '' ? [] : [{ part: 'text', text }];
  }

  end(): Decoded[] {
    const text = this.decoder.decode();
    return text === '' ? [] : [{ part: 'text', text }];
  }
}

type FieldedPart = Extract<EvtxPart, { part: 'record' }> & { readonly fields: RecordFields };

/** An event record whose fields are known, and whose text is written when it is asked for. */
class EventText {
  readonly part = 'text';
  readonly fields: RecordFields;

  constructor(private readonly record: FieldedPart) {
    this.fields = record.fields;
  }

  get text(): string {
    return `${this.record.xml}\n`;
  }
}

class BinaryEvents implements Decoder {
  private readonly reader: EvtxReader;

  constructor(withFields: boolean) {
    this.reader = new EvtxReader(withFields);
  }

  push(bytes: Uint8Array): Decoded[] {
    return this.told(this.reader.push(bytes));
  }

  end(): Decoded[] {
    return this.told(this.reader.end());
  }

  private told(parts: ReturnType<EvtxReader['push']>): Decoded[] {
    return parts.map((part): Decoded => {
      if (part.part === 'error') return part;
      return part.fields === null
        ? { part: 'text', text: `${part.xml}\n` }
        : new EventText(part as FieldedPart);
    });
  }
}

/** What is packed as one stream. */
class Packed implements Decoder {
  private readonly stream: { push(bytes: Uint8Array, final?: boolean): unknown };
  private readonly inner: Decoder;
  private found: Decoded[] = [];
  private broken = false;

  constructor(kind: 'gzip' | 'zstd', name: string, depth: number, layers: Layers) {
    this.inner = new FileDecoder(name, depth + 1, layers);
    const take = (bytes: Uint8Array): void => {
      layers.spend(bytes.length);
      for (const part of this.inner.push(bytes)) this.found.push(part);
    };
    this.stream = kind === 'gzip' ? new Gunzip(take) : new Decompress(take);
  }

  private feed(bytes: Uint8Array, final: boolean): void {
    if (this.broken) return;
    try {
      for (let at = 0; at < bytes.length || final; at += PIECE) {
        const last = at + PIECE >= bytes.length;
        this.stream.push(bytes.subarray(at, at + PIECE), final && last);
        if (last) break;
      }
    } catch (error) {
      this.broken = true;
      this.found.push({ part: 'error', message: `it is not packed as it says: ${(error as Error).message}` });
    }
  }

  private taken(): Decoded[] {
    const { found } = this;
    this.found = [];
    return found;
  }

  push(bytes: Uint8Array): Decoded[] {
    this.feed(bytes, false);
    return this.taken();
  }

  end(): Decoded[] {
    this.feed(new Uint8Array(0), true);
    this.found.push(...this.inner.end());
    return this.taken();
  }
}

/** A zip archive (APPNOTE 6.3): stored and deflated members. */
class Zipped implements Decoder {
  private readonly unzip = new Unzip();
  private found: Decoded[] = [];
  private broken = false;
  private members = 0;
  private open: Decoder | null = null;

  constructor(name: string, depth: number, layers: Layers) {
    this.unzip.register(UnzipInflate);
    this.unzip.register(UnzipPassThrough);
    this.unzip.onfile = (file) => {
      if (file.name.endsWith('/')) return;
      if (++this.members > MAX_MEMBERS) throw new Error(`it has more than ${MAX_MEMBERS} members`);
      const inner = new FileDecoder(`${name}/${file.name}`, depth + 1, layers);
      this.open = inner;
      file.ondata = (error, bytes, final) => {
        if (error !== null) {
          this.found.push({ part: 'error', message: `${file.name} cannot be unpacked: ${error.message}` });
          return;
        }
        layers.spend(bytes.length);
        for (const part of inner.push(bytes)) this.found.push(part);
        if (final) {
          this.open = null;
          this.found.push(...inner.end());
        }
      };
      try {
        file.start();
      } catch (error) {
        this.open = null;
        this.found.push({
          part: 'error',
          message: `${file.name} cannot be unpacked: ${(error as Error).message}`,
        });
      }
    };
  }

  private feed(bytes: Uint8Array, final: boolean): void {
    if (this.broken) return;
    try {
      for (let at = 0; at < bytes.length || final; at += PIECE) {
        const last = at + PIECE >= bytes.length;
        this.unzip.push(bytes.subarray(at, at + PIECE), final && last);
        if (last) break;
      }
    } catch (error) {
      this.broken = true;
      this.found.push({
        part: 'error',
        message: `the archive cannot be read on: ${(error as Error).message}`,
      });
    }
  }

  push(bytes: Uint8Array): Decoded[] {
    this.feed(bytes, false);
    const { found } = this;
    this.found = [];
    return found;
  }

  end(): Decoded[] {
    this.feed(new Uint8Array(0), true);
    if (this.open !== null) {
      this.found.push(...this.open.end(), { part: 'error', message: 'the archive ends within a member' });
      this.open = null;
    }
    const { found } = this;
    this.found = [];
    return found;
  }
}

class Archived implements Decoder {
  private readonly tar: TarReader;

  constructor(name: string, depth: number, layers: Layers) {
    this.tar = new TarReader(
      (member) => new FileDecoder(`${name}/${member}`, depth + 1, layers),
      MAX_MEMBERS,
    );
  }

  push(bytes: Uint8Array): Decoded[] {
    return this.tar.push(bytes);
  }

  end(): Decoded[] {
    return this.tar.end();
  }
}

/** The bytes of a file as text, whatever it is. */
export class FileDecoder implements Decoder {
  private held: Uint8Array[] = [];
  private length = 0;
  private chosen: Decoder | null = null;
  private isFile = false;

  /** One that tells the fields of event records, where they can be told without their text. */
  static withFields(name: string): FileDecoder {
    return new FileDecoder(name, 0, new Layers(true));
  }

  /** @param name as it is told at its end */
  constructor(
    private readonly name: string,
    private readonly depth = 0,
    private readonly layers = new Layers(false),
  ) {}

  push(bytes: Uint8Array): Decoded[] {
    if (this.depth === 0) this.layers.begin();
    if (this.chosen !== null) return this.chosen.push(bytes);
    this.held.push(bytes.slice());
    this.length += bytes.length;
    return this.length < HEAD ? [] : this.begin();
  }

  end(): Decoded[] {
    const found = this.chosen === null ? this.begin() : [];
    if (this.chosen !== null) found.push(...this.chosen.end());
    // Of archives and what is packed, the members have told their ends.
    if (this.isFile) found.push({ part: 'end', name: this.name });
    return found;
  }

  private begin(): Decoded[] {
    const head = new Uint8Array(this.length);
    let at = 0;
    for (const piece of this.held) {
      head.set(piece, at);
      at += piece.length;
    }
    this.held = [];
    this.chosen = this.choose(head);
    return this.chosen.push(head);
  }

  private choose(head: Uint8Array): Decoder {
    const kind = kindOf(head);
    if (this.depth < DEEPEST) {
      if (kind === 'gzip') return new Packed('gzip', this.name, this.depth, this.layers);
      if (kind === 'zstd') return new Packed('zstd', this.name, this.depth, this.layers);
      if (kind === 'zip') return new Zipped(this.name, this.depth, this.layers);
      if (kind === 'tar') return new Archived(this.name, this.depth, this.layers);
    }
    this.isFile = true;
    return kind === 'events' ? new BinaryEvents(this.layers.withFields) : new TextReader(head);
  }
}

/** The text at the beginning of a file, to see how its records are written. @param head its first bytes */
export function textOfHead(head: Uint8Array): string {
  const decoder = new FileDecoder('');
  let text = '';
  for (const part of decoder.push(head)) if (part.part === 'text') text += part.text;
  if (text === '') for (const part of decoder.end()) if (part.part === 'text') text += part.text;
  return text.replace(/^\ufeff/, '');
}
