import { createHash } from 'node:crypto';
import { canonicalJson } from '../../core/cases/canonical.js';
import { Failure, notFound } from '../failure.js';
import type { CaseDesk } from './desk.js';
import { briefOf, sha256Of } from './freeze.js';
import type { CasePins } from './pins.js';
import { NAME_OF_FILE, PUT_FILE, READ_FILE, SIZE_OF_FILES } from './sql.js';

/** One file, and all files of a case, hold at most so many bytes. */
export const MAX_FILE = 10 * 1024 * 1024;
const MAX_FILES = 100 * 1024 * 1024;

/** Files that are pinned to cases: kept as they came, given out as they came, and never shown. */
export class CaseFiles {
  constructor(
    private readonly desk: CaseDesk,
    private readonly pins: CasePins,
  ) {}

  /** Pins a file; the same one again stays as it was. @throws Failure 404; 413 for one that is too large; 409 where the case is full */
  async add(
    id: number,
    { name, bytes, why }: { readonly name: string; readonly bytes: Buffer; readonly why: string },
    who: string,
  ): Promise<void> {
    if (bytes.length > MAX_FILE)
      throw new Failure('too-large', `A file holds at most ${MAX_FILE.toLocaleString('en')} bytes.`);
    if (bytes.length === 0) throw new Failure('not-readable', 'The file is empty.');
    const sha256 = createHash('sha256').update(bytes).digest('hex');
    const frozen = { file: { name, size: bytes.length, sha256 } };
    const text = canonicalJson(frozen);
    await this.desk.work(id, async (client) => {
      const { rows } = await client.query<{ bytes: number }>(SIZE_OF_FILES, [id]);
      if ((rows[0]?.bytes ?? 0) + bytes.length > MAX_FILES)
        throw new Failure(
          'case-full',
          `The files of a case hold at most ${MAX_FILES.toLocaleString('en')} bytes. Take one off first.`,
        );
      await client.query(PUT_FILE, [id, sha256, bytes]);
      await this.pins.pinIn(
        client,
        id,
        { kind: 'file', ref: sha256, title: name, why },
        { text, sha256: sha256Of(text), says: briefOf(frozen) },
        who,
      );
    });
  }

  /** A file as it came; its hash is looked at first. @throws Failure 404; 500 where it is not what it was */
  async read(id: number, sha256: string): Promise<{ readonly name: string; readonly bytes: Buffer }> {
    const { pool } = this.desk;
    const [file, pin] = await Promise.all([
      pool.query<{ bytes: Buffer }>(READ_FILE, [id, sha256]),
      pool.query<{ title: string }>(NAME_OF_FILE, [id, sha256]),
    ]);
    const bytes = file.rows[0]?.bytes;
    if (bytes === undefined) throw notFound('file of this case');
    if (createHash('sha256').update(bytes).digest('hex') !== sha256)
      throw new Failure('internal', 'The file is not what it was when it was pinned.');
    return { name: pin.rows[0]?.title ?? sha256, bytes };
  }
}
