import { jsonToText } from '../text/json-text.js';
import type { Json } from '../base/json.js';
import { type ResponseDocuments, responseIn, responseKinds } from '../responses/document.js';
import { subjectFor, type AlertAbout } from '../responses/subjects.js';
import { responses as shipped } from '../responses/shipped.js';
import { asksOf } from '../wick/compile.js';
import type { Runbook, Step } from './document.js';

/** What of an event a runbook may name. */
export const nameable = [
  'user',
  'host',
  'src_ip',
  'dst_ip',
  'src_host',
  'dst_host',
  'account',
  'application',
  'resource',
  'target_user',
] as const;

export interface NamedAlert extends AlertAbout {
  readonly title: string;
  readonly subject: string;
}

/**
 * What an alert names: of its subject first, then of its newest event that says it; and whom or what responses of each
 * kind would fall on.
 */
export function namesOf({ title, subject, subjectFields, evidence }: NamedAlert): Record<string, string> {
  const events = [...evidence].reverse() as readonly Readonly<Record<string, Json>>[];
  const names = nameable.flatMap((name): [string, string][] => {
    const own = Object.hasOwn(subjectFields, name) ? subjectFields[name] : undefined;
    const value = own ?? events.map((event) => jsonToText(event[name] ?? null)).find((one) => one !== null);
    return value === undefined || value === null || value === '' ? [] : [[name, value]];
  });
  const about = { subjectFields, evidence };
  const responded = responseKinds.flatMap((kind) => {
    const on = subjectFor(kind, about);
    return on === null ? [] : [[kind, on] as const];
  });
  return { ...Object.fromEntries([...names, ...responded]), subject, title };
}

/** What a text says with the names of an alert in its places. A place that is not known stays as it is. */
export const fillNames = (text: string, names: Readonly<Record<string, string>>): string =>
  text.replace(/\{(\w+)\}/g, (whole, name: string) =>
    Object.hasOwn(names, name) ? (names[name] ?? whole) : whole,
  );

const lacks = (
  step: Step,
  names: Readonly<Record<string, string>>,
  responses: ResponseDocuments,
): readonly string[] => {
  switch (step.do) {
    case 'hunt':
      return asksOf(step.hunt)
        .filter(({ name, any, default: usual }) => !any && usual === null && !Object.hasOwn(names, name))
        .map(({ name }) => name);
    case 'respond': {
      const on = responseIn(responses, step.response)?.on;
      return on === undefined || Object.hasOwn(names, on) ? [] : [on];
    }
    default:
      return [];
  }
};

/** What the steps of a runbook need that an alert does not name; empty where it can be run on it. */
export const missingFor = (
  runbook: Runbook,
  alert: NamedAlert,
  responses: ResponseDocuments = shipped,
): readonly string[] => {
  const names = namesOf(alert);
  return [...new Set(runbook.steps.flatMap((step) => lacks(step, names, responses)))];
};
