/** Hashes a text by SHA-256 to hexadecimal digits; passed in, since the core has no crypto of its own. */
export type Sha256 = (text: string) => string;

/**
 * The stable id of an event: the first 16 bytes of SHA-256 over source, record and what tells it from identical records
 * of the same delivery, so that a delivery sent again is recognised and identical records all count.
 * @param identity the record's text, or the id its source gave it
 * @param mark as {@link recordMark} makes it; empty for the first of its kind and for records with an id of their own
 * @returns 32 hexadecimal digits
 */
export const eventId = (source: string, identity: string, sha256: Sha256, mark = ''): string =>
  sha256(`${source}\n${identity}${mark}`).slice(0, 32);

/**
 * What tells a record from identical ones. No stored text holds NUL, so that no record can imitate the mark of another.
 * @param earlier how many identical records came before it in the same delivery
 * @param delivery the name of the delivery, where its sender gives one
 * @returns empty for the first record of an unnamed delivery
 */
export const recordMark = (earlier: number, delivery = ''): string =>
  earlier === 0 && delivery === '' ? '' : `\0${earlier}\0${delivery}`;
