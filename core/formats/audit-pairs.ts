// Pairs of a record of the audit daemon, `name=value`, where a value stands bare or within quotes. Read sign by sign: a
// record has dozens, and this is what reading it takes its time for.

/** Told of each pair. @param quote the quote that the value stood in; empty for a bare one */
export type OnPair = (name: string, value: string, quote: '' | '"' | "'") => void;

const MAX_NAME = 64;

/** What a sign of ASCII may be in a name: 2 begins one, 1 goes on with it. */
const inNames = Uint8Array.from({ length: 128 }, (_, code) => {
  const sign = String.fromCharCode(code);
  return /[A-Za-z_]/.test(sign) ? 2 : /[\d-]/.test(sign) ? 1 : 0;
});

/** White space, as regular expressions know it. */
const isSpace = (code: number): boolean =>
  code <= 32
    ? code === 32 || (code >= 9 && code <= 13)
    : code >= 160 &&
      (code === 160 ||
        code === 0x1680 ||
        (code >= 0x2000 && code <= 0x200a) ||
        code === 0x2028 ||
        code === 0x2029 ||
        code === 0x202f ||
        code === 0x205f ||
        code === 0x3000 ||
        code === 0xfeff);

/** Where the name that ends before `end` begins, not before `from`; `end` where there is none. */
function beginOfName(text: string, from: number, end: number): number {
  let begin = end;
  const least = Math.max(from, end - MAX_NAME);
  for (let i = end - 1; i >= least; i--) {
    const may = inNames[text.charCodeAt(i)] ?? 0;
    if (may === 0) break;
    if (may === 2) begin = i;
  }
  return begin;
}

/** Tells of every pair of a text, from left to right. A quote that is never closed is the end of an empty value. */
export function eachPair(text: string, from: number, until: number, onPair: OnPair): void {
  let at = from;
  for (;;) {
    const sign = text.indexOf('=', at);
    if (sign < 0 || sign >= until) return;
    const begin = beginOfName(text, at, sign);
    if (begin === sign) {
      at = sign + 1;
      continue;
    }
    const name = text.slice(begin, sign);
    const first = text.charCodeAt(sign + 1);
    if (first === 34 || first === 39) {
      const quote = first === 34 ? '"' : "'";
      const close = text.indexOf(quote, sign + 2);
      if (close < 0 || close >= until) {
        onPair(name, '', '');
        at = sign + 1;
      } else {
        onPair(name, text.slice(sign + 2, close), quote);
        at = close + 1;
      }
      continue;
    }
    let end = sign + 1;
    for (; end < until; end++) {
      const code = text.charCodeAt(end);
      if (code === 34 || code === 39 || isSpace(code)) break;
    }
    onPair(name, text.slice(sign + 1, end), '');
    at = end;
  }
}
