import { utf16Reader, utf16Text } from './utf16.js';

// Values of binary event records as text, by their type.

/** What XML 1.0 cannot hold becomes the sign of what is unknown. */
const tidy = (text: string): string =>
  // eslint-disable-next-line no-control-regex -- these are the characters that are looked for
  text.replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '\ufffd').toWellFormed();

const NEEDS_ESCAPE = /[&<>]/;
/** What nearly all texts are made of, which stands as it is. */
const PLAIN = /^[\x20-%'-;=?-~\u00a1-\u024f]*$/;

/** A text of which XML can hold every character. */
export const cleanText = (text: string): string => (PLAIN.test(text) ? text : tidy(text));

/** A text as it stands between elements. */
export function escapeText(text: string): string {
  if (PLAIN.test(text)) return text;
  const clean = tidy(text);
  if (!NEEDS_ESCAPE.test(clean)) return clean;
  return clean.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');
}

/** A text as it stands in an attribute. */
export const escapeAttribute = (text: string): string =>
  escapeText(text)
    .replaceAll('"', '&quot;')
    .replaceAll('\n', '&#10;')
    .replaceAll('\t', '&#9;')
    .replaceAll('\r', '&#13;');

const hex = (bytes: Uint8Array): string =>
  Array.from(bytes, (byte) => byte.toString(16).padStart(2, '0').toUpperCase()).join('');

/** Ends of strings at the end are no part of them. */
const withoutEnd = (text: string): string => (text.endsWith('\0') ? text.replace(/\0+$/, '') : text);

const utf16 = (bytes: Uint8Array, at: number, size: number): string =>
  withoutEnd(utf16Text(bytes, at, size >> 1));

const latin = new TextDecoder('windows-1252');

function guid(view: DataView, at: number): string {
  const part = (value: number, digits: number): string =>
    value.toString(16).toUpperCase().padStart(digits, '0');
  const tail = Array.from({ length: 8 }, (_, i) => part(view.getUint8(at + 8 + i), 2)).join('');
  return `{${part(view.getUint32(at, true), 8)}-${part(view.getUint16(at + 4, true), 4)}-${part(view.getUint16(at + 6, true), 4)}-${tail.slice(0, 4)}-${tail.slice(4)}}`;
}

function sid(view: DataView, at: number, size: number): string {
  const count = view.getUint8(at + 1);
  if (size < 8 + 4 * count) return '';
  let authority = 0;
  for (let i = 0; i < 6; i++) authority = authority * 256 + view.getUint8(at + 2 + i);
  const rest = Array.from({ length: count }, (_, i) => `-${view.getUint32(at + 8 + 4 * i, true)}`).join('');
  return `S-${view.getUint8(at)}-${authority}${rest}`;
}

const SECONDS_TO_1970 = 11_644_473_600;
const STEPS = 10_000_000;
/** Two to the 32nd, as seconds and steps. */
const HIGH_SECONDS = 429;
const HIGH_STEPS = 4_967_296;
/** Beyond the year 9999 no date is written; and up to it numbers are exact. */
const MAX_HIGH = 0x2600_0000;

const pad2 = (value: number): string => (value < 10 ? `0${value}` : String(value));

let lastDay = NaN;
let lastDate = '';

/** The date of a day since 1970; records of one day stand together. */
function dateOf(day: number): string {
  if (day !== lastDay) {
    lastDate = new Date(day * 86_400_000).toISOString().slice(0, 10);
    lastDay = day;
  }
  return lastDate;
}

/** 100-nanosecond steps since 1601 as ISO 8601; the number itself where that is no date. */
function fileTime(view: DataView, at: number): string {
  const high = view.getUint32(at + 4, true);
  const low = view.getUint32(at, true);
  if (high >= MAX_HIGH) return String(view.getBigUint64(at, true));
  const steps = high * HIGH_STEPS + low;
  const seconds = high * HIGH_SECONDS + Math.floor(steps / STEPS) - SECONDS_TO_1970;
  const day = Math.floor(seconds / 86_400);
  const date = dateOf(day);
  if (date.length !== 10) return String(view.getBigUint64(at, true));
  const second = seconds - day * 86_400;
  const rest = String(steps % STEPS).padStart(7, '0');
  return `${date}T${pad2(Math.floor(second / 3600))}:${pad2(Math.floor(second / 60) % 60)}:${pad2(second % 60)}.${rest}00Z`;
}

function systemTime(view: DataView, at: number): string {
  const part = (i: number): number => view.getUint16(at + 2 * i, true);
  const pad = (value: number, digits: number): string => String(value).padStart(digits, '0');
  return `${pad(part(0), 4)}-${pad(part(1), 2)}-${pad(part(3), 2)}T${pad(part(4), 2)}:${pad(part(5), 2)}:${pad(part(6), 2)}.${pad(part(7), 3)}Z`;
}

/** A number with six decimals and an exponent of three digits, where that says it exactly; else its shortest form. */
function real(value: number, as: (value: number) => number): string {
  const short = value
    .toExponential(6)
    .replace(/e([+-])(\d+)$/, (_, sign: string, digits: string) => `e${sign}${digits.padStart(3, '0')}`);
  return as(Number(short)) === value ? short : String(value);
}

/** A value as text. A type that is not known is shown as its bytes. */
export function valueText(type: number, bytes: Uint8Array, view: DataView, at: number, size: number): string {
  switch (type) {
    case 0x01:
      return utf16(bytes, at, size);
    case 0x02:
      return latin.decode(bytes.subarray(at, at + size)).replace(/\0+$/, '');
    case 0x03:
      return String(view.getInt8(at));
    case 0x04:
      return String(view.getUint8(at));
    case 0x05:
      return String(view.getInt16(at, true));
    case 0x06:
      return String(view.getUint16(at, true));
    case 0x07:
      return String(view.getInt32(at, true));
    case 0x08:
      return String(view.getUint32(at, true));
    case 0x09:
      return String(view.getBigInt64(at, true));
    case 0x0a:
      return String(view.getBigUint64(at, true));
    case 0x0b:
      return real(view.getFloat32(at, true), Math.fround);
    case 0x0c:
      return real(view.getFloat64(at, true), (value) => value);
    case 0x0d:
      return size === 4
        ? view.getUint32(at, true) === 0
          ? 'false'
          : 'true'
        : hex(bytes.subarray(at, at + size));
    case 0x0f:
      return size === 16 ? guid(view, at) : hex(bytes.subarray(at, at + size));
    case 0x10:
      return String(size === 8 ? view.getBigUint64(at, true) : view.getUint32(at, true));
    case 0x14:
    case 0x15:
      return size === 8
        ? `0x${view.getBigUint64(at, true).toString(16).padStart(16, '0')}`
        : size === 4
          ? `0x${view.getUint32(at, true).toString(16).padStart(8, '0')}`
          : hex(bytes.subarray(at, at + size));
    case 0x11:
      return size === 8 ? fileTime(view, at) : hex(bytes.subarray(at, at + size));
    case 0x12:
      return size === 16 ? systemTime(view, at) : hex(bytes.subarray(at, at + size));
    case 0x13:
      return size >= 8 ? sid(view, at, size) : hex(bytes.subarray(at, at + size));
    default:
      return hex(bytes.subarray(at, at + size));
  }
}

const sizes: Readonly<Record<number, number>> = {
  0x03: 1,
  0x04: 1,
  0x05: 2,
  0x06: 2,
  0x07: 4,
  0x08: 4,
  0x09: 8,
  0x0a: 8,
  0x0b: 4,
  0x0c: 8,
  0x0d: 4,
  0x0f: 16,
  0x11: 8,
  0x12: 16,
  0x14: 4,
  0x15: 8,
};

const cleanUtf16 = utf16Reader(cleanText);

/** A value as text of which XML can hold every character; nearly all values are short texts that were met before. */
export function cleanValueText(
  type: number,
  bytes: Uint8Array,
  view: DataView,
  at: number,
  size: number,
): string {
  if (type !== 0x01) return cleanText(valueText(type, bytes, view, at, size));
  let length = size >> 1;
  while (length > 0 && bytes[at + 2 * length - 1] === 0 && bytes[at + 2 * length - 2] === 0) length--;
  return cleanUtf16(bytes, at, length);
}

/** Whether a value of a type has the bytes that it is read from. @param size in bytes; nothing is read of an empty one */
export const hasRoom = (type: number, size: number): boolean => size === 0 || size >= (sizes[type] ?? 0);

/** The values of a list, each as text. @param type that of one value */
export function valueTexts(
  type: number,
  bytes: Uint8Array,
  view: DataView,
  at: number,
  size: number,
): string[] {
  if (type === 0x01) {
    const text = utf16(bytes, at, size);
    return text === '' ? [] : text.split('\0');
  }
  if (type === 0x02)
    return latin
      .decode(bytes.subarray(at, at + size))
      .replace(/\0$/, '')
      .split('\0');
  if (type === 0x13) {
    const found: string[] = [];
    for (let place = at; place + 8 <= at + size;) {
      const own = 8 + 4 * view.getUint8(place + 1);
      if (place + own > at + size) break;
      found.push(sid(view, place, own));
      place += own;
    }
    return found;
  }
  const one = sizes[type];
  if (one === undefined) return [hex(bytes.subarray(at, at + size))];
  return Array.from({ length: Math.floor(size / one) }, (_, i) =>
    valueText(type, bytes, view, at + i * one, one),
  );
}
