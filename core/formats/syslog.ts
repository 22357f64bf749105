import type { JsonObject } from '../base/json.js';
import { lineCutter } from './cutters.js';
import { excerpt, unreadable, type Format } from './format.js';

const FACILITIES = [
  'kern',
  'user',
  'mail',
  'daemon',
  'auth',
  'syslog',
  'lpr',
  'news',
  'uucp',
  'cron',
  'authpriv',
  'ftp',
  'ntp',
  'audit',
  'alert',
  'clock',
  'local0',
  'local1',
  'local2',
  'local3',
  'local4',
  'local5',
  'local6',
  'local7',
];
const LEVELS = ['emergency', 'alert', 'critical', 'error', 'warning', 'notice', 'informational', 'debug'];

const PRIORITY = /^<(\d{1,3})>/;
// RFC 5424, section 6: VERSION SP TIMESTAMP SP HOSTNAME SP APP-NAME SP PROCID SP MSGID SP STRUCTURED-DATA [SP MSG]
const HEADER_5424 =
  /^1 (\S+) (\S{1,255}) (\S{1,48}) (\S{1,128}) (\S{1,32}) (-|(?:\[(?:[^\]\\"]|\\.|"(?:[^"\\]|\\.)*")*\])+)(?: (.*))?$/s;
// RFC 3164, section 4.1.2, and the same with the ISO time that many senders write instead.
const HEADER_3164 =
  /^((?:Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec) [ \d]\d \d\d:\d\d:\d\d|\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(?:\.\d{1,9})?(?:Z|[+-]\d\d:?\d\d)) (\S{1,255}) (.*)$/s;
const TAG = /^([^\s:[\]]{1,64})(?:\[([^\]\s]{1,32})\])?: ?(.*)$/s;

const given = (text: string | undefined): text is string => text !== undefined && text !== '-' && text !== '';

function readPriority(value: number): JsonObject {
  return { facility: FACILITIES[value >> 3] ?? String(value >> 3), level: LEVELS[value & 7] ?? '' };
}

// RFC 5424, section 6.3; read from place to place, so that no text costs more than its length.
const ELEMENT = /\[([^\s\]="]{1,255})/y;
const PARAMETER = /[ \t]{1,16}([^\s=\]"]{1,255})="((?:[^"\\]|\\.)*)"/sy;
const ELEMENT_END = /[ \t]{0,16}\]/y;

function readStructured(text: string): JsonObject {
  const found: Record<string, Record<string, string>> = Object.create(null) as typeof found;
  let at = 0;
  const read = (pattern: RegExp): RegExpExecArray | null => {
    pattern.lastIndex = at;
    const match = pattern.exec(text);
    if (match !== null) at = pattern.lastIndex;
    return match;
  };
  while (at < text.length) {
    const element = read(ELEMENT);
    const values: Record<string, string> = Object.create(null) as typeof values;
    if (element !== null) {
      for (let match = read(PARAMETER); match !== null; match = read(PARAMETER))
        values[match[1] ?? ''] = (match[2] ?? '').replace(/\\(["\\\]])/g, '$1');
    }
    if (element !== null && read(ELEMENT_END) !== null) found[element[1] ?? ''] = { ...values };
    else {
      // What is written otherwise is passed over, up to the next element.
      const next = text.indexOf('[', at + 1);
      if (next < 0) break;
      at = next;
    }
  }
  return { ...found };
}

function readHeader(text: string): JsonObject | null {
  const modern = HEADER_5424.exec(text);
  if (modern !== null) {
    const [, timestamp, hostname, program, pid, msgid, structured, message] = modern;
    return {
      ...(given(timestamp) && { timestamp }),
      ...(given(hostname) && { hostname }),
      ...(given(program) && { program }),
      ...(given(pid) && { pid }),
      ...(given(msgid) && { msgid }),
      ...(given(structured) && { structured: readStructured(structured) }),
      // A byte order mark may stand before UTF-8 text (RFC 5424, section 6.4).
      message: (message ?? '').replace(/^\ufeff/, ''),
    };
  }
  const old = HEADER_3164.exec(text);
  if (old === null) return null;
  const [, timestamp = '', hostname = '', rest = ''] = old;
  const tag = TAG.exec(rest);
  if (tag === null) return { timestamp, hostname, message: rest };
  const [, program = '', pid, message = ''] = tag;
  return { timestamp, hostname, program, ...(given(pid) && { pid }), message };
}

/** Syslog lines: RFC 5424 and RFC 3164, with or without the leading priority that files leave out. */
export const syslog: Format = {
  title: 'syslog lines (RFC 3164 or RFC 5424)',
  cutter: lineCutter,
  reader: () => (record) => {
    const priority = PRIORITY.exec(record);
    const value = Number(priority?.[1] ?? 0);
    const header = value > 191 ? null : readHeader(record.slice(priority?.[0].length ?? 0));
    if (header === null) return unreadable('not-syslog', `no syslog line: ${excerpt(record)}`);
    return { fields: priority === null ? header : { ...readPriority(value), ...header } };
  },
};
