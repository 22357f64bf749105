import { createReadStream } from 'node:fs';
import type { Readable } from 'node:stream';
import { createGunzip } from 'node:zlib';
import type { Cutter, FormatOptions } from '../../core/formats/format.js';
import { cutterOf } from '../../core/formats/index.js';
import type { Recipe } from '../../core/recipes/recipe-schema.js';
import { recognise as recogniseFormat } from '../../core/formats/recognise.js';
import { bestShipped } from '../../core/recipes/shipped/index.js';
import type { FormatName } from '../../core/wire/format-names.js';
import { decodedFile, headOf } from '../file-text.js';
import type { FileShape, SweepPlan } from './sweep-plan.js';
import type { Piece } from './sweep-threads.js';

const SAMPLE = 64 * 1024;
/** Bytes of lines handed over at once: enough to be worth it, little enough to share among threads. */
const PIECE = 2 * 1024 * 1024;
const RECORDS = 2000;
const NEWLINE = 10;

/** How records are written, as they look. @param recognise whether a recipe that ships may say so */
function shapeOf(beginning: string, recognise: boolean): FileShape {
  const shipped = recognise ? bestShipped(beginning, Date.now() * 1000) : null;
  if (shipped !== null) return { ...wantedShape(shipped), recipe: shipped.name };
  const found = recogniseFormat(beginning);
  if (found === null) return { format: 'json', options: {}, recipe: null };
  const { format, columns, delimiter, records } = found;
  return {
    format,
    options: {
      ...(columns !== undefined && { columns }),
      ...(delimiter !== undefined && { delimiter }),
      ...(records !== undefined && { records }),
    },
    recipe: null,
  };
}

/** How the records of files are to be cut, where that is known: as a recipe says. */
interface WantedShape {
  readonly format: FormatName;
  readonly options: FormatOptions;
}

/** How a recipe says that its records are cut. */
const wantedShape = ({ format, records }: Recipe): WantedShape => ({
  format,
  options: { ...(records !== undefined && { records }) },
});

/** How files are to be read. */
export interface HowToRead {
  /** As the recipe says that was named; null where none was. */
  readonly wanted: WantedShape | null;
  /** Whether each file is read by the shipped recipe that fits it, and what is no log is passed over. */
  readonly recognise: boolean;
}

/** How the files of a sweep are to be read. */
export const howToRead = ({ recipe, recognise }: Pick<SweepPlan, 'recipe' | 'recognise'>): HowToRead => ({
  wanted: recipe === null ? null : wantedShape(JSON.parse(recipe) as Recipe),
  recognise,
});

/** What is not text: programs, pictures, databases. */
export class NoLog extends Error {
  override readonly name = 'NoLog';
}

/**
 * The pieces of a file in order, in bounded memory.
 * @param onError is told of parts that cannot be read
 * @throws NoLog where files are recognised, and this is none of records; Error where it cannot be opened
 */
export async function* piecesOf(
  path: string,
  { wanted, recognise }: HowToRead,
  onError: (message: string) => void = (message) => void process.stderr.write(`${path}: ${message}\n`),
): AsyncGenerator<Piece> {
  const { text, gzipped, plain } = await headOf(path);
  if (recognise && isNoText(text)) throw new NoLog('it is no text, and no event file');
  const shape = wanted === null ? shapeOf(text, recognise) : { ...wanted, recipe: null };
  // Lines are cut where they are swept; what spans lines, or is one array, must be cut in order.
  if (
    plain &&
    shape.format === 'json' &&
    shape.options.records === undefined &&
    !text.trimStart().startsWith('[')
  )
    yield* lineBlocks(gzipped ? createReadStream(path).pipe(createGunzip()) : createReadStream(path), shape);
  else yield* cutRecords(path, { wanted, recognise }, onError);
}

/** Whether a sample holds signs that texts do not: some, where a program wrote them; many, where it is something else. */
function isNoText(sample: string): boolean {
  // eslint-disable-next-line no-control-regex -- these are the characters that are looked for
  const odd = sample.slice(0, 4096).match(/[\u0000-\u0008\u000e-\u001a\u001c-\u001f\ufffd]/g)?.length ?? 0;
  return odd > Math.min(4096, sample.length) / 50;
}

async function* lineBlocks(stream: Readable, shape: FileShape): AsyncGenerator<Piece> {
  let held: Buffer[] = [];
  let size = 0;
  let first = true;
  const piece = (bytes: Buffer): Piece => {
    const start = first && bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0;
    first = false;
    // A copy of its own, since it is handed over to another thread.
    return { shape, lines: Uint8Array.from(bytes.subarray(start)), records: [] };
  };
  for await (const chunk of stream) {
    const bytes = chunk as Buffer;
    size += bytes.length;
    held.push(bytes);
    if (size < PIECE) continue;
    const all = Buffer.concat(held);
    const end = all.lastIndexOf(NEWLINE);
    if (end < 0) {
      held = [all];
      continue;
    }
    yield piece(all.subarray(0, end + 1));
    const rest = all.subarray(end + 1);
    held = [rest];
    size = rest.length;
  }
  if (size > 0) yield piece(Buffer.concat(held));
}

/** Members of archives are written each in its own way. */
async function* cutRecords(
  path: string,
  { wanted, recognise }: HowToRead,
  onError: (message: string) => void,
): AsyncGenerator<Piece> {
  const named: FileShape | null = wanted === null ? null : { ...wanted, recipe: null };
  let shape = named;
  let cutter: Cutter | null = null;
  let held: string[] = [];
  let sample = '';
  const begin = (): { readonly shape: FileShape; readonly cutter: Cutter } => {
    shape ??= shapeOf(sample, recognise);
    cutter = cutterOf(shape.format, shape.options.records);
    held.push(...cutter.push(sample.replace(/^\ufeff/, '')));
    sample = '';
    return { shape, cutter };
  };
  for await (const part of decodedFile(path)) {
    if (part.part === 'error') {
      onError(part.message);
      continue;
    }
    if (part.part === 'text') {
      if (cutter !== null) held.push(...(cutter as Cutter).push(part.text));
      else if ((sample += part.text).length >= SAMPLE) begin();
    } else {
      const over = cutter === null ? begin() : { shape: shape ?? shapeOf('', false), cutter };
      held.push(...over.cutter.end());
      if (held.length > 0) yield { shape: over.shape, lines: null, records: held };
      held = [];
      cutter = null;
      shape = named;
      continue;
    }
    while (held.length >= RECORDS && shape !== null) {
      yield { shape, lines: null, records: held.slice(0, RECORDS) };
      held = held.slice(RECORDS);
    }
  }
}

const decoder = new TextDecoder();

/** The records of a piece. */
export const recordsOf = ({ lines, records }: Piece): readonly string[] =>
  lines === null
    ? records
    : decoder
        .decode(lines)
        .split('\n')
        .filter((line) => line !== '' && line.trim() !== '');
