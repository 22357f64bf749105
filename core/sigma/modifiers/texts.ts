import type { Modifier } from './modifier.js';

const needsText = (make: unknown, name: string): void => {
  if (make !== null) throw new Error(`"${name}" cannot follow the modifiers before it`);
};

export const contains: Modifier = {
  meaning: 'the text anywhere in the value',
  apply(chain) {
    needsText(chain.make, 'contains');
    return { ...chain, before: true, after: true };
  },
};

export const startswith: Modifier = {
  meaning: 'the value begins with the text',
  apply(chain) {
    needsText(chain.make, 'startswith');
    return { ...chain, after: true };
  },
};

export const endswith: Modifier = {
  meaning: 'the value ends with the text',
  apply(chain) {
    needsText(chain.make, 'endswith');
    return { ...chain, before: true };
  },
};

export const cased: Modifier = {
  meaning: 'capital and small letters differ',
  apply: (chain) => ({ ...chain, cased: true }),
};

export const all: Modifier = {
  meaning: 'every value of the list, not one of them',
  apply: (chain) => ({ ...chain, all: true }),
};
