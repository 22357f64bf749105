import { base64Of, utf8Of } from '../../text/base64.js';
import { literalOf } from '../text-pattern.js';
import type { Chain, Modifier, Piece } from './modifier.js';

// Values that are written plainly and looked for as they were encoded. Offsets of base64: the text may stand at any of
// three places within the groups of three bytes (RFC 4648, section 4), and only the characters that rest on it alone are
// looked for.

/** The bytes of a piece. @throws Error where a wildcard would have to be encoded */
function bytesOf(piece: Piece): Uint8Array {
  if (typeof piece !== 'string') return piece;
  const literal = literalOf(piece);
  if (literal === null) throw new Error('a wildcard cannot be encoded: write it as \\* or \\?');
  return utf8Of(literal);
}

/** UTF-16 of a text, two bytes a unit. */
function utf16Of(piece: Piece, little: boolean, mark: boolean): Uint8Array {
  if (typeof piece !== 'string') throw new Error('a text is encoded once');
  const literal = literalOf(piece);
  if (literal === null) throw new Error('a wildcard cannot be encoded: write it as \\* or \\?');
  const text = mark ? `\ufeff${literal}` : literal;
  const bytes = new Uint8Array(text.length * 2);
  const view = new DataView(bytes.buffer);
  for (let i = 0; i < text.length; i++) view.setUint16(i * 2, text.charCodeAt(i), little);
  return bytes;
}

function requireText(chain: Chain, name: string): void {
  if (chain.kind !== 'text' || chain.part !== null || chain.before || chain.after)
    throw new Error(`"${name}" cannot follow the modifiers before it`);
}

const utf16 = (name: string, meaning: string, little: boolean, mark: boolean): Modifier => ({
  meaning,
  apply(chain) {
    requireText(chain, name);
    if (chain.bytes) throw new Error(`"${name}" cannot follow another encoding`);
    return { ...chain, bytes: true, encode: [...chain.encode, (piece) => [utf16Of(piece, little, mark)]] };
  },
});

export const utf16le = utf16('utf16le', 'the text in UTF-16, low bytes first; base64 follows', true, false);
export const utf16be = utf16('utf16be', 'the text in UTF-16, high bytes first; base64 follows', false, false);
export const utf16any = utf16('utf16', 'the text in UTF-16 with its mark; base64 follows', true, true);
export const wide = utf16('wide', 'as utf16le', true, false);

/** What is compared in base64 is spelled in capitals and small letters that matter. */
const base64With = (
  name: string,
  meaning: string,
  encode: (bytes: Uint8Array) => readonly string[],
): Modifier => ({
  meaning,
  apply(chain) {
    requireText(chain, name);
    return {
      ...chain,
      bytes: false,
      cased: true,
      encode: [...chain.encode, (piece) => encode(bytesOf(piece))],
    };
  },
});

export const base64 = base64With('base64', 'the text in base64', (bytes) => [base64Of(bytes)]);

/** Characters at the beginning that rest on what stands before the text, by how many bytes do. */
const BEFORE = [0, 2, 3] as const;
/** Characters at the end that rest on what comes after, by how many bytes are left over. */
const AFTER = [0, 3, 2] as const;

export const base64offset = base64With(
  'base64offset',
  'the text in base64, at any of the three places it may stand',
  (bytes) =>
    BEFORE.map((characters, offset) => {
      const shifted = new Uint8Array(bytes.length + offset);
      shifted.set(bytes, offset);
      const text = base64Of(shifted);
      const left = AFTER[shifted.length % 3] ?? 0;
      return text.slice(characters, text.length - left);
    }),
);

const DASHES = ['-', '/', '–', '—', '―'] as const;
/** A dash at the beginning of a word. */
const LEADING_DASH = /(?<![^\s"'=,;(])[-/–—―](?=[\p{L}\p{N}])/gu;
/** More mixtures are refused. */
const MAX_DASHES = 5;

export const windash: Modifier = {
  meaning: 'the dash before each option may be any of - / – — ―',
  apply(chain) {
    // Where in the value the text is looked for may be said before or after.
    if (chain.kind !== 'text' || chain.part !== null)
      throw new Error('"windash" cannot follow the modifiers before it');
    if (chain.bytes || chain.encode.length > 0) throw new Error('"windash" stands before other modifiers');
    return { ...chain, encode: [...chain.encode, varyDashes] };
  },
};

function varyDashes(piece: Piece): string[] {
  if (typeof piece !== 'string') throw new Error('"windash" is for texts');
  const places = Array.from(piece.matchAll(LEADING_DASH), ({ index }) => index);
  if (places.length > MAX_DASHES)
    throw new Error(
      `"windash" varies at most ${MAX_DASHES} dashes of a value, and this one has ${places.length}`,
    );
  return places.reduce<string[]>(
    (texts, at) =>
      texts.flatMap((text) => DASHES.map((dash) => text.slice(0, at) + dash + text.slice(at + 1))),
    [piece],
  );
}
