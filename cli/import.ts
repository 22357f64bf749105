import { hash } from 'node:crypto';
import { statSync } from 'node:fs';
import { setTimeout as delay } from 'node:timers/promises';
import { Occurrences, writeEarlierCopies } from '../core/events/occurrences.js';
import type { Cutter } from '../core/formats/format.js';
import { nearestWord } from '../core/base/text-distance.js';
import { cutterOf, formats } from '../core/formats/index.js';
import type { RecordShape } from '../core/formats/joined.js';
import { formatNames, type FormatName } from '../core/wire/format-names.js';
import { recognise } from '../core/formats/recognise.js';
import { decodedFile } from './file-text.js';
import { readWords } from './read-words.js';
import { UsageError } from './usage.js';

/** What a request may hold; below the server's own limits, so that a piece is never refused for its size. */
const MAX_RECORDS = 5000;
const MAX_CHARACTERS = 4_000_000;
/** Positions told in the head of a request; a head of 16 kB is the most that servers take. */
const MAX_EARLIER = 500;
const PROGRESS_MILLISECONDS = 1000;
const MAX_WAIT_SECONDS = 30;

interface Total {
  records: number;
  stored: number;
  known: number;
  setAside: number;
  discarded: number;
}

interface Asked {
  readonly server: string;
  readonly source: string;
  readonly key: string;
  readonly files: readonly string[];
  /** How the records are written, where that is not as their source says. */
  readonly recipe: string | undefined;
  readonly format: FormatName | undefined;
}

function readArguments(words: readonly string[]): Asked {
  const { values, positionals } = readWords({
    args: [...words],
    options: {
      server: { type: 'string' },
      source: { type: 'string' },
      key: { type: 'string' },
      recipe: { type: 'string' },
      format: { type: 'string' },
    },
    allowPositionals: true,
  });
  const key = values.key ?? process.env['UNDER_LAMP_KEY'];
  if (values.source === undefined)
    throw new UsageError('--source NAME is missing: the source the records belong to.');
  if (key === undefined)
    throw new UsageError('--key KEY is missing (or UNDER_LAMP_KEY): the key of the source.');
  if (positionals.length === 0)
    throw new UsageError('Which files? lamp import --source NAME --key KEY FILE…');
  const server = (values.server ?? 'http://127.0.0.1:7380').replace(/\/$/, '');
  const { recipe, format } = values;
  if (format !== undefined && !isFormatName(format))
    throw new UsageError(
      `--format ${format}: no such format. Did you mean ${nearestWord(format, formatNames)}? There are ${formatNames.join(', ')}.`,
    );
  return { server, source: values.source, key, files: positionals, recipe, format };
}

const isFormatName = (word: string): word is FormatName => (formatNames as readonly string[]).includes(word);

/** Where the records of a source go, read the way that was asked for. */
function intakeAddress({ server, source, recipe, format }: Asked): URL {
  const address = new URL(`${server}/api/v1/intake/${encodeURIComponent(source)}`);
  for (const [name, value] of Object.entries({ recipe, format }))
    if (value !== undefined) address.searchParams.set(name, value);
  return address;
}

/** So much of a file is looked at to see how it is written. */
const SAMPLE_SIGNS = 64_000;

/** Warns where a file is written otherwise than it will be read. */
async function warnOfFormat(file: string, format: FormatName): Promise<void> {
  let sample = '';
  for await (const part of decodedFile(file)) {
    if (part.part === 'text') sample += part.text;
    if (part.part === 'end' || sample.length >= SAMPLE_SIGNS) break;
  }
  const { format: seen, share } = recognise(sample.slice(0, SAMPLE_SIGNS));
  if (sample !== '' && seen !== format && seen !== 'text' && share >= 0.8)
    process.stderr.write(
      `${file} looks like ${formats[seen].title}, and is read as ${formats[format].title}. If that is wrong, stop and say --format ${seen}, or --recipe NAME.\n`,
    );
}

/** Records in a list as their source wraps them. */
const wrapped = (records: readonly string[], list: string): string =>
  list
    .split('.')
    .reduceRight((inner, name) => `{${JSON.stringify(name)}:${inner}}`, `[${records.join(',')}]`);

/** Sends one piece until it is acknowledged. @throws Error when it is refused for good */
async function send(
  asked: Asked,
  records: readonly string[],
  earlier: ReadonlyMap<number, number>,
  array: boolean,
  wrap: string | undefined,
  total: Total,
): Promise<void> {
  const body =
    wrap !== undefined ? wrapped(records, wrap) : array ? `[${records.join(',')}]` : records.join('\n');
  for (;;) {
    const response = await fetch(intakeAddress(asked), {
      method: 'POST',
      headers: {
        Authorization: `Bearer ${asked.key}`,
        ...(earlier.size > 0 && { 'Earlier-Copies': writeEarlierCopies(earlier) }),
      },
      body,
    });
    const answer = (await response.json().catch(() => ({}))) as Partial<Total> & { detail?: string };
    if (response.status === 429 || response.status === 503) {
      const wait = Math.min(MAX_WAIT_SECONDS, Number(response.headers.get('retry-after') ?? 1) || 1);
      await delay(wait * 1000);
      continue;
    }
    if (!response.ok) throw new Error(answer.detail ?? `The server answered ${response.status}.`);
    total.records += answer.records ?? 0;
    total.stored += answer.stored ?? 0;
    total.known += answer.known ?? 0;
    total.setAside += answer.setAside ?? 0;
    total.discarded += answer.discarded ?? 0;
    return;
  }
}

async function shapeOf(
  asked: Asked,
): Promise<{ readonly format: FormatName; readonly records?: RecordShape }> {
  let response: Response;
  try {
    response = await fetch(intakeAddress(asked), { headers: { Authorization: `Bearer ${asked.key}` } });
  } catch (error) {
    throw new Error(`${asked.server} does not answer. Is it running? Name another with --server.`, {
      cause: error,
    });
  }
  const answer = (await response.json()) as { format?: FormatName; records?: RecordShape; detail?: string };
  if (!response.ok || answer.format === undefined)
    throw new Error(answer.detail ?? `The server answered ${response.status}.`);
  return { format: answer.format, ...(answer.records !== undefined && { records: answer.records }) };
}

const thousands = (value: number): string => value.toLocaleString('en');

/** Tells how far it is, now and then, on a terminal. */
function progressOf(size: number): (bytes: number, records: number) => void {
  const started = Date.now();
  let told = started;
  return (bytes, records) => {
    const now = Date.now();
    if (!process.stderr.isTTY || now - told < PROGRESS_MILLISECONDS) return;
    told = now;
    const rate = (records * 1000) / (now - started);
    const left = bytes === 0 ? 0 : ((size - bytes) * (now - started)) / bytes / 1000;
    process.stderr.write(
      `\r${((100 * bytes) / Math.max(1, size)).toFixed(0)} %, ${thousands(records)} records, ${thousands(Math.round(rate))} a second, ${Math.ceil(left)} s left   `,
    );
  };
}

/** Runs `lamp import`: files of any size go in piece by piece; a second run doubles nothing. @returns the exit code */
export async function importFiles(words: readonly string[]): Promise<number> {
  const asked = readArguments(words);
  const { format, records } = await shapeOf(asked);
  let broken = false;
  const total: Total = { records: 0, stored: 0, known: 0, setAside: 0, discarded: 0 };
  for (const file of asked.files) {
    let size: number;
    try {
      ({ size } = statSync(file));
    } catch (error) {
      throw new Error(`${file} cannot be read: ${error instanceof Error ? error.message : String(error)}`, {
        cause: error,
      });
    }
    await warnOfFormat(file, format);
    let read = 0;
    const tell = progressOf(size);
    const cutter: Cutter = cutterOf(format, records);
    let held: string[] = [];
    let characters = 0;
    // Identical records count, so the server is told of those that went in earlier pieces of the file.
    const occurrences = new Occurrences('', (record) => hash('sha256', record, 'base64url').slice(0, 22));
    let earlier = new Map<number, number>();
    const flush = async (): Promise<void> => {
      const [piece, copies] = [held, earlier];
      held = [];
      characters = 0;
      earlier = new Map();
      // Elements of an array may span lines, so they go as an array again.
      await send(
        asked,
        piece,
        copies,
        format === 'json' && piece.some((record) => record.includes('\n')),
        records?.list,
        total,
      );
      tell(read, total.records);
    };
    const take = async (records: readonly string[]): Promise<void> => {
      for (const record of records) {
        const before = occurrences.next(record);
        if (before > 0) earlier.set(held.length, before);
        held.push(record);
        characters += record.length;
        if (held.length >= MAX_RECORDS || characters >= MAX_CHARACTERS || earlier.size >= MAX_EARLIER)
          await flush();
      }
    };
    for await (const part of decodedFile(file, (bytes) => (read += bytes)))
      switch (part.part) {
        case 'text':
          await take(cutter.push(part.text));
          break;
        case 'end':
          await take(cutter.end());
          break;
        case 'error':
          process.stderr.write(`${file}: ${part.message}\n`);
          broken = true;
          break;
      }
    if (held.length > 0) await flush();
  }
  if (process.stderr.isTTY) process.stderr.write('\n');
  process.stdout.write(
    `${thousands(total.records)} records: ${thousands(total.stored)} stored, ${thousands(total.known)} already known, ` +
      `${thousands(total.discarded)} left out, ${thousands(total.setAside)} set aside\n`,
  );
  return broken ? 1 : 0;
}
