import { promisify } from 'node:util';
import { gunzip, gzip } from 'node:zlib';

/** A page that was packed is no larger than this, bytes. */
const MAX_UNPACKED_BYTES = 200_000_000;

/** A page of HTML as it is kept: in UTF-8, packed by gzip (RFC 1952). */
export const packPage: (html: string) => Promise<Buffer> = promisify<string, Buffer>(gzip);

const unpack = promisify(gunzip);

/** A page as it was before it was packed. @throws Error for what is none, or would be larger than any page */
export const unpackPage = (page: Buffer): Promise<Buffer> =>
  unpack(page, { maxOutputLength: MAX_UNPACKED_BYTES });
