import { isJsonObject, type Json, type JsonObject } from '../base/json.js';
import { columnNames, isColumnName, type ColumnName } from '../events/columns.js';
import { techniqueOf } from '../sigma/techniques.js';
import type { SubjectKind } from '../subjects/kinds.js';
import { jsonToText } from '../text/json-text.js';

// What a thing that was frozen when it was pinned has to say. It comes from stored text or from somebody's file, so that
// nothing of it is taken for granted.

/** A person, machine, address or cloud account that evidence names. */
export interface NamedSubject {
  readonly kind: SubjectKind;
  readonly name: string;
}

/** Rows of evidence, as they are shown. */
export interface EvidenceTable {
  readonly columns: readonly string[];
  readonly rows: readonly (readonly string[])[];
  /** How many there were where not all are shown. */
  readonly total: number;
}

/** What a frozen thing says. */
export interface EvidenceSays {
  readonly facts: readonly { readonly label: string; readonly value: string }[];
  readonly table: EvidenceTable | null;
  readonly outcome: string | null;
  readonly level: string | null;
  readonly place: string | null;
  readonly subjects: readonly NamedSubject[];
  readonly techniques: readonly string[];
}

/** Rows that a report shows of one piece of evidence; all are in the case file. */
const MAX_ROWS = 25;
const MAX_VALUE = 200;
/** Columns that tell an event in a line. */
const TOLD: readonly ColumnName[] = [
  'time',
  'source',
  'operation',
  'outcome',
  'user',
  'host',
  'src_ip',
  'resource',
];
const NAMING: readonly (readonly [ColumnName, SubjectKind])[] = [
  ['user', 'user'],
  ['acting_as', 'user'],
  ['target_user', 'user'],
  ['host', 'host'],
  ['src_ip', 'address'],
  ['dst_ip', 'address'],
  ['account', 'account'],
];

const textOf = (value: Json | undefined): string => {
  const text = jsonToText(value ?? null) ?? '';
  return text.length > MAX_VALUE ? `${text.slice(0, MAX_VALUE).toWellFormed()}…` : text;
};
const objectOf = (value: Json | undefined): JsonObject => (isJsonObject(value) ? value : {});
const arrayOf = (value: Json | undefined): readonly Json[] =>
  Array.isArray(value) ? (value as readonly Json[]) : [];

function subjectsOf(events: readonly JsonObject[]): NamedSubject[] {
  const found = new Map<string, NamedSubject>();
  for (const event of events)
    for (const [column, kind] of NAMING) {
      const name = event[column];
      if (typeof name === 'string' && name !== '') found.set(`${kind} ${name}`, { kind, name });
    }
  return [...found.values()];
}

function tableOfEvents(events: readonly JsonObject[], total: number): EvidenceTable | null {
  if (events.length === 0) return null;
  const columns = TOLD.filter((name) => events.some((event) => event[name] !== undefined));
  return {
    columns,
    rows: events.slice(0, MAX_ROWS).map((event) => columns.map((name) => textOf(event[name]))),
    total,
  };
}

const placeOf = (event: JsonObject): string | null =>
  [event['city'], event['country']].filter((one) => typeof one === 'string').join(', ') || null;

function ofEvent(event: JsonObject): EvidenceSays {
  const left: readonly string[] = ['id', 'time', 'received', 'raw', 'original'];
  return {
    facts: columnNames.flatMap((name) => {
      const value = event[name];
      return value === undefined || value === null || left.includes(name)
        ? []
        : [{ label: name, value: textOf(value) }];
    }),
    table: null,
    outcome: typeof event['outcome'] === 'string' ? event['outcome'] : null,
    level: null,
    place: placeOf(event),
    subjects: subjectsOf([event]),
    techniques: [],
  };
}

function ofAlert(alert: JsonObject, rule: JsonObject): EvidenceSays {
  const events = arrayOf(alert['evidence']).filter(isJsonObject);
  const total = typeof alert['evidenceTotal'] === 'number' ? alert['evidenceTotal'] : events.length;
  const named = Object.entries(objectOf(alert['subjectFields'])).flatMap(([column, name]): NamedSubject[] => {
    const kind = NAMING.find(([one]) => one === column)?.[1];
    return kind !== undefined && typeof name === 'string' ? [{ kind, name }] : [];
  });
  const subjects = [...named, ...subjectsOf(events)];
  return {
    facts: [
      {
        label: 'rule',
        value:
          rule['id'] === null
            ? 'none: raised by hand'
            : `${textOf(rule['title'])}, version ${textOf(rule['version'])}`,
      },
      { label: 'subject', value: textOf(alert['subject']) },
      { label: 'matches', value: textOf(alert['matches']) },
      { label: 'first', value: textOf(alert['firstEvent']) },
      { label: 'last', value: textOf(alert['lastEvent']) },
    ],
    table: tableOfEvents(events, total),
    outcome: null,
    level: typeof alert['level'] === 'string' ? alert['level'] : null,
    place: events.map(placeOf).find((place) => place !== null) ?? null,
    subjects: [...new Map(subjects.map((one) => [`${one.kind} ${one.name}`, one])).values()],
    techniques: arrayOf(rule['tags']).flatMap((tag) =>
      typeof tag === 'string' ? (techniqueOf(tag) ?? []) : [],
    ),
  };
}

function ofSnapshot(snapshot: JsonObject): EvidenceSays {
  const columns = arrayOf(snapshot['columns']).map((one) => textOf(objectOf(one)['name']));
  const rows = arrayOf(snapshot['rows']).map(arrayOf);
  const question = objectOf(snapshot['question']);
  const named = columns.flatMap((column, i): NamedSubject[] => {
    const kind = isColumnName(column) ? NAMING.find(([one]) => one === column)?.[1] : undefined;
    if (kind === undefined) return [];
    return rows.slice(0, MAX_ROWS).flatMap((row) => {
      const name = row[i];
      return typeof name === 'string' && name !== '' ? [{ kind, name }] : [];
    });
  });
  return {
    facts: [
      { label: 'hunt', value: textOf(question['text']) },
      { label: 'asked', value: textOf(snapshot['asked']) },
    ],
    table: {
      columns,
      rows: rows.slice(0, MAX_ROWS).map((row) => columns.map((_, i) => textOf(row[i]))),
      total: rows.length,
    },
    outcome: null,
    level: null,
    place: null,
    subjects: [...new Map(named.map((one) => [`${one.kind} ${one.name}`, one])).values()],
    techniques: [],
  };
}

/** Nothing that is known of it. */
const SILENT: EvidenceSays = {
  facts: [],
  table: null,
  outcome: null,
  level: null,
  place: null,
  subjects: [],
  techniques: [],
};

/** What was done, or asked for: a step of the story like what happened. */
function ofResponse(response: JsonObject): EvidenceSays {
  const { does, subject, state, askedBy, asked, decidedBy, decided, said, reason } = response;
  return {
    ...SILENT,
    facts: (
      [
        ['does', does],
        ['subject', subject],
        ['state', state],
        ['asked by', askedBy],
        ['asked', asked],
        ['decided by', decidedBy],
        ['decided', decided],
        ['because', reason],
        ['the other side said', said],
      ] as const
    ).flatMap(([label, value]) =>
      value === null || value === undefined || value === '' ? [] : [{ label, value: textOf(value) }],
    ),
    outcome: state === 'done' ? 'success' : state === 'failed' || state === 'refused' ? 'failure' : null,
  };
}

/** What a frozen thing says; of one that holds nothing we know of, nothing. */
export function saysOf(frozen: Json | null): EvidenceSays {
  if (!isJsonObject(frozen)) return SILENT;
  if (isJsonObject(frozen['event'])) return ofEvent(frozen['event']);
  if (isJsonObject(frozen['alert'])) return ofAlert(frozen['alert'], objectOf(frozen['rule']));
  if (isJsonObject(frozen['snapshot'])) return ofSnapshot(frozen['snapshot']);
  if (isJsonObject(frozen['response'])) return ofResponse(frozen['response']);
  if (isJsonObject(frozen['file'])) {
    const { name, size, sha256 } = frozen['file'];
    return {
      ...SILENT,
      facts: [
        { label: 'file', value: textOf(name) },
        { label: 'bytes', value: textOf(size) },
        { label: 'SHA-256', value: textOf(sha256) },
      ],
    };
  }
  if (isJsonObject(frozen['hunt']))
    return { ...SILENT, facts: [{ label: 'hunt', value: textOf(frozen['hunt']['address']) }] };
  return SILENT;
}
