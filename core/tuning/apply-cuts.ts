import { isMap, isSeq, isScalar, parseAllDocuments, type Document } from 'yaml';
import { filterDocument, listFieldOf, selectionOf, type Cut, type CutTarget } from './cut.js';
import type { cutForms } from './words.js';

export type CutForm = (typeof cutForms)[number];

/** Why a cut cannot be written so. */
export class CutError extends Error {
  override readonly name = 'CutError';
}

/** The names a document goes by. */
export const calledOf = (document: Document): string[] =>
  ['id', 'name', 'title'].flatMap((key) => {
    const value = document.get(key);
    return typeof value === 'string' ? [value] : [];
  });

/** A name for an identifier that is not taken; those that begin with `_` are left out of "1 of them". */
function freeName(word: string, taken: (name: string) => boolean): string {
  for (let i = 1; ; i++) if (!taken(`_${word}${i}`)) return `_${word}${i}`;
}

/** A cut as a question to a list. @throws CutError where it is not only a value */
function listSelection(cut: Cut, list: string): Record<string, string> {
  const field = listFieldOf(cut);
  if (field === null) throw new CutError('only a cut that is one value can be a row of a list');
  return { [`${field}|expand`]: `%${list}%` };
}

/** Writes a selection into a rule: what meets it is left out, or the only thing that is kept. @throws CutError */
export function addCondition(
  document: Document,
  selection: Record<string, string | null>,
  keeps: 'without' | 'only' = 'without',
): void {
  const detection = document.get('detection');
  if (!isMap(detection)) throw new CutError('the rule has no detection to write a condition in');
  const name = freeName(keeps === 'only' ? 'only' : 'cut', (one) => detection.has(one));
  const condition = detection.get('condition', true);
  const narrowed = (written: unknown): string =>
    `(${String(written)}) and ${keeps === 'only' ? '' : 'not '}${name}`;
  const node = document.createNode(selection);
  // Before the condition, where those who read it look for it.
  const at = detection.items.findIndex(({ key }) => isScalar(key) && key.value === 'condition');
  detection.items.splice(at < 0 ? detection.items.length : at, 0, document.createPair(name, node));
  if (isSeq(condition)) {
    for (const one of condition.items) if (isScalar(one)) one.value = narrowed(one.value);
  } else if (isScalar(condition)) condition.value = narrowed(condition.value);
  else throw new CutError('the rule has no condition');
}

/** Whether a cut of the rule asks this list already: then its rows say all. */
function asksAlready(document: Document, selection: Record<string, string | null>): boolean {
  const wanted = JSON.stringify(selection);
  const { detection } = document.toJS() as { detection: Record<string, unknown> };
  return Object.entries(detection).some(
    ([name, one]) => name.startsWith('_cut') && JSON.stringify(one) === wanted,
  );
}

/**
 * The text of a rule with cuts in it; comments stay where they are.
 * @param target the detection rules that the cuts leave events out of
 * @param list the list that is asked, where that is the form
 * @throws CutError where a condition has no place: the rules that are counted stand in another text
 */
export function withCuts(
  text: string,
  cuts: readonly Cut[],
  form: CutForm,
  target: CutTarget,
  list = '',
): string {
  if (cuts.length === 0) return text;
  if (form === 'filter')
    return [text.replace(/\n*$/, '\n'), ...cuts.map((cut) => filterDocument(cut, target))].join('---\n');
  const documents = parseAllDocuments(text);
  if (!Array.isArray(documents)) throw new CutError('the text is empty');
  const wanted = new Set(target.rules);
  const found = documents.filter(
    (document) => isMap(document.get('detection')) && calledOf(document).some((name) => wanted.has(name)),
  );
  if (found.length < wanted.size)
    throw new CutError('what this rule counts stands in another text: keep the cut as a filter');
  const selections =
    form === 'condition'
      ? cuts.map(selectionOf)
      : [...new Map(cuts.map((cut) => [listFieldOf(cut), listSelection(cut, list)])).values()];
  for (const document of found)
    for (const selection of selections)
      if (form !== 'list' || !asksAlready(document, selection)) addCondition(document, selection);
  return textOfDocuments(documents);
}

/** Documents as one text again. */
export const textOfDocuments = (documents: readonly Document[]): string =>
  documents
    .map((document) => document.toString({ lineWidth: 0, flowCollectionPadding: true }))
    .join('---\n')
    .replace(/(---\n)+(---\n)/g, '$2');
