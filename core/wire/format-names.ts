/** Every shape of records that can be read, by the name it has in recipes and requests. */
export const formatNames = [
  'json',
  'syslog',
  'csv',
  'key-value',
  'combined-log',
  'flow-records',
  'os-event-xml',
  'audit-log',
  'text',
] as const;
export type FormatName = (typeof formatNames)[number];
