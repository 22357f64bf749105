import type { Chain, Modifier } from './modifier.js';

/** Texts, and what another field holds, can be looked for at an end or anywhere. */
function needsText({ kind, bytes, part, before, after }: Chain, name: string): void {
  if ((kind !== 'text' && kind !== 'fieldref') || part !== null || before || after)
    throw new Error(`"${name}" cannot follow the modifiers before it`);
  if (bytes) throw new Error(`"${name}" cannot follow an encoding: put base64 between`);
}

export const contains: Modifier = {
  meaning: 'the text anywhere in the value',
  apply(chain) {
    needsText(chain, 'contains');
    return { ...chain, before: true, after: true };
  },
};

export const startswith: Modifier = {
  meaning: 'the value begins with the text',
  apply(chain) {
    needsText(chain, 'startswith');
    return { ...chain, after: true };
  },
};

export const endswith: Modifier = {
  meaning: 'the value ends with the text',
  apply(chain) {
    needsText(chain, 'endswith');
    return { ...chain, before: true };
  },
};

export const cased: Modifier = {
  meaning: 'capital and small letters differ',
  apply(chain) {
    if (chain.kind !== 'text' && chain.kind !== 'fieldref')
      throw new Error('"cased" is for texts: a regular expression tells capitals by itself');
    return { ...chain, cased: true };
  },
};

export const all: Modifier = {
  meaning: 'every value of the list, not one of them',
  apply: (chain) => ({ ...chain, all: true }),
};

export const neq: Modifier = {
  meaning: 'the value is another, of a list none of them; a field that is missing does not match',
  apply(chain) {
    if (chain.negated) throw new Error('"neq" stands twice');
    return { ...chain, negated: true };
  },
};

export const expand: Modifier = {
  meaning: '%name% stands for every value of the list of that name',
  apply(chain) {
    // Lists hold plain values: written out, before anything is made of them.
    if (chain.kind === 'regex' || chain.kind === 'fieldref' || chain.encode.length > 0)
      throw new Error('"expand" cannot follow the modifiers before it');
    return { ...chain, expand: true };
  },
};
