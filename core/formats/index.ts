import type { FormatName } from '../wire/format-names.js';
import { combinedLog } from './combined-log.js';
import { csv } from './csv.js';
import { flowRecords } from './flow-records.js';
import type { Format } from './format.js';
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
  text: plainText,
} satisfies Record<FormatName, Format>;
