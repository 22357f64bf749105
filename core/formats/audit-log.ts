import type { JsonObject } from '../base/json.js';
import { eachPair } from './audit-pairs.js';
import { lineCutter } from './cutters.js';
import { excerpt, unreadable, type Format } from './format.js';
import { joinById } from './joined.js';

// The log of the Linux audit daemon: `type=NAME msg=audit(SECONDS.MILLISECONDS:SERIAL): name=value …`. Records with the
// same time and serial are parts of one event. Values that could hold anything are written as hexadecimal digits; behind
// the group separator (0x1d) stand the same values as names.

const HEAD =
  /^(?:node=(\S{1,255}) )?type=([A-Z0-9_[\]]{1,64}) msg=audit\((\d{1,12}(?:\.\d{1,9})?):(\d{1,20})\):? ?(.*)$/s;
const SEPARATOR = '\u001d';

/** Fields that the daemon writes as hexadecimal digits where they hold a blank, a quote or a control character. */
const MAY_BE_HEX: ReadonlySet<string> = new Set([
  'acct',
  'cmd',
  'comm',
  'cwd',
  'data',
  'dir',
  'exe',
  'grp',
  'key',
  'name',
  'new-comm',
  'ocomm',
  'path',
  'proctitle',
  'vm',
  'watch',
]);
const ARGUMENT = /^a\d{1,3}$/;

const isHex = (text: string): boolean =>
  text.length >= 2 && text.length % 2 === 0 && /^[0-9A-F]+$/.test(text);

const decoder = new TextDecoder();

/** What a hexadecimal digit, 0 to 9 or A to F, stands for. */
const digitOf = (text: string, at: number): number => {
  const code = text.charCodeAt(at);
  return code < 58 ? code - 48 : code - 55;
};

function fromHex(text: string): string {
  const bytes = new Uint8Array(text.length / 2);
  let isPlain = true;
  for (let i = 0; i < bytes.length; i++) {
    const byte = digitOf(text, 2 * i) * 16 + digitOf(text, 2 * i + 1);
    bytes[i] = byte;
    isPlain &&= byte < 128;
  }
  return isPlain && bytes.length < 1000 ? String.fromCharCode(...bytes) : decoder.decode(bytes);
}

/** A bare value as it was before the daemon wrote it; the words of a command line stand apart by NUL. */
function valueOf(type: string, name: string, plain: string): string {
  if (plain.length % 2 !== 0) return plain;
  if (!MAY_BE_HEX.has(name)) {
    if (!ARGUMENT.test(name)) return plain;
    // The registers of a system call are numbers in hexadecimal, not texts.
    if (type === 'SYSCALL' && name.length === 2) return plain;
  }
  if (!isHex(plain)) return plain;
  const text = fromHex(plain);
  return name === 'proctitle' ? text.replaceAll('\u0000', ' ').trim() : text;
}

/** What the daemon writes where there is nothing to say: nobody signed in is the largest number there is. */
const saysNothing = (name: string, value: string): boolean =>
  value === '' ||
  value === '?' ||
  value === '(null)' ||
  ((value === '4294967295' || value === '-1') && (name === 'auid' || name === 'ses'));

/** A name that the daemon put in the place of a number, and did not know. */
const isNoName = (value: string): boolean => value === 'unset' || /^unknown\(\d{1,10}\)$/.test(value);

type Texts = Record<string, string>;

/** The first that says something counts. */
function put(into: Texts, name: string, value: string): void {
  // An object takes this for its prototype.
  if (name === '__proto__')
    Object.defineProperty(into, name, { value, enumerable: true, configurable: true });
  else if (!Object.hasOwn(into, name)) into[name] = value;
}

function readPairs(
  type: string,
  text: string,
  from: number,
  until: number,
  into: Texts,
  says: (name: string, value: string) => boolean,
): void {
  eachPair(text, from, until, (name, written, quote) => {
    if (quote === "'") {
      // A message inside of the message: what programs of user space say.
      readPairs(type, written, 0, written.length, into, says);
      return;
    }
    const value = quote === '' ? valueOf(type, name, written) : written;
    if (says(name, value)) put(into, name, value);
  });
}

const saysOfRecord = (name: string, value: string): boolean => !saysNothing(name, value);
const saysOfNames = (name: string, value: string): boolean => !saysNothing(name, value) && !isNoName(value);

interface Part {
  readonly type: string;
  /** With the type among them. */
  readonly fields: Texts;
}

/** @param enriched takes the names that the daemon put behind the record in the place of numbers, of all parts together */
function readPart(type: string, body: string, enriched: Texts): Part {
  const at = body.indexOf(SEPARATOR);
  const fields: Texts = { type };
  readPairs(type, body, 0, at < 0 ? body.length : at, fields, saysOfRecord);
  if (at >= 0) readPairs(type, body, at + 1, body.length, enriched, saysOfNames);
  return { type, fields };
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

function takeUp(from: Texts, into: Texts): void {
  for (const name in from) put(into, name, from[name] ?? '');
}

/** Events of the Linux audit daemon, each of all its records. */
export const auditLog: Format = {
  title: 'audit log of Linux',
  cutter: () => joinById(lineCutter(), idOf, isEnd),
  reader: () => (record) => {
    const parts: Part[] = [];
    const enriched: Texts = {};
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
      if (type !== 'EOE') parts.push(readPart(type, body, enriched));
    }
    const types = [...new Set(parts.map(({ type }) => type))];
    const [first] = types;
    if (first === undefined) return unreadable('not-audit', 'an end of an event without its beginning');
    // The first that says something counts: the system call, then its objects. What programs were given goes before
    // the registers of the call.
    const words = argumentsOf(parts);
    const ordered =
      words.length === 0
        ? parts
        : [...parts].sort((a, b) => Number(b.type === 'EXECVE') - Number(a.type === 'EXECVE'));
    const fields: Record<string, JsonObject[string]> = { ...ordered[0]?.fields };
    for (const part of ordered.slice(1)) takeUp(part.fields, fields as Texts);
    fields['type'] = types.length === 1 ? first : types;
    fields['time'] = time;
    fields['serial'] = serial;
    fields['event'] = first;
    if (node !== undefined) fields['node'] = node;
    if (words.length > 0) fields['command_line'] = words.join(' ');
    if (Object.keys(enriched).length > 0) fields['enriched'] = enriched;
    if (parts.length > 1) fields['parts'] = parts.map((part) => part.fields);
    return { fields };
  },
};
