import { columnNames, keptColumns } from '../events/columns.js';
import type { RecordShape } from '../formats/joined.js';
import { patternBindings, type PatternBinding } from '../text/read-pattern.js';
import { formatNames } from '../wire/format-names.js';

// JSON Schema of a recipe. A recipe says in data how one source's records become events.

const settable = columnNames.filter(
  (name) => name !== 'time' && !(keptColumns as readonly string[]).includes(name),
);
/** How a time may be written. */
export const timeForms = [
  'iso',
  'epoch-seconds',
  'epoch-milliseconds',
  'epoch-microseconds',
  'epoch-nanoseconds',
  'syslog',
  'plain-utc',
  'access-log',
] as const;
export type TimeForm = (typeof timeForms)[number];

const path = { type: 'string', minLength: 1, maxLength: 200 } as const;
const expression = { type: 'string', minLength: 1, maxLength: 500 } as const;
const timeRead = { type: 'string', minLength: 1, maxLength: 500 } as const;
const timeAs = { type: 'string', minLength: 1, maxLength: 100 } as const;
/** Marks events whose time is the moment they came in, since none could be read. */
export const ARRIVAL_TAG = 'time of arrival';
const scalar = {
  anyOf: [{ type: 'string', maxLength: 500 }, { type: 'number' }, { type: 'boolean' }],
} as const;

export const when = {
  type: 'object',
  description:
    'fields and the value, or values, one of which each must have; numbers equal their text, "*" stands for any run of characters, null for a field that is not there',
  minProperties: 1,
  additionalProperties: { anyOf: [scalar, { type: 'null' }, { type: 'array', items: scalar, minItems: 1 }] },
} as const;

const columnsOf = (value: object) =>
  ({ type: 'object', propertyNames: { enum: settable }, additionalProperties: value }) as const;

const mapping = {
  anyOf: [
    path,
    {
      type: 'object',
      required: ['from'],
      additionalProperties: false,
      properties: {
        from: {
          anyOf: [
            path,
            { type: 'array', items: path, minItems: 1, description: 'the first of these that has a value' },
          ],
        },
        values: {
          type: 'object',
          additionalProperties: { type: 'string' },
          description: 'what each value of the source is called here',
        },
        otherwise: {
          type: 'string',
          description: 'what a value that "values" does not name becomes; without it, it stays',
        },
        until: {
          type: 'string',
          minLength: 1,
          maxLength: 20,
          description: 'only the text before this, such as "." for the first part of a host name',
        },
        trim: {
          type: 'string',
          minLength: 1,
          maxLength: 10,
          description:
            'signs that are taken away at both ends of a text, such as the angle brackets of a mail address',
        },
        times: { type: 'number', description: 'a number is multiplied by this, to change its unit' },
        each: {
          type: 'object',
          minProperties: 1,
          additionalProperties: path,
          description: 'the value is a list: of each item these parts, under these names',
        },
      },
    },
    {
      type: 'object',
      required: ['template'],
      additionalProperties: false,
      properties: {
        template: {
          type: 'string',
          minLength: 1,
          maxLength: 500,
          description:
            'a text with fields in braces, such as "{service}.{verb}"; nothing where one is missing',
        },
      },
    },
  ],
} as const;

export const recipeSchema = {
  $id: 'recipe',
  type: 'object',
  required: ['name', 'title', 'version', 'format', 'time'],
  additionalProperties: false,
  properties: {
    name: { type: 'string', pattern: '^[a-z0-9][a-z0-9_.-]{0,62}$' },
    title: { type: 'string', minLength: 1, maxLength: 200 },
    version: { type: 'integer', minimum: 1 },
    format: { enum: formatNames },
    logsource: {
      type: 'object',
      additionalProperties: false,
      properties: { category: { type: 'string' }, product: { type: 'string' }, service: { type: 'string' } },
    },
    columns: {
      type: 'array',
      items: path,
      minItems: 1,
      maxItems: 200,
      uniqueItems: true,
      description: 'names of the columns in their order, for formats that do not name them in each record',
    },
    delimiter: { type: 'string', minLength: 1, maxLength: 1, description: 'between the columns of CSV' },
    records: {
      type: 'object',
      minProperties: 1,
      additionalProperties: false,
      description:
        'how lines or documents make up records, where that is not one a line; expressions are of the linear dialect',
      properties: {
        begins: { ...expression, description: 'a record begins with a line in which this is found' },
        indented: { type: 'boolean', description: 'lines that begin with a blank go on the line before' },
        continues: { ...expression, description: 'a line in which this is found goes on with the next' },
        joinedBy: {
          ...expression,
          description: 'lines are of one record where its group `id` is the same, as in id=(?<id>[0-9]+)',
        },
        ends: { ...expression, description: 'with this line a joined record is whole' },
        list: {
          ...path,
          description: 'where in each JSON document the list of records stands, such as Records',
        },
      },
    },
    expand: {
      type: 'array',
      description: 'fields that hold further fields as text; these are read before anything else',
      items: {
        type: 'object',
        required: ['from', 'as'],
        additionalProperties: false,
        properties: {
          from: path,
          as: { enum: ['key-value', 'json', 'csv'] },
          after: {
            type: 'string',
            minLength: 1,
            maxLength: 100,
            description: 'the fields stand behind this, such as "@cee:"; without it, they are the whole text',
          },
          until: {
            type: 'string',
            minLength: 1,
            maxLength: 100,
            description:
              'the fields stand before this; without it, or where it is absent, they go on to the end',
          },
          columns: {
            type: 'array',
            items: path,
            minItems: 1,
            maxItems: 200,
            description: 'the names of the columns, for CSV',
          },
          delimiter: { type: 'string', minLength: 1, maxLength: 1 },
          into: { ...path, description: 'the field to put them under; without it, beside the others' },
        },
      },
    },
    id: { ...path, description: 'where the source keeps an id of its own for each record' },
    time: {
      type: 'object',
      required: ['from', 'as'],
      additionalProperties: false,
      properties: {
        from: { anyOf: [path, { type: 'array', items: path, minItems: 1 }] },
        and: {
          ...path,
          description: 'a second field, put behind the first with a blank: the clock beside the date',
        },
        read: {
          anyOf: [timeRead, { type: 'array', items: timeRead, minItems: 1, maxItems: 10 }],
          description:
            'a pattern, or several that are tried in order, that cuts <time> out of the text, such as "[<time>] <_rest:rest>"',
        },
        as: {
          description:
            'how the time is written: one of the named forms, or a format such as "yyyy-MM-dd HH:mm:ss,SSS" (letters of Unicode TS 35); several are tried in order',
          anyOf: [timeAs, { type: 'array', items: timeAs, minItems: 1, maxItems: 10 }],
        },
        zone: {
          type: 'string',
          minLength: 1,
          maxLength: 60,
          description: 'the zone of times that name none, such as Europe/Lisbon; a source may have its own',
        },
        zones: {
          type: 'object',
          description: 'what names of zones in the text mean: an offset such as "+01:00", or a zone',
          additionalProperties: { type: 'string', minLength: 1, maxLength: 60 },
        },
        otherwise: {
          enum: ['arrival'],
          description: `where no time can be read, the moment of arrival counts, and the event is tagged "${ARRIVAL_TAG}"`,
        },
      },
    },
    constants: columnsOf(scalar),
    map: columnsOf(mapping),
    cases: {
      type: 'array',
      description: 'the first case that holds gives columns of its own',
      items: {
        type: 'object',
        required: ['when'],
        additionalProperties: false,
        properties: { when, set: columnsOf(scalar), map: columnsOf(mapping) },
      },
    },
    messages: {
      type: 'array',
      description: 'patterns for text; the first that fits gives its blanks as columns',
      items: {
        type: 'object',
        required: ['in', 'read'],
        additionalProperties: false,
        properties: {
          in: path,
          when,
          read: { type: 'string', minLength: 1, maxLength: 1000 },
          bind: {
            enum: patternBindings,
            description:
              'where the pattern is bound: "start" of the text, "end" (it is the whole text, read from its end) or "anywhere". Bind it on the side that nobody else can write',
          },
          set: columnsOf(scalar),
        },
      },
    },
    lookups: {
      type: 'array',
      description: 'columns filled in from a list, where the record itself says nothing',
      items: {
        type: 'object',
        required: ['list', 'by', 'set'],
        additionalProperties: false,
        properties: {
          list: { type: 'string', minLength: 1, maxLength: 100 },
          by: { enum: settable },
          set: {
            ...columnsOf(path),
            description: 'columns of the event and the column of the list they take',
          },
        },
      },
    },
    discard: {
      type: 'array',
      items: {
        type: 'object',
        required: ['when', 'because'],
        additionalProperties: false,
        properties: { when, because: { type: 'string', minLength: 1 } },
      },
    },
    tags: {
      type: 'array',
      items: {
        type: 'object',
        required: ['when', 'add'],
        additionalProperties: false,
        properties: { when, add: { type: 'string', minLength: 1, maxLength: 60 } },
      },
    },
  },
} as const;

type Scalar = string | number | boolean;
export type When = Readonly<Record<string, Scalar | null | readonly Scalar[]>>;
export type Mapping =
  | string
  | {
      readonly from: string | readonly string[];
      readonly values?: Readonly<Record<string, string>>;
      readonly otherwise?: string;
      readonly until?: string;
      readonly trim?: string;
      readonly times?: number;
      readonly each?: Readonly<Record<string, string>>;
    }
  | { readonly template: string };

/** How one source's records become events. */
export interface Recipe {
  readonly name: string;
  readonly title: string;
  readonly version: number;
  readonly format: (typeof formatNames)[number];
  readonly logsource?: { readonly category?: string; readonly product?: string; readonly service?: string };
  readonly columns?: readonly string[];
  readonly delimiter?: string;
  readonly records?: RecordShape;
  readonly expand?: readonly {
    readonly from: string;
    readonly as: 'key-value' | 'json' | 'csv';
    readonly into?: string;
    readonly after?: string;
    readonly until?: string;
    readonly columns?: readonly string[];
    readonly delimiter?: string;
  }[];
  readonly id?: string;
  readonly time: {
    readonly from: string | readonly string[];
    /** A second field, behind the first: the clock beside the date. */
    readonly and?: string;
    /** A pattern that cuts `<time>` out of the text. */
    readonly read?: string | readonly string[];
    /** Named forms, or formats; tried in order. */
    readonly as: string | readonly string[];
    readonly zone?: string;
    readonly zones?: Readonly<Record<string, string>>;
    readonly otherwise?: 'arrival';
  };
  readonly constants?: Readonly<Record<string, Scalar>>;
  readonly map?: Readonly<Record<string, Mapping>>;
  readonly cases?: readonly {
    readonly when: When;
    readonly set?: Readonly<Record<string, Scalar>>;
    readonly map?: Readonly<Record<string, Mapping>>;
  }[];
  readonly messages?: readonly {
    readonly in: string;
    readonly when?: When;
    readonly read: string;
    readonly bind?: PatternBinding;
    readonly set?: Readonly<Record<string, Scalar>>;
  }[];
  readonly lookups?: readonly {
    readonly list: string;
    readonly by: string;
    readonly set: Readonly<Record<string, string>>;
  }[];
  readonly discard?: readonly { readonly when: When; readonly because: string }[];
  readonly tags?: readonly { readonly when: When; readonly add: string }[];
}
