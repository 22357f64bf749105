/** A place in a template: `{name}`. Nothing else means anything, so that a template can run nothing. */
const PLACE = /\{([a-z_]+(?:\.[\w.-]+)?)\}/gi;
/** Signs that steer terminals, mail headers and logs. */
// eslint-disable-next-line no-control-regex -- they are what is looked for
const CONTROL = /[\u0000-\u001f\u007f-\u009f\u2028\u2029\u202a-\u202e\u2066-\u2069]/g;
const LONGEST_VALUE = 500;

/** What an alert gives to its templates; fields of its newest event are `event.NAME`. */
export const placeNames = [
  'title',
  'level',
  'subject',
  'matches',
  'first',
  'last',
  'link',
  'rule',
  'alert',
] as const;

/** The names that a template asks for. */
export const placesIn = (template: string): string[] =>
  [...template.matchAll(PLACE)].map(([, name]) => name ?? '');

/** A value as it may stand in a message: one line, bounded, with no sign that steers. */
export function plainValue(value: string): string {
  const clean = value.replace(CONTROL, ' ');
  const signs = Array.from(clean);
  return signs.length <= LONGEST_VALUE ? clean : `${signs.slice(0, LONGEST_VALUE).join('')}…`;
}

/** Fills a template; a place without a value stays empty. Values are never looked through for places again. */
export const fillTemplate = (template: string, values: Readonly<Record<string, string>>): string =>
  template.replace(PLACE, (_, name: string) =>
    plainValue(Object.hasOwn(values, name) ? (values[name] ?? '') : ''),
  );
