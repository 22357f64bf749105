import { lowerAscii } from '../../base/code-points.js';
import { SEARCH_SEPARATOR, searchedAlone } from '../../events/search-extra.js';
import { columnDef, columnNames } from '../../events/columns.js';
import { kindNames, outcomes, severities } from '../../events/kinds.js';
import type { SqlWriter } from '../../sql/sql-writer.js';
import { column } from '../../sql/sql-writer.js';

const UNSEARCHED: ReadonlySet<string> = new Set(['id', 'time', 'received']);

const SEPARATOR = SEARCH_SEPARATOR;
/** What columns of fixed words may hold. */
const words: Readonly<Record<string, readonly string[]>> = {
  kind: kindNames,
  outcome: outcomes,
  severity: severities,
};

/** A pattern that finds a text anywhere. */
const anywhere = (text: string): string => `%${text.replace(/[\\%_]/g, '\\$&')}%`;

/**
 * `has`: a text anywhere in the stored event, ASCII letters ignoring case: in the raw record, in what does not stand
 * there as it is, or in the few columns that are searched alone. An event of which that is not known is searched value
 * by value, and so is a text that would fit across two of them.
 */
export function emitHas(out: SqlWriter, needle: string): string {
  const pattern = out.param(anywhere(needle), 'text');
  const inValues = emitInValues(out, needle, pattern);
  const inRaw = `${column('raw')} COLLATE "C" ILIKE ${pattern}`;
  if (needle.includes(SEPARATOR)) return `(${inRaw} OR ${inValues})`;
  const lowered = lowerAscii(needle);
  const alone = searchedAlone.flatMap((name) => {
    const fixed = words[name];
    if (fixed === undefined) return [`${column(name)} COLLATE "C" ILIKE ${pattern}`];
    const fitting = fixed.filter((word) => word.includes(lowered));
    return fitting.length === 0 ? [] : [`${column(name)} = ANY(${out.param(fitting, 'text[]')})`];
  });
  return `(${inRaw} OR CASE WHEN "search_extra" IS NULL THEN ${inValues} ELSE ${[`"search_extra" ILIKE ${pattern}`, ...alone].join(' OR ')} END)`;
}

/**
 * A text in any value of an event. The columns are searched as one text; JSON first by its spelling, which is quick,
 * and only what passes is searched value by value, since a key may have matched.
 */
function emitInValues(out: SqlWriter, needle: string, pattern: string): string {
  const searched = columnNames.filter((name) => !UNSEARCHED.has(name));
  // A number is spelled in few characters, an address too: columns whose values cannot hold the needle are left alone.
  const maybeNumber = /^[0-9.-]*$/.test(needle);
  const maybeAddress = /^[0-9a-f.:]*$/i.test(needle);
  const texts: string[] = [];
  const documents: string[] = [];
  for (const name of searched) {
    const { type } = columnDef(name);
    if (name === 'raw') continue;
    if (type === 'text') texts.push(column(name));
    else if (type === 'texts')
      texts.push(`array_to_string(${column(name)}, ${out.param(SEPARATOR, 'text')})`);
    else if (type === 'number' && maybeNumber) texts.push(`wick.number_text(${column(name)})`);
    else if (type === 'address' && maybeAddress) texts.push(`host(${column(name)})`);
    else if (type === 'addresses' && maybeAddress)
      texts.push(`array_to_string(${column(name)}, ${out.param(SEPARATOR, 'text')})`);
    else if (type === 'any') documents.push(column(name));
  }
  const inTexts = needle.includes(SEPARATOR)
    ? texts.map((text) => `(${text}) COLLATE "C" ILIKE ${pattern}`).join(' OR ')
    : `concat_ws(${out.param(SEPARATOR, 'text')}, ${texts.join(', ')}) COLLATE "C" ILIKE ${pattern}`;
  const quick = maybeNumber
    ? ''
    : `::text COLLATE "C" ILIKE ${out.param(anywhere(JSON.stringify(needle).slice(1, -1)), 'text')} AND `;
  const lowered = out.param(lowerAscii(needle), 'text');
  const inDocuments = documents.map(
    (document) => `(${quick === '' ? '' : document + quick}wick.json_has(${document}, ${lowered}))`,
  );
  return `(${inTexts} OR ${inDocuments.join(' OR ')})`;
}
