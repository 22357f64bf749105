import type { Format } from './format.js';
import { json } from './json.js';
import { syslog } from './syslog.js';

/** Every shape of records that can be read. */
export const formats = { json, syslog } satisfies Record<string, Format>;

export type FormatName = keyof typeof formats;
export const formatNames = Object.keys(formats) as FormatName[];
