import type { Lists } from './detection.js';
import { loadPack } from './pack.js';
import type { Rule } from './rule-model.js';
import { SigmaError } from './sigma-error.js';

/**
 * Reads a YAML text of one or more rule documents (open Sigma format, specification 2.1), all of which must be right.
 * Filters of the text are joined to the rules they name; hunts are left out.
 * @param lists values for `%name%`
 * @returns the rules, in the order of the documents
 * @throws SigmaError for the first mistake, with its line
 */
export function parseRules(text: string, lists?: Lists): readonly Rule[] {
  const { rules, hunts, refused } = loadPack([{ name: 'the text', text }], lists);
  const [first] = [...refused].sort((a, b) => a.line - b.line);
  if (first !== undefined) throw new SigmaError(first.line, first.reason);
  if (rules.length === 0 && hunts.length === 0) throw new SigmaError(1, 'the text holds no rule');
  return rules;
}
