import { Readable } from 'node:stream';
import { gunzipSync } from 'node:zlib';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { extract } from 'tar-stream';
import type { RuleFile } from '../../core/sigma/pack.js';
import { Failure } from '../failure.js';

/** What an archive may hold, unpacked: more is an attack on memory. */
const MAX_BYTES = 64 * 1024 * 1024;
const MAX_FILE_BYTES = 500_000;
const MAX_FILES = 20_000;

const isRuleFile = (name: string): boolean => /\.ya?ml$/i.test(name) && !/(^|\/)(\.|__MACOSX)/.test(name);

const tooLarge = (): Failure =>
  new Failure(
    'archive-too-large',
    `The archive holds more than ${MAX_FILES.toLocaleString('en')} files or ${MAX_BYTES / 1024 / 1024} MB of rules. Import it in parts.`,
  );

function readZip(bytes: Uint8Array): RuleFile[] {
  let files = 0;
  let total = 0;
  const held = unzipSync(bytes, {
    filter: ({ name, originalSize }) => {
      if (!isRuleFile(name) || originalSize > MAX_FILE_BYTES) return false;
      files++;
      total += originalSize;
      if (files > MAX_FILES || total > MAX_BYTES) throw tooLarge();
      return true;
    },
  });
  return Object.entries(held).map(([name, content]) => ({ name, text: strFromU8(content) }));
}

async function readTar(bytes: Uint8Array): Promise<RuleFile[]> {
  const files: RuleFile[] = [];
  const reader = Readable.from([Buffer.from(bytes)]).pipe(extract());
  for await (const entry of reader) {
    const { name, type, size = 0 } = entry.header;
    if (type !== 'file' || !isRuleFile(name) || size > MAX_FILE_BYTES) {
      entry.resume();
      continue;
    }
    const pieces: Buffer[] = [];
    for await (const piece of entry as AsyncIterable<Buffer>) pieces.push(piece);
    files.push({ name, text: Buffer.concat(pieces).toString('utf8') });
    if (files.length > MAX_FILES) throw tooLarge();
  }
  return files;
}

/**
 * The rule files of a ZIP, tar or gzipped tar archive; all others in it are left alone.
 * @throws Failure 422 for what is none of them, or holds too much
 */
export async function readArchive(bytes: Uint8Array): Promise<RuleFile[]> {
  const [first, second] = bytes;
  try {
    if (first === 0x50 && second === 0x4b) return readZip(bytes);
    if (first === 0x1f && second === 0x8b)
      return await readTar(gunzipSync(bytes, { maxOutputLength: MAX_BYTES }));
    if (Buffer.from(bytes.subarray(257, 262)).toString('latin1') === 'ustar') return await readTar(bytes);
  } catch (error) {
    if (error instanceof Failure) throw error;
    if ((error as { code?: string }).code === 'ERR_BUFFER_TOO_LARGE') throw tooLarge();
    throw new Failure('broken-archive', 'The archive is broken and cannot be unpacked.', {
      cause: error,
    });
  }
  throw new Failure('no-archive', 'This is no archive: send a ZIP, tar or tar.gz file of rules.');
}

/** A ZIP archive of files; a name that stands twice is told apart. */
export function writeArchive(files: readonly RuleFile[]): Uint8Array {
  const held: Record<string, Uint8Array> = {};
  for (const { name, text } of files) {
    let free = name;
    for (let again = 2; Object.hasOwn(held, free); again++)
      free = name.replace(/(\.ya?ml)?$/i, `-${again}$1`);
    held[free] = strToU8(text);
  }
  return zipSync(held);
}
