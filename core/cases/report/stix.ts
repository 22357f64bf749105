import { isJsonObject, type Json } from '../../base/json.js';
import { parseNetwork } from '../../net/network.js';
import { canonicalJson } from '../canonical.js';
import type { Marking } from '../words.js';
import { markingOfReport, thawed, type Report } from './model.js';

// STIX 2.1 (OASIS Standard, 2021). Objects of a bundle are told apart by UUIDs of version 5, so that the same case gives
// the same bundle.

/** The marking definitions of TLP 2.0, with the ids that the OASIS TLP 2.0 extension gives them. */
const TLP: Readonly<Record<Marking, string>> = {
  red: 'marking-definition--e828b379-4e03-4974-9ac4-e53a884c97c1',
  'amber+strict': 'marking-definition--939a9414-2ddd-4d32-a0cd-375ea402b003',
  amber: 'marking-definition--55d920b0-5e8b-4f79-9ee9-91f868d9b421',
  green: 'marking-definition--bab4a63c-aed9-4cf5-a766-dfca5abac2bb',
  clear: 'marking-definition--94868c89-83c2-464b-929b-a1a8aa3c8487',
};
const TLP_EXTENSION = 'extension-definition--60a3c5c5-0d10-413e-aab3-9e08dde9e88d';
/** The marking definitions are of that moment. */
const TLP_CREATED = '2022-10-01T00:00:00.000Z';

type StixObject = Readonly<Record<string, Json>> & { readonly id: string };

/** To the millisecond, as STIX writes it. */
const moment = (iso: string): string => new Date(iso).toISOString();

/** A text within the quotes of a pattern (STIX 2.1, 9.3). */
const quoted = (text: string): string => `'${text.replaceAll('\\', '\\\\').replaceAll("'", "\\'")}'`;

interface Made {
  readonly type: string;
  readonly pattern: string;
  readonly object: (id: string) => StixObject;
}

/** What a subject is in STIX; null for what it has no object for. */
function observable(kind: string, name: string): Made | null {
  if (kind === 'address') {
    const network = parseNetwork(name);
    if (network === null) return null;
    const type = name.includes(':') ? 'ipv6-addr' : 'ipv4-addr';
    return {
      type,
      pattern: `[${type}:value = ${quoted(name)}]`,
      object: (id) => ({ type, spec_version: '2.1', id, value: name }),
    };
  }
  if (kind === 'user')
    return {
      type: 'user-account',
      pattern: `[user-account:account_login = ${quoted(name)}]`,
      object: (id) => ({ type: 'user-account', spec_version: '2.1', id, account_login: name }),
    };
  return null;
}

/** When evidence was first and last seen, of the events that it holds. */
function seenOf(
  frozen: Json | null,
  otherwise: string,
): { readonly first: string; readonly last: string; readonly n: number } {
  const alert = isJsonObject(frozen) && isJsonObject(frozen['alert']) ? frozen['alert'] : null;
  const first = alert?.['firstEvent'];
  const last = alert?.['lastEvent'];
  const matches = alert?.['matches'];
  return {
    first: typeof first === 'string' ? first : otherwise,
    last: typeof last === 'string' ? last : otherwise,
    n: typeof matches === 'number' && matches >= 1 ? matches : 1,
  };
}

/**
 * A report as a STIX 2.1 bundle: the report, who made it, what was observed, what tells the attacker, the techniques, and
 * how they hang together, all marked.
 * @param uuidOf a UUID of version 5 of a name, the same at every call
 */
export function reportStix(report: Report, uuidOf: (name: string) => string): string {
  const { record, steps, techniques, lede } = report;
  const marking = TLP[markingOfReport(report)];
  const made = moment(report.made);
  const created = moment(record.created);
  const idOf = (type: string, name: string): string =>
    `${type}--${uuidOf(`${record.number} ${type} ${name}`)}`;
  const author = `identity--${uuidOf('identity Under Lamp')}`;
  const common = (type: string, name: string): StixObject => ({
    type,
    spec_version: '2.1',
    id: idOf(type, name),
    created,
    modified: made,
    created_by_ref: author,
    object_marking_refs: [marking],
  });
  const objects: StixObject[] = [];
  const known = new Map<string, string>();
  const observe = (kind: string, name: string): string | null => {
    const found = observable(kind, name);
    if (found === null) return null;
    const id = `${found.type}--${uuidOf(canonicalJson([found.type, name]))}`;
    if (!known.has(id)) {
      known.set(id, name);
      objects.push(found.object(id));
    }
    return id;
  };
  for (const { pin, says, time } of steps) {
    const refs = says.subjects.flatMap(({ kind, name }) => observe(kind, name) ?? []);
    // Observed data without an object would say nothing (STIX 2.1, 4.14).
    if (refs.length === 0) continue;
    const { first, last, n } = seenOf(thawed(pin), time);
    objects.push({
      ...common('observed-data', `${pin.kind} ${pin.ref}`),
      first_observed: moment(first),
      last_observed: moment(last),
      number_observed: Math.min(n, 999_999_999),
      object_refs: [...new Set(refs)],
    });
  }
  const patterns = techniques.map(({ id, name }): StixObject => ({
    ...common('attack-pattern', id),
    name: name || id,
    external_references: [{ source_name: 'mitre-attack', external_id: id }],
  }));
  const indicators = record.subjects
    .filter(({ role }) => role === 'attacker')
    .flatMap(({ kind, name }): StixObject[] => {
      const found = observable(kind, name);
      if (found === null) return [];
      return [
        {
          ...common('indicator', `${kind} ${name}`),
          name,
          indicator_types: ['malicious-activity'],
          pattern: found.pattern,
          pattern_type: 'stix',
          valid_from: moment(steps[0]?.time ?? record.created),
        },
      ];
    });
  objects.push(...patterns, ...indicators);
  for (const { id: source } of indicators)
    for (const { id: target } of patterns)
      objects.push({
        ...common('relationship', `${source} ${target}`),
        relationship_type: 'indicates',
        source_ref: source,
        target_ref: target,
      });
  const identity: StixObject = {
    type: 'identity',
    spec_version: '2.1',
    id: author,
    created,
    modified: created,
    name: 'Under Lamp',
    identity_class: 'system',
  };
  const definition: StixObject = {
    type: 'marking-definition',
    spec_version: '2.1',
    id: marking,
    created: TLP_CREATED,
    name: `TLP:${markingOfReport(report).toUpperCase()}`,
    extensions: {
      [TLP_EXTENSION]: { extension_type: 'property-extension', tlp_2_0: markingOfReport(report) },
    },
  };
  const whole: StixObject = {
    ...common('report', 'report'),
    name: `${record.number} ${record.title}`,
    description: lede,
    report_types: ['threat-report'],
    published: made,
    // A report speaks of something (STIX 2.1, 4.16).
    object_refs: objects.length === 0 ? [author] : objects.map(({ id }) => id),
  };
  const bundle = {
    type: 'bundle',
    id: `bundle--${uuidOf(`${record.number} bundle ${made}`)}`,
    objects: [identity, definition, whole, ...objects],
  };
  return `${JSON.stringify(bundle, null, 2)}\n`;
}
