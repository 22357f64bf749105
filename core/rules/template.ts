import { visibleText } from '../text/visible.js';

/** A place in a template: `{name}`. Nothing else means anything, so that a template can run nothing. */
const PLACE = /\{([a-z_]+(?:\.[\w.-]+)?)\}/gi;
const MAX_VALUE_LENGTH = 500;

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

/** Fields that hold the id of somebody, whose name may stand beside it as `name.FIELD`. */
export const namedFields = ['user_id', 'target_id'] as const;

/** The names that a template asks for. */
export const placesIn = (template: string): string[] =>
  [...template.matchAll(PLACE)].map(([, name]) => name ?? '');

/** A value as it may stand in a message: one line, bounded, with what steers or hides shown as marks. */
export function plainValue(value: string): string {
  const clean = visibleText(value.replace(/[\t\r\n]+/g, ' '));
  const characters = Array.from(clean);
  return characters.length <= MAX_VALUE_LENGTH ? clean : `${characters.slice(0, MAX_VALUE_LENGTH).join('')}…`;
}

/**
 * A value as it may stand in a chat: it calls nobody, and is no link. What a room takes for a mention or an address is
 * spelled with a look-alike.
 */
export const chatValue = (value: string): string =>
  plainValue(value)
    .replaceAll('@', '＠')
    .replaceAll('://', '：//')
    .replace(/\b(www)\./gi, '$1．')
    .replace(/[<>]/g, (sign) => (sign === '<' ? '‹' : '›'))
    .replace(/\]\(/g, '] (');

/** Fills a template; a place without a value stays empty. Values are never looked through for places again. */
export const fillTemplate = (template: string, values: Readonly<Record<string, string>>): string =>
  template.replace(PLACE, (_, name: string) =>
    plainValue(Object.hasOwn(values, name) ? (values[name] ?? '') : ''),
  );
