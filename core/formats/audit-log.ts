import type { JsonObject } from '../base/json.js';
import { lineCutter } from './cutters.js';
import { excerpt, unreadable, type Format } from './format.js';
import { joinById } from './joined.js';

// The log of the Linux audit daemon: `type=NAME msg=audit(SECONDS.MILLISECONDS:SERIAL): name=value …`. Records with the
// same time and serial are parts of one event. Values that could hold anything are written as hexadecimal digits; behind
// the group separator (0x1d) stand the same values as names.

const HEAD =
  /^(?:node=(\S{1,255}) )?type=([A-Z0-9_[\]]{1,64}) msg=audit\((\d{1,12}(?:\.\d{1,9})?):(\d{1,20})\):? ?(.*)$/s;
const PAIR = /([A-Za-z_][\w-]{0,63})=(?:"([^"]*)"|'([^']*)'|([^\s'"]*))/g;
const SEPARATOR = '\u001d';

/** Fields that the daemon writes as hexadecimal digits where they hold a blank, a quote or a control character. */
const MAY_BE_HEX =
  /^(?:a\d{1,3}|acct|cmd|comm|cwd|data|dir|exe|grp|key|name|new-comm|ocomm|path|proctitle|vm|watch)$/;

const isHex = (text: string): boolean =>
  text.length >= 2 && text.length % 2 === 0 && /^[0-9A-F]+$/.test(text);

const decoder = new TextDecoder();

function fromHex(text: string): string {
  const bytes = Uint8Array.from({ length: text.length / 2 }, (_, i) =>
    parseInt(text.slice(2 * i, 2 * i + 2), 16),
  );
  return decoder.decode(bytes);
}

/** A value as it was before the daemon wrote it; the words of a command line stand apart by NUL. */
function valueOf(type: string, name: string, plain: string): string {
  // The registers of a system call are numbers in hexadecimal, not texts.
  const isRegister = type === 'SYSCALL' && /^a\d$/.test(name);
  if (isRegister || !MAY_BE_HEX.test(name) || !isHex(plain)) return plain;
  const text = fromHex(plain);
  return name === 'proctitle' ? text.replaceAll('\u0000', ' ').trim() : text;
}

/** Nobody has signed in: the daemon writes the largest number there is. */
const isUnset = (name: string, value: string): boolean =>
  (name === 'auid' || name === 'ses') && (value === '4294967295' || value === '-1');

const given = (text: string | undefined): text is string =>
  text !== undefined && text !== '(null)' && text !== '';

function readPairs(type: string, text: string, into: Record<string, string>): void {
  for (const [, name = '', quoted, single, plain] of text.matchAll(PAIR)) {
    if (single !== undefined) {
      // A message inside of the message: what programs of user space say.
      readPairs(type, single, into);
      continue;
    }
    const value = quoted ?? (plain === undefined ? undefined : valueOf(type, name, plain));
    if (given(value) && value !== '?' && !isUnset(name, value)) into[name] ??= value;
  }
}

interface Part {
  readonly type: string;
  readonly fields: Record<string, string>;
  readonly enriched: Record<string, string>;
}

function readPart(type: string, body: string): Part {
  const at = body.indexOf(SEPARATOR);
  const fields = Object.create(null) as Record<string, string>;
  const enriched = Object.create(null) as Record<string, string>;
  readPairs(type, at < 0 ? body : body.slice(0, at), fields);
  if (at >= 0) readPairs(type, body.slice(at + 1), enriched);
  return { type, fields, enriched };
}

/** The arguments of a program that was started, in their order; long ones come in pieces (`a1[0]`). */
function argumentsOf(parts: readonly Part[]): string[] {
  const words: string[] = [];
  for (const { type, fields } of parts)
    if (type === 'EXECVE')
      for (let i = 0; fields[`a${i}`] !== undefined && i < 1000; i++) words.push(fields[`a${i}`] ?? '');
  return words;
}

const ID = / msg=audit\(([\d.]{1,24}:\d{1,20})\)/;
/** Records of user space stand alone: nothing more comes of them. */
const ALONE = /(?:^| )type=(?:USER|CRED|ADD|DEL|SERVICE|DAEMON|SYSTEM|GRP|ACCT|CHUSER|CHGRP)_/;
const idOf = (line: string): string | null => {
  const head = line.slice(0, 400);
  return ALONE.test(head) ? null : (ID.exec(head)?.[1] ?? null);
};
const isEnd = (line: string): boolean => /(?:^| )type=(?:EOE|PROCTITLE) /.test(line.slice(0, 300));

/** Events of the Linux audit daemon, each of all its records. */
export const auditLog: Format = {
  title: 'audit log of Linux',
  cutter: () => joinById(lineCutter(), idOf, isEnd),
  reader: () => (record) => {
    const parts: Part[] = [];
    let time = '';
    let serial = '';
    let node: string | undefined;
    for (const line of record.split('\n')) {
      const head = HEAD.exec(line);
      if (head === null) return unreadable('not-audit', `no record of an audit log: ${excerpt(line)}`);
      const [, from, type = '', moment = '', number = '', body = ''] = head;
      node ??= from;
      time ||= moment;
      serial ||= number;
      if (type !== 'EOE') parts.push(readPart(type, body));
    }
    const fields: Record<string, JsonObject[string]> = Object.create(null) as Record<
      string,
      JsonObject[string]
    >;
    // The first that says something counts: the system call, then its objects. What programs were given goes before
    // the registers of the call.
    const words = argumentsOf(parts);
    const ordered =
      words.length === 0
        ? parts
        : [...parts].sort((a, b) => Number(b.type === 'EXECVE') - Number(a.type === 'EXECVE'));
    for (const part of ordered)
      for (const [name, value] of Object.entries(part.fields)) fields[name] ??= value;
    const enriched: Record<string, string> = {};
    for (const part of ordered)
      for (const [name, value] of Object.entries(part.enriched)) enriched[name] ??= value;
    const types = [...new Set(parts.map(({ type }) => type))];
    if (types.length === 0) return unreadable('not-audit', 'an end of an event without its beginning');
    return {
      fields: {
        ...fields,
        type: types.length === 1 ? (types[0] ?? '') : types,
        time,
        serial,
        event: types[0] ?? '',
        ...(node !== undefined && { node }),
        ...(words.length > 0 && { command_line: words.join(' ') }),
        ...(Object.keys(enriched).length > 0 && { enriched }),
        ...(parts.length > 1 && { parts: parts.map(({ type, fields: own }) => ({ type, ...own })) }),
      },
    };
  },
};
