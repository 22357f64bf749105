import {
  isMap,
  isNode,
  isScalar,
  LineCounter,
  parseAllDocuments,
  visit,
  type Document,
  type Node,
} from 'yaml';
import { isJsonObject, type Json, type JsonObject } from '../base/json.js';
import type { Refuse } from './detection.js';
import { SigmaError } from './sigma-error.js';

/** Aliases may repeat parts of a document only so far; more is an attack on memory. */
const MAX_ALIASES = 20;
const MAX_TEXT_LENGTH = 500_000;
const MAX_DOCUMENTS = 1000;
/** Keys, values and items of one document, and keys of one map in it. */
const MAX_NODES = 50_000;
const MAX_KEYS = 5000;

type Path = readonly (string | number)[];

/** A document of a text, its keys as they are written. */
export interface RawDocument {
  readonly value: JsonObject;
  /** Line of its first word in the whole text. */
  readonly line: number;
  readonly refuse: Refuse;
  /** The line of the deepest part of a path that is there. */
  readonly lineOf: (path: Path) => number;
  /** The line on which the text of a value begins: of a block of text, the one after its sign; null without one. */
  readonly valueLineOf: (path: Path) => number | null;
}

function openDocument(document: Document, lineCounter: LineCounter): RawDocument {
  const lineAt = (offset: number): number => lineCounter.linePos(offset).line;
  const [broken] = document.errors;
  if (broken !== undefined)
    throw new SigmaError(
      lineAt(broken.pos[0]),
      `broken YAML: ${(broken.message.split('\n')[0] ?? '').replace(/ at line \d+, column \d+:?$/, '')}`,
    );
  requireBounded(document, lineAt);
  const contents = document.contents;
  const line = contents?.range ? lineAt(contents.range[0]) : 1;
  if (!isMap(contents)) throw new SigmaError(line, 'a rule is a map of keys such as title and detection');
  let value: Json;
  try {
    value = document.toJS({ maxAliasCount: MAX_ALIASES }) as Json;
  } catch (error) {
    throw aliasError(error, document, contents.get('title'), line, lineAt);
  }
  const refuse: Refuse = (path, message) => {
    throw new SigmaError(lineOf(contents, path, lineAt) ?? line, message);
  };
  if (!isJsonObject(value)) throw new SigmaError(line, 'a rule is a map of keys such as title and detection');
  return {
    value,
    line,
    refuse,
    lineOf: (path) => lineOf(contents, path, lineAt) ?? line,
    valueLineOf: (path) => {
      const node = document.getIn(path, true);
      if (!isScalar(node) || !node.range) return null;
      return lineAt(node.range[0]) + (node.type === 'BLOCK_LITERAL' || node.type === 'BLOCK_FOLDED' ? 1 : 0);
    },
  };
}

/** Refuses keys that stand twice in a map, and documents that are too large. @throws SigmaError */
function requireBounded(document: Document, lineAt: (offset: number) => number): void {
  let nodes = 0;
  const refuse = (node: { range?: readonly number[] | null | undefined }, message: string): never => {
    throw new SigmaError(lineAt(node.range?.[0] ?? 0), message);
  };
  visit(document, {
    Node(_, node) {
      if (++nodes > MAX_NODES)
        refuse(node, `the document holds more than ${MAX_NODES.toLocaleString('en')} keys and values`);
    },
    Map(_, map) {
      if (map.items.length > MAX_KEYS)
        refuse(map, `the map has more than ${MAX_KEYS.toLocaleString('en')} keys`);
      const seen = new Set<string>();
      for (const { key } of map.items) {
        if (!isScalar(key)) continue;
        const name = String(key.value);
        if (seen.has(name)) refuse(key, 'broken YAML: Map keys must be unique');
        seen.add(name);
      }
    },
  });
}

/** Why the aliases of a document cannot be written out. */
function aliasError(
  error: unknown,
  document: Document,
  title: unknown,
  line: number,
  lineAt: (offset: number) => number,
): SigmaError {
  const [, unknown] = /^Unresolved alias.*: (.+)$/.exec(error instanceof Error ? error.message : '') ?? [];
  const named = typeof title === 'string' ? title : null;
  if (unknown === undefined) return new SigmaError(line, 'aliases expand too far', named);
  let at = line;
  visit(document, {
    Alias(_, { source, range }) {
      if (source !== unknown) return undefined;
      if (range) at = lineAt(range[0]);
      return visit.BREAK;
    },
  });
  return new SigmaError(
    at,
    `the alias *${unknown} stands for nothing: no anchor &${unknown} is before it`,
    named,
  );
}

/** The line of the deepest part of a path that the document has. */
function lineOf(contents: Node, path: Path, lineAt: (offset: number) => number): number | undefined {
  let node: unknown = contents;
  let line: number | undefined;
  for (const part of path) {
    if (isMap(node)) {
      const pair = node.items.find(
        (item) => isNode(item.key) && String((item.key as { value?: unknown }).value) === String(part),
      );
      if (pair === undefined) break;
      if (isNode(pair.key) && pair.key.range) line = lineAt(pair.key.range[0]);
      node = pair.value;
    } else {
      const items = (node as { items?: unknown[] } | null)?.items;
      node = typeof part === 'number' ? items?.[part] : undefined;
      if (isNode(node) && node.range) line = lineAt(node.range[0]);
    }
  }
  return line;
}

/**
 * Opens the documents of a YAML text, each on its own: a broken one leaves the others alone.
 * @returns in order, a document or why it is refused; empty documents are left out
 */
export function openDocuments(text: string): (RawDocument | SigmaError)[] {
  if (text.length > MAX_TEXT_LENGTH)
    return [new SigmaError(1, `the text is longer than ${MAX_TEXT_LENGTH.toLocaleString('en')} characters`)];
  const lineCounter = new LineCounter();
  // The parser's own look for keys that stand twice compares each with all others; ours is linear.
  const documents = parseAllDocuments(text, { lineCounter, uniqueKeys: false, version: '1.2' });
  if (!Array.isArray(documents)) return [];
  if (documents.length > MAX_DOCUMENTS)
    return [new SigmaError(1, `the text holds more than ${MAX_DOCUMENTS.toLocaleString('en')} documents`)];
  return documents
    .filter((document) => document.contents !== null || document.errors.length > 0)
    .map((document) => {
      try {
        return openDocument(document, lineCounter);
      } catch (error) {
        if (error instanceof SigmaError) return error;
        throw error;
      }
    });
}
