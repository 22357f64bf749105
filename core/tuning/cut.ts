import { stringify } from 'yaml';
import { unreachable } from '../base/unreachable.js';
import { parseNetwork } from '../net/network.js';
import type { Predicate, ValueTest } from '../predicate/predicate.js';
import type { LogSource } from '../sigma/rule-model.js';
import { sigmaPattern } from '../sigma/text-pattern.js';
import { lowerText } from '../text/letters.js';
import type { cutOps } from './words.js';
import { escapeWildcards } from '../text/wildcard.js';

export type CutOp = (typeof cutOps)[number];

/** One condition of a cut; its value is literal text, and null where the field is missing. */
export interface CutCondition {
  readonly field: string;
  readonly op: CutOp;
  readonly value: string | null;
}

/** What is left out: events that meet all of its conditions. */
export interface Cut {
  readonly all: readonly CutCondition[];
}

/** The rule that a cut belongs to, as a filter names it. */
export interface CutTarget {
  readonly title: string;
  /** Ids of the detection rules it leaves events out of, or names where they have none. */
  readonly rules: readonly string[];
  readonly logsource: LogSource;
}

const textTest = (text: string, before: boolean, after: boolean): ValueTest => ({
  test: 'text',
  pattern: sigmaPattern(escapeWildcards(lowerText(text)), before, after),
  cased: false,
});

function testOf({ op, value }: CutCondition): ValueTest {
  const text = value ?? '';
  switch (op) {
    case 'equals':
      return textTest(text, false, false);
    case 'startswith':
      return textTest(text, false, true);
    case 'endswith':
      return textTest(text, true, false);
    case 'within': {
      const network = parseNetwork(text);
      if (network === null) throw new Error(`"${text}" is no network`);
      return { test: 'network', network };
    }
    case 'missing':
      return { test: 'null' };
    default:
      return unreachable(op);
  }
}

/** The events that a cut leaves out, as a predicate. @throws Error for a network that is none */
export function predicateOfCut({ all }: Cut): Predicate {
  const parts = all.map((one): Predicate => ({ op: 'field', field: one.field, test: testOf(one) }));
  const [only] = parts;
  return parts.length === 1 && only !== undefined ? only : { op: 'and', parts };
}

const keyOf = ({ field, op }: CutCondition): string => {
  switch (op) {
    case 'equals':
    case 'missing':
      return field;
    case 'startswith':
    case 'endswith':
      return `${field}|${op}`;
    case 'within':
      return `${field}|cidr`;
    default:
      return unreachable(op);
  }
};

const valueOf = ({ op, value }: CutCondition): string | null =>
  op === 'missing' ? null : op === 'within' ? value : escapeWildcards(value ?? '');

/** The conditions of a cut as the selection of a rule: fields with modifiers, values with their wildcards escaped. */
export const selectionOf = ({ all }: Cut): Record<string, string | null> =>
  Object.fromEntries(all.map((one) => [keyOf(one), valueOf(one)]));

/** The field of a cut that a list could hold the value of; null for one that is not only a value. */
export function listFieldOf({ all }: Cut): string | null {
  const [only] = all;
  return all.length === 1 && only?.op === 'equals' ? only.field : null;
}

/** A cut in words, such as `user is svc-backup, src_ip lies in 10.30.0.0/24`. */
export const cutInWords = ({ all }: Cut): string =>
  all
    .map(({ field, op, value }) => {
      const text = value ?? '';
      switch (op) {
        case 'equals':
          return `${field} is ${text}`;
        case 'startswith':
          return `${field} begins with ${text}`;
        case 'endswith':
          return `${field} ends with ${text}`;
        case 'within':
          return `${field} lies in ${text}`;
        case 'missing':
          return `${field} is missing`;
        default:
          return unreachable(op);
      }
    })
    .join(', ');

/** A name of a text that is the same on every machine, in the form of a version 8 UUID (RFC 9562, 5.8). */
export function idOfText(text: string): string {
  const parts = [0x9e3779b9, 0x85ebca6b, 0xc2b2ae35, 0x27d4eb2f].map((seed) => {
    // FNV-1a over code units, from another start each, then mixed (G. Fowler and others, 1991).
    let hash = (0x811c9dc5 ^ seed) >>> 0;
    for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193) >>> 0;
    hash = Math.imul(hash ^ (hash >>> 16), 0x7feb352d) >>> 0;
    return (hash ^ (hash >>> 15)) >>> 0;
  });
  const hex = parts.map((part) => part.toString(16).padStart(8, '0')).join('');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20)}`;
}

/** A cut as a filter document of the open format, with an id of its own. */
export function filterDocument(cut: Cut, target: CutTarget): string {
  const words = cutInWords(cut);
  const title = `Leave out of ${target.title}: ${words}`;
  return stringify(
    {
      title: title.length > 200 ? `${title.slice(0, 199).toWellFormed()}…` : title,
      id: idOfText(JSON.stringify([target.rules, cut.all])),
      logsource: { ...target.logsource },
      filter: { rules: [...target.rules], cut: selectionOf(cut), condition: 'not cut' },
    },
    { defaultStringType: 'QUOTE_DOUBLE', defaultKeyType: 'PLAIN', lineWidth: 0 },
  );
}
