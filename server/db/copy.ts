import { once } from 'node:events';
import { finished } from 'node:stream/promises';
import type { ClientBase } from 'pg';
import { from as copyFrom } from 'pg-copy-streams';

/** Bytes gathered before they are handed to the connection. */
const CHUNK = 1 << 16;

const ESCAPES: Readonly<Record<string, string>> = { '\\': '\\\\', '\t': '\\t', '\n': '\\n', '\r': '\\r' };

/** A text as a value in COPY's text format (PostgreSQL manual, COPY, 'Text Format'). NUL cannot be stored and becomes U+FFFD. */
export function copyText(text: string): string {
  const clean = text.includes('\0') ? text.replaceAll('\0', '\ufffd') : text;
  return /[\\\t\n\r]/.test(clean) ? clean.replace(/[\\\t\n\r]/g, (sign) => ESCAPES[sign] ?? sign) : clean;
}

/** Streams lines into a COPY statement on a connection; waits when the connection is behind. */
export async function copyLines(
  client: ClientBase,
  statement: string,
  lines: Iterable<string>,
): Promise<void> {
  const stream = client.query(copyFrom(statement));
  const done = finished(stream);
  // The writing below may fail first; the failure itself is reported by `done`.
  done.catch(() => undefined);
  let held: string[] = [];
  let size = 0;
  const flush = async (): Promise<void> => {
    const ready = stream.write(held.join(''));
    held = [];
    size = 0;
    if (!ready) await Promise.race([once(stream, 'drain'), done]);
  };
  for (const line of lines) {
    held.push(line);
    size += line.length;
    if (size >= CHUNK) await flush();
  }
  if (size > 0) await flush();
  stream.end();
  await done;
}
