import { formatInstant, type Instant } from '../../core/base/instant.js';
import { columnNames } from '../../core/events/columns.js';
import { fieldReader } from '../../core/recipes/field-path.js';
import { chatValue, fillTemplate, namedFields, plainValue } from '../../core/rules/template.js';
import { placesOf, responseIn, type ResponseDocuments } from '../../core/responses/document.js';
import { responses as shipped } from '../../core/responses/shipped.js';
import { offerWords, responseOffered, type RuleAction } from '../../core/sigma/actions.js';
import { isJsonObject, type Json } from '../../core/base/json.js';
import { jsonToText } from '../../core/text/json-text.js';

/** An alert with its newest event, as messages tell it. */
export interface AlertContext {
  readonly alert: number;
  readonly rule: string | null;
  readonly title: string;
  readonly level: string;
  readonly subject: string;
  readonly subjectFields: Readonly<Record<string, string>>;
  readonly matches: number;
  readonly first: Instant;
  readonly last: Instant;
  readonly event: Readonly<Record<string, Json>> | null;
  /** The names that ids of the newest event belong to, by field; those that nobody is known by are left out. */
  readonly names?: Readonly<Record<string, string>>;
}

/** A button of a message. */
interface Offered {
  readonly does: string;
  /** Whom it falls on. */
  readonly subject: string;
  readonly label: string;
}

/** What a message says. */
export type Content =
  | {
      readonly do: 'chat';
      readonly text: string;
      readonly severity: string;
      readonly link: string;
      readonly fields: readonly { readonly name: string; readonly value: string }[];
      readonly offer: readonly Offered[];
    }
  | {
      readonly do: 'mail';
      readonly subject: string;
      readonly text: string;
      /** A page of HTML that goes along as a file. */
      readonly page?: { readonly filename: string; readonly html: Buffer };
    }
  | { readonly do: 'webhook'; readonly body: Readonly<Record<string, Json>> }
  | { readonly do: 'syslog'; readonly text: string; readonly severity: string }
  | { readonly do: 'program'; readonly arguments: readonly string[] }
  | { readonly do: 'tag'; readonly tag: string }
  | { readonly do: 'list'; readonly value: string };

/** A field of the newest event, ours or the source's own. */
function fieldOf({ event, subjectFields }: AlertContext, name: string): string {
  const known = Object.hasOwn(subjectFields, name) ? subjectFields[name] : undefined;
  if (known !== undefined) return known;
  if (event === null) return '';
  const own = isJsonObject(event['original']) ? fieldReader(name)(event['original']) : null;
  return jsonToText(event[name] ?? own) ?? '';
}

/** What stands in the places of templates. @param base the address of the workbench */
export function valuesOf(context: AlertContext, base: string): Record<string, string> {
  const event = Object.fromEntries(columnNames.map((name) => [`event.${name}`, fieldOf(context, name)]));
  return {
    ...event,
    ...Object.fromEntries(namedFields.map((name) => [`name.${name}`, context.names?.[name] ?? ''])),
    title: context.title,
    level: context.level,
    subject: context.subject,
    matches: String(context.matches),
    first: formatInstant(context.first),
    last: formatInstant(context.last),
    link: `${base}/alerts/${context.alert}`,
    rule: context.rule ?? '',
    alert: String(context.alert),
  };
}

/** Values as a room may be told them; only our own link is one. */
const forChat = (values: Readonly<Record<string, string>>): Record<string, string> =>
  Object.fromEntries(
    Object.entries(values).map(([name, value]) => [name, name === 'link' ? value : chatValue(value)]),
  );

/** Whom a response of a kind falls on, as the alert or else its newest event names them; empty where neither does. */
function offeredOn(on: string, context: AlertContext): string {
  switch (on) {
    case 'user':
      // Of many that an address tried, the newest is no more meant than the others.
      return context.subjectFields['user'] ?? '';
    case 'host':
      return fieldOf(context, 'host');
    case 'address':
      return fieldOf(context, 'src_ip');
    default:
      return '';
  }
}

/** What a message can offer: what there is, on somebody whom the alert names. */
function offersOf(offers: readonly string[], context: AlertContext, documents: ResponseDocuments): Offered[] {
  return offers.flatMap((offer) => {
    const does = responseOffered(offer);
    const user = context.subjectFields['user'] ?? '';
    if (does === null) return user === '' ? [] : [{ does: offer, subject: user, label: offerWords(offer) }];
    const document = responseIn(documents, does);
    if (document === null) return [];
    const subject = offeredOn(document.on, context);
    if (subject === '' || placesOf(document.on, subject) === null) return [];
    const label = document.on === 'user' ? document.title : `${document.title}: ${chatValue(subject)}`;
    return [{ does: offer, subject, label }];
  });
}

/** An action with its templates filled. @param documents the responses there are */
export function contentOf(
  action: RuleAction,
  context: AlertContext,
  base: string,
  documents: ResponseDocuments = shipped,
): Content {
  const values = valuesOf(context, base);
  const fill = (template: string): string => fillTemplate(template, values);
  const named = (names: readonly string[], spell = plainValue) =>
    names.map((name) => ({ name, value: spell(fieldOf(context, name)) })).filter(({ value }) => value !== '');
  switch (action.do) {
    case 'chat':
      return {
        do: 'chat',
        text: fillTemplate(action.text, forChat(values)),
        severity: context.level,
        link: values['link'] ?? '',
        fields: named(action.fields, chatValue),
        offer: offersOf(action.offer, context, documents),
      };
    case 'mail':
      return { do: 'mail', subject: plainValue(fill(action.subject)), text: fill(action.text) };
    case 'webhook':
      return {
        do: 'webhook',
        body: {
          alert: context.alert,
          rule: context.rule,
          title: context.title,
          level: context.level,
          subject: context.subject,
          subjectFields: context.subjectFields,
          matches: context.matches,
          first: values['first'] ?? '',
          last: values['last'] ?? '',
          link: values['link'] ?? '',
          fields: Object.fromEntries(named(action.fields).map(({ name, value }) => [name, value])),
        },
      };
    case 'syslog':
      return { do: 'syslog', text: plainValue(fill(action.text)), severity: context.level };
    case 'program':
      return { do: 'program', arguments: action.arguments.map(fill) };
    case 'tag':
      return { do: 'tag', tag: action.to };
    case 'list':
      return { do: 'list', value: fieldOf(context, action.field) };
  }
}
