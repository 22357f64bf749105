import type { ValueType } from '../events/types.js';

/** What an argument must be; a value of another type makes the call null, and is noted. */
export type Argument =
  'text' | 'number' | 'time' | 'address' | 'anything' | 'duration' | 'zone' | 'condition';

export interface FunctionDef {
  readonly arguments: readonly Argument[];
  /** How many of the arguments, from the end, may be left away. */
  readonly optional?: number;
  /** The last argument may be repeated. */
  readonly repeats?: true;
  /** `common` is the one type that holds all arguments of type `anything`. */
  readonly result: ValueType | 'common';
  /** As it is called, for completion. */
  readonly call: string;
  readonly meaning: string;
}

/** Every function of the language: its arguments, result and plain words. Both engines implement each. */
export const functions = {
  lower: { arguments: ['text'], result: 'text', call: 'lower(text)', meaning: 'in small letters' },
  upper: { arguments: ['text'], result: 'text', call: 'upper(text)', meaning: 'in capital letters' },
  trim: {
    arguments: ['text'],
    result: 'text',
    call: 'trim(text)',
    meaning: 'without white space at either end',
  },
  length: {
    arguments: ['text'],
    result: 'number',
    call: 'length(text)',
    meaning: 'how many characters (code points)',
  },
  substr: {
    arguments: ['text', 'number', 'number'],
    optional: 1,
    result: 'text',
    call: 'substr(text, start, count)',
    meaning: 'a part, counted from 1',
  },
  split: {
    arguments: ['text', 'text', 'number'],
    result: 'text',
    call: "split(text, ',', n)",
    meaning: 'part n between separators, negative from the end',
  },
  replace: {
    arguments: ['text', 'text', 'text'],
    result: 'text',
    call: "replace(text, 'old', 'new')",
    meaning: 'every occurrence replaced, exactly as written',
  },
  concat: {
    arguments: ['anything'],
    repeats: true,
    result: 'text',
    call: 'concat(a, b, …)',
    meaning: 'texts joined, null as nothing',
  },
  coalesce: {
    arguments: ['anything'],
    repeats: true,
    result: 'common',
    call: 'coalesce(a, b, …)',
    meaning: 'the first that is not null',
  },
  if: {
    arguments: ['condition', 'anything', 'anything'],
    result: 'common',
    call: 'if(condition, a, b)',
    meaning: 'a where the condition holds, else b',
  },
  number: {
    arguments: ['anything'],
    result: 'number',
    call: 'number(text)',
    meaning: 'text read as a plain decimal number',
  },
  text: { arguments: ['anything'], result: 'text', call: 'text(value)', meaning: 'any value as text' },
  round: {
    arguments: ['number', 'number'],
    optional: 1,
    result: 'number',
    call: 'round(x, places)',
    meaning: 'rounded, halves away from zero',
  },
  floor: {
    arguments: ['number'],
    result: 'number',
    call: 'floor(x)',
    meaning: 'the whole number at or below',
  },
  ceil: { arguments: ['number'], result: 'number', call: 'ceil(x)', meaning: 'the whole number at or above' },
  abs: { arguments: ['number'], result: 'number', call: 'abs(x)', meaning: 'without its sign' },
  hour: {
    arguments: ['time', 'zone'],
    optional: 1,
    result: 'number',
    call: "hour(time, 'Zone/City')",
    meaning: 'hour of the day, 0 to 23',
  },
  weekday: {
    arguments: ['time', 'zone'],
    optional: 1,
    result: 'number',
    call: "weekday(time, 'Zone/City')",
    meaning: 'day of the week, 1 Monday to 7 Sunday',
  },
  bucket: {
    arguments: ['time', 'duration'],
    result: 'time',
    call: 'bucket(time, 15m)',
    meaning: 'start of the time bucket it lies in',
  },
  network: {
    arguments: ['address', 'number'],
    result: 'text',
    call: 'network(ip, 24)',
    meaning: 'the network around an address',
  },
  distance_km: {
    arguments: ['number', 'number', 'number', 'number'],
    result: 'number',
    call: 'distance_km(lat, lon, lat, lon)',
    meaning: 'great-circle distance in kilometres',
  },
  similarity: {
    arguments: ['text', 'text'],
    result: 'number',
    call: 'similarity(a, b)',
    meaning: 'how alike two texts are, 0 to 1',
  },
  entropy: {
    arguments: ['text'],
    result: 'number',
    call: 'entropy(text)',
    meaning: 'Shannon bits per sign: high for random names',
  },
  seconds_between: {
    arguments: ['time', 'time'],
    result: 'number',
    call: 'seconds_between(a, b)',
    meaning: 'seconds from a to b',
  },
  decode_base64: {
    arguments: ['text'],
    result: 'text',
    call: 'decode_base64(text)',
    meaning: 'what a base64 text holds',
  },
} as const satisfies Record<string, FunctionDef>;

export type FunctionName = keyof typeof functions;
export const functionNames = Object.keys(functions) as FunctionName[];
export const isFunctionName = (name: string): name is FunctionName => Object.hasOwn(functions, name);

/** The definition of a function with its optional marks visible to the type checker. */
export const functionDef = (name: FunctionName): FunctionDef => functions[name];
