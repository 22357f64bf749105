/**
 * The types of values in Wick. `any` is a value whose type is known only row by row: it is held as JSON
 * (text, number, true/false, list, object), times and addresses in it are text.
 */
export type ValueType = 'text' | 'number' | 'time' | 'address' | 'truth' | 'texts' | 'addresses' | 'any';

/** How messages call a type. */
export const typeNames: Readonly<Record<ValueType, string>> = {
  text: 'text',
  number: 'a number',
  time: 'a time',
  address: 'an address',
  truth: 'a truth value',
  texts: 'a list of texts',
  addresses: 'a list of addresses',
  any: 'a value of any type',
};

/** The type of one element of a list type; other types are their own. */
export function elementType(type: ValueType): ValueType {
  return type === 'texts' ? 'text' : type === 'addresses' ? 'address' : type;
}

export const isListType = (type: ValueType): boolean => type === 'texts' || type === 'addresses';

/** Types whose values are written and read as text, so that text functions take them. */
export const readsAsText = (type: ValueType): boolean =>
  type === 'text' || type === 'address' || type === 'time';

/**
 * The one type that can hold values of both, as `if` and `coalesce` need it:
 * text for anything that reads as text, otherwise `any`.
 */
export function commonType(a: ValueType, b: ValueType): ValueType {
  if (a === b) return a;
  return readsAsText(a) && readsAsText(b) ? 'text' : 'any';
}
