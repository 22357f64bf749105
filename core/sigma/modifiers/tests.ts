import { parseNetwork } from '../../net/network.js';
import { readNumber } from '../../text/numbers.js';
import { parseRegex } from '../../text/regex-syntax.js';
import { timeParts, type TimePart } from '../../predicate/predicate.js';
import { refHow, requirePlain, type Chain, type Modifier } from './modifier.js';

/** Refuses a chain whose test is chosen already, or that asks for a part of a time. */
function requireWhole(chain: Chain, name: string): void {
  requirePlain(chain, name);
  if (chain.part !== null) throw new Error(`"${name}" cannot be asked of a part of a time`);
}

export const exists: Modifier = {
  meaning: 'the field is there (true) or not (false)',
  apply(chain) {
    requireWhole(chain, 'exists');
    return {
      ...chain,
      kind: 'other',
      make(value) {
        if (typeof value !== 'boolean') throw new Error('"exists" takes true or false');
        return { test: 'exists', wanted: value };
      },
    };
  },
};

export const re: Modifier = {
  meaning: 'a regular expression found in the value',
  apply(chain) {
    requireWhole(chain, 're');
    return {
      ...chain,
      kind: 'regex',
      make(value, { flags }) {
        if (typeof value !== 'string') throw new Error('"re" takes a text: put it in quotes');
        return { test: 'regex', regex: parseRegex(flags === '' ? value : `(?${flags})${value}`) };
      },
    };
  },
};

const flag = (sign: 'i' | 'm' | 's', meaning: string): Modifier => ({
  meaning,
  apply(chain) {
    if (chain.kind !== 'regex') throw new Error(`"${sign}" belongs behind "re"`);
    if (chain.flags.includes(sign)) throw new Error(`"${sign}" stands twice`);
    return { ...chain, flags: chain.flags + sign };
  },
});

export const i = flag('i', 'the regular expression ignores case');
export const m = flag('m', '^ and $ of the regular expression are the ends of lines');
export const s = flag('s', 'the dot of the regular expression is any sign, line ends too');

export const cidr: Modifier = {
  meaning: 'an address of the network',
  apply(chain) {
    requireWhole(chain, 'cidr');
    return {
      ...chain,
      kind: 'other',
      make(value) {
        const network = typeof value === 'string' ? parseNetwork(value.trim()) : null;
        if (network === null) throw new Error(`${JSON.stringify(value)} is no network such as 10.0.0.0/8`);
        return { test: 'network', network };
      },
    };
  },
};

export const fieldref: Modifier = {
  meaning: 'the value is that of another field; startswith, endswith or contains may follow',
  apply(chain) {
    requireWhole(chain, 'fieldref');
    return {
      ...chain,
      kind: 'fieldref',
      make(value, whole) {
        if (typeof value !== 'string' || value === '')
          throw new Error('"fieldref" takes the name of a field');
        return { test: 'fieldref', field: value, how: refHow(whole), cased: whole.cased };
      },
    };
  },
};

const number = (name: string, sign: '<' | '<=' | '>' | '>=', meaning: string): Modifier => ({
  meaning,
  apply(chain) {
    requirePlain(chain, name);
    return {
      ...chain,
      kind: 'other',
      make(value) {
        const limit =
          typeof value === 'number' ? value : typeof value === 'string' ? readNumber(value) : null;
        if (limit === null) throw new Error(`"${name}" takes a number`);
        return { test: 'number', sign, value: limit };
      },
    };
  },
});

export const lt = number('lt', '<', 'a smaller number');
export const lte = number('lte', '<=', 'a number not larger');
export const gt = number('gt', '>', 'a larger number');
export const gte = number('gte', '>=', 'a number not smaller');

const timePart = (part: TimePart): Modifier => ({
  meaning: `the ${part} of a time, in UTC`,
  apply(chain) {
    requirePlain(chain, part);
    if (chain.part !== null) throw new Error(`"${part}" cannot follow "${chain.part}"`);
    return { ...chain, part };
  },
});

export const partsOfTime = Object.fromEntries(timeParts.map((part) => [part, timePart(part)])) as Readonly<
  Record<TimePart, Modifier>
>;
