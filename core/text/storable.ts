/** Text as PostgreSQL can keep it: NUL and halves of surrogate pairs become U+FFFD. */
export const storable = (text: string): string =>
  (text.includes('\0') ? text.replaceAll('\0', '\ufffd') : text).toWellFormed();
