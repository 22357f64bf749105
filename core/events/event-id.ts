/** Hashes a text by SHA-256 to hexadecimal digits; passed in, since the core has no crypto of its own. */
export type Sha256 = (text: string) => string;

/**
 * The stable id of an event: the first 16 bytes of SHA-256 over source and record, so that a record sent again
 * is the same event.
 * @param identity the record's text, or the id its source gave it
 * @returns 32 hexadecimal digits
 */
export const eventId = (source: string, identity: string, sha256: Sha256): string =>
  sha256(`${source}\n${identity}`).slice(0, 32);
