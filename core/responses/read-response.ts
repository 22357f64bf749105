import { Ajv } from 'ajv';
import { DAY } from '../base/instant.js';
import { nearestWord } from '../base/text-distance.js';
import { type DocumentMistake, readCheckedJson, schemaMistakes, type Told } from '../text/checked-json.js';
import { compileHunt } from '../wick/compile.js';
import { HuntError } from '../wick/hunt-error.js';
import type { ListRef } from '../wick/plan.js';
import {
  MAX_RESPONSE_LENGTH,
  placesOf,
  response as responseSchema,
  type ResponseDocument,
  type ResponseDocuments,
  type ResponseKind,
  rightText,
  flowText,
} from './document.js';
import { historyByDay, historyHunt } from './history.js';

/** A response that was read, or everything that is wrong with it. */
export type ReadResponse =
  | { readonly response: ResponseDocument; readonly mistakes: readonly [] }
  | { readonly response: null; readonly mistakes: readonly DocumentMistake[] };

/** Somebody or something of each kind, to try a document on. */
export const sampleSubjects: Readonly<Record<ResponseKind, string>> = {
  user: 'teo.marrash',
  host: 'quay-tk-07',
  address: '203.0.113.77',
  flow: flowText('10.30.0.10', '203.0.113.77', 53, 'udp'),
  right: rightText('teo.marrash', 'owner', 'ticketing-prod'),
};

/** A list as the path of a response names it. */
const LIST = /^\/lists\/([a-z0-9][a-z0-9-]{0,59})$/;
/** The list that a response of the product itself writes to; null where its path names none. */
export const listOf = (path: string): string | null => LIST.exec(path)?.[1] ?? null;

const validate = new Ajv({
  allErrors: true,
  strict: true,
  allowUnionTypes: true,
  verbose: true,
}).compile<ResponseDocument>(responseSchema);

/**
 * Reads a response from JSON.
 * @param known the responses there are, of which it may name one as the narrower
 * @param lists the lists that its history may name
 * @returns the response, or its mistakes with their places, the first of them first
 */
export function readResponse(
  text: string,
  { known, lists = [] }: { readonly known: ResponseDocuments; readonly lists?: readonly ListRef[] },
): ReadResponse {
  const read = readCheckedJson(text, {
    what: 'response',
    most: MAX_RESPONSE_LENGTH,
    check: (value) =>
      validate(value) ? mistakesOf(value, known, lists) : schemaMistakes(validate.errors ?? [], 'response'),
  });
  return read.value === null
    ? { response: null, mistakes: read.mistakes }
    : { response: read.value as ResponseDocument, mistakes: [] };
}

const PLACE = /\{(\w+)\}/g;

function mistakesOf(one: ResponseDocument, known: ResponseDocuments, lists: readonly ListRef[]): Told[] {
  const places = Object.keys(placesOf(one.on, sampleSubjects[one.on]) ?? {});
  const told: Told[] = [];
  const checkPlaces = (path: Told['path'], text: string, allowed: readonly string[]): void => {
    for (const [, name = ''] of text.matchAll(PLACE))
      if (!allowed.includes(name))
        told.push({
          path,
          message: `A response on a ${one.on} knows no {${name}}. It knows ${allowed.map((place) => `{${place}}`).join(', ')}.`,
        });
  };
  const sent = [...places, 'id'];
  checkPlaces(['path'], one.path, sent);
  for (const [name, text] of Object.entries(one.body)) checkPlaces(['body', name], text, sent);
  if (one.undo !== null) checkPlaces(['undo', 'path'], one.undo.path, sent);
  checkPlaces(['history'], one.history, places);
  if (one.hours !== null && one.undo === null)
    told.push({
      path: ['hours'],
      message: 'What cannot be taken back has no end: say "undo", or "hours": null.',
    });
  if (one.narrower !== null && !Object.hasOwn(known, one.narrower))
    told.push({
      path: ['narrower'],
      message: `"${one.narrower}" is no response. Did you mean "${nearestWord(one.narrower, Object.keys(known))}"?`,
    });
  if (one.to === 'lists') told.push(...listMistakes(one));
  return told.length > 0 ? told : historyMistakes(one, lists);
}

function listMistakes({ path, body, undo, method, alsoDone }: ResponseDocument): Told[] {
  const list = listOf(path);
  return [
    ...(method !== undefined || alsoDone !== undefined
      ? [{ path: ['to'], message: 'What goes on a list is no request: leave "method" and "alsoDone" out.' }]
      : []),
    ...(list === null
      ? [{ path: ['path'], message: 'What goes on a list has a path such as "/lists/watched-addresses".' }]
      : []),
    ...(undo !== null && undo.path !== path
      ? [{ path: ['undo', 'path'], message: `It is taken off the list it was put on: "${path}".` }]
      : []),
    ...(Object.keys(body).length === 0
      ? [{ path: ['body'], message: 'The body is the row that goes on the list, its key first.' }]
      : []),
  ];
}

function historyMistakes(one: ResponseDocument, lists: readonly ListRef[]): Told[] {
  const hunt = historyHunt(one, sampleSubjects[one.on]) ?? '';
  const window = { from: 0, to: DAY };
  try {
    compileHunt(hunt, { window, now: DAY, lists });
    compileHunt(historyByDay(hunt), { window, now: DAY, lists });
    return [];
  } catch (error) {
    if (!(error instanceof HuntError)) throw error;
    return [{ path: ['history'], message: `Line ${error.span.line} of the hunt: ${error.message}` }];
  }
}
