import { formatInstant, type Instant } from '../../core/base/instant.js';
import { columnNames } from '../../core/events/columns.js';
import { fieldReader } from '../../core/recipes/field-path.js';
import { chatValue, fillTemplate, namedFields, plainValue } from '../../core/rules/template.js';
import { offerWords, type RuleAction } from '../../core/sigma/actions.js';
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

/** What a message says. */
export type Content =
  | {
      readonly do: 'chat';
      readonly text: string;
      readonly severity: string;
      readonly link: string;
      readonly fields: readonly { readonly name: string; readonly value: string }[];
      readonly offer: readonly { readonly does: string; readonly label: string }[];
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

/** An action with its templates filled. */
export function contentOf(action: RuleAction, context: AlertContext, base: string): Content {
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
        // Without somebody to do it to, there is nothing to offer.
        offer:
          context.subjectFields['user'] === undefined
            ? []
            : action.offer.map((does) => ({ does, label: offerWords(does) })),
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
