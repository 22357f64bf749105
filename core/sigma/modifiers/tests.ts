import { parseNetwork } from '../../net/network.js';
import { readNumber } from '../../text/numbers.js';
import { parseRegex } from '../../text/regex-syntax.js';
import type { Modifier } from './modifier.js';
import { requirePlain } from './modifier.js';

export const exists: Modifier = {
  meaning: 'the field is there (true) or not (false)',
  apply(chain) {
    requirePlain(chain, 'exists');
    return {
      ...chain,
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
    requirePlain(chain, 're');
    return {
      ...chain,
      make(value) {
        if (typeof value !== 'string') throw new Error('"re" takes a text');
        return { test: 'regex', regex: parseRegex(value) };
      },
    };
  },
};

export const cidr: Modifier = {
  meaning: 'an address of the network',
  apply(chain) {
    requirePlain(chain, 'cidr');
    return {
      ...chain,
      make(value) {
        const network = typeof value === 'string' ? parseNetwork(value.trim()) : null;
        if (network === null) throw new Error(`${JSON.stringify(value)} is no network such as 10.0.0.0/8`);
        return { test: 'network', network };
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
