import type { ErrorObject } from 'ajv';
import { isMap, isScalar, LineCounter, type Node, parseDocument } from 'yaml';
import { nearestWord } from '../base/text-distance.js';

/** What is wrong with a document, and where in its text; lines and columns from 1. */
export interface DocumentMistake {
  readonly line: number;
  readonly column: number;
  readonly message: string;
}

/** A way into a document: names of properties and numbers of items. */
export type Path = readonly (string | number)[];

/** What is wrong at a place of a document. */
export interface Told {
  readonly path: Path;
  readonly message: string;
}

/** A document that was read, or everything that is wrong with it. */
export type CheckedJson =
  | { readonly value: unknown; readonly mistakes: readonly [] }
  | { readonly value: null; readonly mistakes: readonly DocumentMistake[] };

const MAX_MISTAKES = 50;

/**
 * Reads a document from JSON (RFC 8259). The text is bounded before it is read.
 * @param what what it is called, such as "board"
 * @param most characters it may have
 * @param prepare completes it before it is checked
 * @param check everything that is wrong with it; empty where it can be used
 * @returns the document, or its mistakes with their places, the first of them first
 */
export function readCheckedJson(
  text: string,
  {
    what,
    most,
    prepare = (value) => value,
    check,
  }: {
    readonly what: string;
    readonly most: number;
    readonly prepare?: (value: unknown) => unknown;
    readonly check: (value: unknown) => readonly Told[];
  },
): CheckedJson {
  if (text.length > most)
    return refused([{ line: 1, column: 1, message: `A ${what} may have at most ${most} characters.` }]);
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return refused([{ ...placeOfSyntax(text, error as Error), message: syntaxWords(error as Error) }]);
  }
  value = prepare(value);
  const told = check(value);
  if (told.length === 0) return { value, mistakes: [] };
  const placeOf = placesIn(text);
  return refused(told.map(({ path, message }) => ({ ...placeOf(path), message })));
}

const refused = (mistakes: readonly DocumentMistake[]): CheckedJson => ({
  value: null,
  mistakes: [...mistakes].sort((a, b) => a.line - b.line || a.column - b.column).slice(0, MAX_MISTAKES),
});

/** What a schema says against a document, in words. @param what what it is called, such as "board" */
export function schemaMistakes(errors: readonly ErrorObject[], what: string): Told[] {
  const pathOf = ({ instancePath }: ErrorObject): string => instancePath;
  // Of alternatives none of which fits, the one that says most is told: the deepest.
  const telling = errors.filter(
    (error) =>
      !errors.some((other) => other !== error && pathOf(other).startsWith(`${pathOf(error)}/`)) &&
      (error.keyword !== 'anyOf' ||
        !errors.some((other) => other !== error && pathOf(other) === pathOf(error))),
  );
  const seen = new Set<string>();
  return telling.flatMap((error) => {
    const path = toPath(error.instancePath);
    const told = { path: pathWithin(error, path), message: wordsOf(error, path, what) };
    const key = JSON.stringify([told.path, error.keyword === 'type' ? 'type' : told.message]);
    if (seen.has(key)) return [];
    seen.add(key);
    return [told];
  });
}

const toPath = (pointer: string): (string | number)[] =>
  pointer
    .split('/')
    .slice(1)
    .map((part) => part.replaceAll('~1', '/').replaceAll('~0', '~'))
    .map((part) => (/^\d+$/.test(part) ? Number(part) : part));

/** What is told of a property that is too much is told where it stands. */
const pathWithin = (error: ErrorObject, path: Path): Path =>
  error.keyword === 'additionalProperties' ? [...path, String(error.params['additionalProperty'])] : path;

function wordsOf(error: ErrorObject, path: Path, what: string): string {
  const name = path.length === 0 ? `The ${what}` : `"${path.join('.')}"`;
  switch (error.keyword) {
    case 'required':
      return `${name} lacks "${String(error.params['missingProperty'])}".`;
    case 'additionalProperties': {
      const given = String(error.params['additionalProperty']);
      const known = Object.keys((error.parentSchema as { properties?: object }).properties ?? {});
      return `${name} has "${given}", which is not known. Did you mean "${nearestWord(given, known)}"?`;
    }
    case 'enum': {
      const allowed = (error.params['allowedValues'] as unknown[]).map(String);
      return `${name} is none of ${allowed.join(', ')}. Did you mean "${nearestWord(String(error.data), allowed)}"?`;
    }
    case 'pattern':
      return `${name} may hold small letters, digits and "-", at most 40 of them.`;
    default:
      return `${name} ${error.message ?? 'is not as it should be'}.`;
  }
}

function placeOfSyntax(text: string, { message }: Error): { line: number; column: number } {
  const told = /line (\d+) column (\d+)/.exec(message);
  if (told !== null) return { line: Number(told[1]), column: Number(told[2]) };
  const at = /position (\d+)/.exec(message);
  const before = text.slice(0, at === null ? text.length : Number(at[1])).split('\n');
  return { line: before.length, column: (before.at(-1)?.length ?? 0) + 1 };
}

const syntaxWords = ({ message }: Error): string =>
  `This is no JSON: ${message.replace(/ in JSON at position.*$/s, '').replace(/,? "[^]*" is not valid JSON$/, '')}.`;

/** Says where in a text of JSON something stands. */
function placesIn(text: string): (path: Path) => { line: number; column: number } {
  const lines = new LineCounter();
  const document = parseDocument(text, { lineCounter: lines, uniqueKeys: false });
  const startOf = (node: unknown): number | undefined => (node as Node | null | undefined)?.range?.[0];
  return (path) => {
    for (let length = path.length; length >= 0; length--) {
      const parent: unknown = document.getIn(path.slice(0, -1), true);
      const name = path.at(-1);
      // A property is shown where its name stands; what stands in no property, where it begins itself.
      const key =
        length === path.length && isMap(parent)
          ? parent.items.find((pair) => isScalar(pair.key) && pair.key.value === name)?.key
          : undefined;
      const at =
        startOf(key) ??
        startOf(length === 0 ? document.contents : document.getIn(path.slice(0, length), true));
      if (at !== undefined) {
        const { line, col } = lines.linePos(at);
        return { line, column: col };
      }
    }
    return { line: 1, column: 1 };
  };
}
