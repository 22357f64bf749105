import { lineCutter } from './cutters.js';
import type { Format } from './format.js';

/** Lines of no particular shape; the recipe's patterns take them apart. */
export const plainText: Format = {
  title: 'lines of text',
  cutter: lineCutter,
  reader: () => (record) => ({ fields: { message: record } }),
};
