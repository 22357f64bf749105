import { isJsonObject, type Json, type JsonObject } from '../base/json.js';
import { nearestWord } from '../base/text-distance.js';
import { responseIn, type ResponseDocuments } from '../responses/document.js';
import { labelOf, offered } from '../responses/shipped.js';
import { jsonToText } from '../text/json-text.js';
import type { RawDocument } from './open-documents.js';

/** Something that is done when an alert is raised. */
export type RuleAction =
  | {
      readonly do: 'chat';
      readonly to: string;
      readonly text: string;
      readonly fields: readonly string[];
      /** Responses that the message offers as buttons, by name or as `response:NAME`, and runbooks as `runbook:NAME`. */
      readonly offer: readonly string[];
    }
  | { readonly do: 'mail'; readonly to: string; readonly subject: string; readonly text: string }
  | { readonly do: 'webhook'; readonly to: string; readonly fields: readonly string[] }
  | { readonly do: 'syslog'; readonly to: string; readonly text: string }
  | { readonly do: 'program'; readonly to: string; readonly arguments: readonly string[] }
  | { readonly do: 'tag'; readonly to: string }
  | { readonly do: 'list'; readonly to: string; readonly field: string };

/** What was asked to be done about somebody, and approved. */
export interface RespondAction {
  readonly do: 'respond';
  readonly to: string;
  readonly response: number;
  readonly does: string;
  readonly subject: string;
  /** The words of its button as they were when it was asked for. */
  readonly label?: string;
  /** It is taken back: by hand, or since its time is over. */
  readonly undo?: 'by-hand' | 'by-time';
}

/** What a board showed at a time of its schedule, as a mail. */
export interface SheetAction {
  readonly do: 'sheet';
  readonly to: string;
  readonly board: number;
  readonly title: string;
}

/** Everything that goes through the outbox. */
export type DeliveryAction = RuleAction | RespondAction | SheetAction;

const kinds = ['chat', 'mail', 'webhook', 'syslog', 'program', 'tag', 'list'] as const;
type ActionKind = (typeof kinds)[number];

/** A response by its name, one that was written here too. */
const RESPONSE = /^response:([a-z0-9][a-z0-9-]{0,59})$/;
/** A runbook as a button of a message. */
const RUNBOOK = /^runbook:([a-z0-9][a-z0-9-]{0,59})$/;

/** The name of the runbook that a button starts; null for one that asks for a response. */
export const runbookOffered = (offer: string): string | null => RUNBOOK.exec(offer)?.[1] ?? null;

/** The name of the response that a button asks for; null for one that starts a runbook. */
export const responseOffered = (offer: string): string | null =>
  runbookOffered(offer) === null ? (RESPONSE.exec(offer)?.[1] ?? offer) : null;

/** The words of a button of a message. @param documents the responses there are; those that ship where they are not told */
export const offerWords = (offer: string, documents?: ResponseDocuments): string => {
  const runbook = runbookOffered(offer);
  if (runbook !== null) return `Start the runbook ${runbook}`;
  const does = responseOffered(offer) ?? offer;
  return (documents === undefined ? null : responseIn(documents, does)?.title) ?? labelOf(does);
};

const LINE = '{title}: {subject}, {matches} matches, {level}. {link}';
const MAIL =
  '{title}\n\nAbout: {subject}\nSeverity: {level}\nMatches: {matches}, from {first} to {last}\n\n{link}\n';

/** What may stand beside each kind. */
const beside: Readonly<Record<ActionKind, readonly string[]>> = {
  chat: ['text', 'fields', 'offer'],
  mail: ['subject', 'text'],
  webhook: ['fields'],
  syslog: ['text'],
  program: ['arguments'],
  tag: [],
  list: ['field'],
};

const shown = (value: Json | undefined): string => jsonToText(value ?? null) ?? '';

/** Reads the actions under `lamp`. @throws SigmaError with the line */
export function readActions({ refuse }: RawDocument, section: JsonObject): RuleAction[] {
  const written = section['actions'] ?? [];
  if (!Array.isArray(written)) return refuse(['lamp', 'actions'], '"actions" is a list');
  return (written as readonly Json[]).map((one, i) => {
    const path = ['lamp', 'actions', i];
    if (!isJsonObject(one)) return refuse(path, `an action is a map, such as mail: desk`);
    const kind = kinds.find((name) => one[name] !== undefined);
    if (kind === undefined) return refuse(path, `an action begins with one of ${kinds.join(', ')}`);
    const to = one[kind];
    if (typeof to !== 'string' || to === '')
      return refuse([...path, kind], `"${kind}" is the name of where it goes`);
    for (const key of Object.keys(one))
      if (key !== kind && !beside[kind].includes(key)) {
        const nearest = nearestWord(key, beside[kind]);
        refuse(
          [...path, key],
          `"${key}" is nothing to say of ${kind}${nearest === undefined ? '' : `. Did you mean "${nearest}"?`}`,
        );
      }
    const text = (key: string, usual: string): string => {
      const value = one[key];
      if (value === undefined) return usual;
      return typeof value === 'string' ? value : refuse([...path, key], `"${key}" is a text`);
    };
    const texts = (key: string): string[] => {
      const value = one[key] ?? [];
      const all = Array.isArray(value) ? (value as readonly Json[]) : [value];
      return all.map((word) =>
        typeof word === 'string' ? word : refuse([...path, key], `"${key}" is a list of texts`),
      );
    };
    switch (kind) {
      case 'chat':
        return {
          do: kind,
          to,
          text: text('text', '{title}: {subject}'),
          fields: texts('fields'),
          offer: texts('offer').map((name) =>
            (offered as readonly string[]).includes(name) || RESPONSE.test(name) || RUNBOOK.test(name)
              ? name
              : refuse(
                  [...path, 'offer'],
                  `"${shown(name)}" is no response: use ${offered.join(', ')}, response:NAME for one of yours, or runbook:NAME`,
                ),
          ),
        };
      case 'mail':
        return { do: kind, to, subject: text('subject', '{title}: {subject}'), text: text('text', MAIL) };
      case 'webhook':
        return { do: kind, to, fields: texts('fields') };
      case 'syslog':
        return { do: kind, to, text: text('text', LINE) };
      case 'program':
        return { do: kind, to, arguments: texts('arguments') };
      case 'tag':
        return { do: kind, to };
      case 'list':
        return { do: kind, to, field: text('field', 'user') };
    }
  });
}

/** An action in plain words. */
export function describeAction(action: DeliveryAction): string {
  switch (action.do) {
    case 'respond':
      return `${action.label ?? labelOf(action.does)} of ${action.subject}, by ${action.to}`;
    case 'chat':
      return `a message to the room ${action.to}${action.offer.length === 0 ? '' : ` that offers to ${action.offer.map((name) => offerWords(name).toLowerCase()).join(', ')}`}`;
    case 'mail':
      return `a mail to ${action.to}`;
    case 'webhook':
      return `a signed request to ${action.to}`;
    case 'sheet':
      return `a sheet mailed to ${action.to}`;
    case 'syslog':
      return `a line to the collector ${action.to}`;
    case 'program':
      return `the program ${action.to} is run`;
    case 'tag':
      return `its events are tagged ${action.to}`;
    case 'list':
      return `its ${action.field} goes on the list ${action.to}`;
  }
}
