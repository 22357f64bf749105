// A quick reader for event records as they are nearly always written: elements, attributes, texts, the five entities and
// character references. Whatever else stands in a record (comments, sections, declarations, anything that is not well
// formed) is left to the full parser, which also says what is wrong.

/** What the quick reader tells of a record, in order. */
export interface PlainXmlHandler {
  open(name: string, attributes: Readonly<Record<string, string>>): void;
  text(text: string): void;
  close(): void;
}

const NAME = /[A-Za-z_][\w.-]{0,200}/y;
const NAME_OF_ATTRIBUTE = /[ \t\r\n]+([A-Za-z_][\w.:-]{0,200})=(?:"([^"<]*)"|'([^'<]*)')/y;
const END_OF_TAG = /[ \t\r\n]*(\/?)>/y;
const ENTITY = /&(?:#(\d{1,7})|#x([0-9A-Fa-f]{1,6})|(amp|lt|gt|quot|apos));/g;
const named: Readonly<Record<string, string>> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" };
// Characters that XML 1.0 allows nowhere, and ends of lines that a parser must change.
const UNUSUAL =
  // eslint-disable-next-line no-control-regex -- these are the characters that are looked for
  /[\u0000-\u0008\u000b-\u001f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?:[^\ud800-\udbff]|^)[\udc00-\udfff]|\]\]>/;

const isAllowed = (code: number): boolean =>
  code === 9 ||
  code === 10 ||
  code === 13 ||
  (code >= 32 && code < 0xd800) ||
  (code > 0xdfff && code < 0xfffe) ||
  (code > 0xffff && code <= 0x10ffff);

/** A text with its references resolved; null where one is none of the usual. */
function resolved(text: string): string | null {
  if (!text.includes('&')) return text;
  let good = true;
  let known = 0;
  const plain = text.replace(ENTITY, (_, decimal?: string, hex?: string, name?: string) => {
    known++;
    if (name !== undefined) return named[name] ?? '';
    const code = decimal === undefined ? parseInt(hex ?? '', 16) : Number(decimal);
    if (!isAllowed(code)) good = false;
    return good ? String.fromCodePoint(code) : '';
  });
  let signs = 0;
  for (let at = text.indexOf('&'); at >= 0; at = text.indexOf('&', at + 1)) signs++;
  return good && signs === known ? plain : null;
}

/** Normalises the white space of an attribute (XML 1.0, section 3.3.3). */
const attributeText = (text: string): string | null => {
  const plain = resolved(/[\t\n]/.test(text) ? text.replace(/[\t\n]/g, ' ') : text);
  return plain;
};

/**
 * Reads a record whose outer element is `outer`.
 * @returns false where it is not written as nearly all are: what the handler was told until then does not count
 */
export function readPlainXml(
  record: string,
  outer: string,
  handler: PlainXmlHandler,
  deepest: number,
): boolean {
  if (UNUSUAL.test(record)) return false;
  const open: string[] = [];
  let at = 0;
  while (at < record.length) {
    const next = record.indexOf('<', at);
    if (next !== at) {
      const text = resolved(next < 0 ? record.slice(at) : record.slice(at, next));
      if (text === null || (open.length === 0 && text.trim() !== '')) return false;
      if (open.length > 0) handler.text(text);
      if (next < 0) break;
      at = next;
    }
    if (record.charCodeAt(at + 1) === 0x2f) {
      const name = open.pop();
      if (name === undefined || !record.startsWith(name, at + 2)) return false;
      END_OF_TAG.lastIndex = at + 2 + name.length;
      const end = END_OF_TAG.exec(record);
      if (end === null || end[1] !== '') return false;
      handler.close();
      at = END_OF_TAG.lastIndex;
      if (open.length === 0) return record.slice(at).trim() === '';
      continue;
    }
    NAME.lastIndex = at + 1;
    const name = NAME.exec(record)?.[0];
    if (name === undefined || open.length >= deepest || (open.length === 0 && name !== outer)) return false;
    at = NAME.lastIndex;
    const attributes: Record<string, string> = {};
    for (;;) {
      NAME_OF_ATTRIBUTE.lastIndex = at;
      const match = NAME_OF_ATTRIBUTE.exec(record);
      if (match === null) break;
      const [, attribute = '', double, single] = match;
      const value = attributeText(double ?? single ?? '');
      if (value === null || Object.hasOwn(attributes, attribute)) return false;
      attributes[attribute] = value;
      at = NAME_OF_ATTRIBUTE.lastIndex;
    }
    END_OF_TAG.lastIndex = at;
    const end = END_OF_TAG.exec(record);
    if (end === null) return false;
    at = END_OF_TAG.lastIndex;
    handler.open(name, attributes);
    if (end[1] === '/') {
      handler.close();
      if (open.length === 0) return record.slice(at).trim() === '';
    } else open.push(name);
  }
  return false;
}
