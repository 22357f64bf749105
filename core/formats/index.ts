import { regexTest } from '../text/regex-match.js';
import { parseRegex } from '../text/regex-syntax.js';
import type { FormatName } from '../wire/format-names.js';
import { auditLog } from './audit-log.js';
import { combinedLog } from './combined-log.js';
import { csv } from './csv.js';
import { flowRecords } from './flow-records.js';
import { lineCutter } from './cutters.js';
import type { Cutter, Format } from './format.js';
import { goesOnOf, idOfExpression, joinById, joinLines, type RecordShape } from './joined.js';
import { wrappedListCutter } from './wrapped.js';
import { json } from './json.js';
import { keyValue } from './key-value.js';
import { osEventXml } from './os-event-xml.js';
import { plainText } from './plain-text.js';
import { syslog } from './syslog.js';

/** Every shape of records that can be read. */
export const formats = {
  json,
  syslog,
  csv,
  'key-value': keyValue,
  'combined-log': combinedLog,
  'flow-records': flowRecords,
  'os-event-xml': osEventXml,
  'audit-log': auditLog,
  text: plainText,
} satisfies Record<FormatName, Format>;

/**
 * Cuts a stream of a format into records, as a recipe says that lines or documents make them up.
 * @throws RegexError for an expression that is none
 */
export function cutterOf(format: FormatName, records: RecordShape | undefined): Cutter {
  if (records === undefined) return formats[format].cutter();
  if (records.list !== undefined) return wrappedListCutter(records.list.split('.'));
  if (records.joinedBy !== undefined) {
    const isEnd = records.ends === undefined ? () => false : regexTest(parseRegex(records.ends));
    return joinById(lineCutter(), idOfExpression(records.joinedBy), isEnd);
  }
  const goesOn = goesOnOf(records);
  return goesOn === null ? formats[format].cutter() : joinLines(lineCutter(), goesOn);
}
