import { formatNames } from '../wire/format-names.js';
import { maybeMoment, moment, type Wire } from './common.js';

/** How a source stands: never heard, coming in, coming in late, or silent for longer than it should be. */
export const sourceStates = ['waiting', 'flowing', 'late', 'quiet'] as const;

const patterns = {
  type: 'array',
  maxItems: 100,
  items: { type: 'string', minLength: 1, maxLength: 255 },
} as const;

/** Whose messages a source takes from the syslog listener: every part that is given must fit. */
export const syslogClaim = {
  type: 'object',
  additionalProperties: false,
  minProperties: 1,
  properties: {
    hosts: {
      ...patterns,
      description: 'host names as the messages give them; "*" stands for any run of characters',
    },
    programs: { ...patterns, description: 'program names, such as sshd' },
    networks: { ...patterns, description: 'addresses or networks the messages come from' },
  },
} as const;
export type SyslogClaim = Wire<typeof syslogClaim>;

export const source = {
  type: 'object',
  required: [
    'name',
    'title',
    'description',
    'recipe',
    'state',
    'stored',
    'known',
    'setAside',
    'lastEvent',
    'lastReceived',
    'keyEnding',
    'perHour',
    'recipeVersion',
    'format',
    'lag',
    'usualSeconds',
    'silentSeconds',
    'gaps',
    'retentionDays',
    'heldFrom',
    'syslog',
    'zone',
  ],
  additionalProperties: false,
  properties: {
    name: { type: 'string' },
    title: { type: 'string' },
    description: { type: 'string' },
    recipe: { type: 'string' },
    state: { enum: sourceStates },
    stored: { type: 'number' },
    known: { type: 'number' },
    setAside: { type: 'number', description: 'records that could not be read and wait' },
    lastEvent: maybeMoment,
    lastReceived: maybeMoment,
    keyEnding: { type: 'string' },
    perHour: {
      type: 'array',
      items: { type: 'number' },
      description: 'events of each of the last 24 hours, oldest first',
    },
    recipeVersion: { type: 'integer' },
    format: { enum: formatNames },
    lag: {
      description: 'seconds from happening to coming in, of the last 24 hours; null where nothing came',
      anyOf: [
        {
          type: 'object',
          required: ['median', 'most'],
          additionalProperties: false,
          properties: {
            median: { type: 'number' },
            most: { type: 'number', description: 'of 95 in 100' },
          },
        },
        { type: 'null' },
      ],
    },
    usualSeconds: { type: ['number', 'null'], description: 'between two events, in the hours that had any' },
    silentSeconds: { type: ['number', 'null'], description: 'since a record came in' },
    gaps: {
      type: 'array',
      description:
        'stretches of the last week without an event where many were to be expected, longest first',
      items: {
        type: 'object',
        required: ['from', 'to'],
        additionalProperties: false,
        properties: { from: moment, to: moment },
      },
    },
    retentionDays: { type: ['integer', 'null'] },
    heldFrom: { type: ['string', 'null'], description: 'the first day whose events are still held' },
    syslog: { anyOf: [syslogClaim, { type: 'null' }] },
    zone: {
      type: ['string', 'null'],
      description: 'the time zone of its times that name none; null: as the recipe says',
    },
  },
} as const;
export type Source = Wire<typeof source>;
export const sources = {
  type: 'object',
  required: ['sources'],
  additionalProperties: false,
  properties: { sources: { type: 'array', items: source } },
} as const;

const sourceName = { type: 'string', pattern: '^[a-z0-9][a-z0-9_.-]{0,62}$' } as const;

/** Another name for a source or a recipe. */
export const newName = {
  type: 'object',
  required: ['name'],
  additionalProperties: false,
  properties: { name: sourceName },
} as const;

export const newSource = {
  type: 'object',
  required: ['name', 'title', 'recipe'],
  additionalProperties: false,
  properties: {
    name: sourceName,
    title: { type: 'string', minLength: 1, maxLength: 200 },
    description: { type: 'string', maxLength: 1000, default: '' },
    recipe: { type: 'string' },
  },
} as const;

/** A key is shown once, when it is made. */
export const sourceKey = {
  type: 'object',
  required: ['key'],
  additionalProperties: false,
  properties: { key: { type: 'string' } },
} as const;

/** What may be changed of a source; what is not given stays. */
export const sourceChange = {
  type: 'object',
  additionalProperties: false,
  minProperties: 1,
  properties: {
    title: { type: 'string', minLength: 1, maxLength: 200 },
    description: { type: 'string', maxLength: 1000 },
    recipe: { type: 'string', maxLength: 100 },
    retentionDays: {
      anyOf: [{ type: 'integer', minimum: 1, maximum: 3650 }, { type: 'null' }],
      description: 'null keeps all',
    },
    syslog: { anyOf: [syslogClaim, { type: 'null' }] },
    zone: { type: ['string', 'null'], minLength: 1, maxLength: 60 },
  },
} as const;
export type SourceChange = Wire<typeof sourceChange>;

export const recipeSummary = {
  type: 'object',
  required: ['name', 'title', 'version', 'format'],
  additionalProperties: false,
  properties: {
    name: { type: 'string' },
    title: { type: 'string' },
    version: { type: 'integer' },
    format: { type: 'string' },
  },
} as const;
/** One version of a recipe in full, and the others there are. */
export const recipeInFull = {
  type: 'object',
  required: ['recipe', 'versions', 'usedBy'],
  additionalProperties: false,
  properties: {
    recipe: { type: 'object' },
    versions: {
      type: 'array',
      description: 'newest first',
      items: {
        type: 'object',
        required: ['version', 'created'],
        additionalProperties: false,
        properties: { version: { type: 'integer' }, created: moment },
      },
    },
    usedBy: { type: 'array', items: { type: 'string' }, description: 'sources' },
  },
} as const;
export type RecipeInFull = Wire<typeof recipeInFull>;

export const savedRecipe = {
  type: 'object',
  required: ['version'],
  additionalProperties: false,
  properties: { version: { type: 'integer' } },
} as const;

/** A recipe in the making, and records to try it on. */
export const recipeTry = {
  type: 'object',
  required: ['sample'],
  additionalProperties: false,
  properties: {
    recipe: { type: 'object', description: 'left out, a first draft is made for the sample' },
    sample: { type: 'string', maxLength: 1_000_000 },
  },
} as const;

export const recipeTried = {
  type: 'object',
  required: ['recipe', 'recognised', 'fitting', 'mistake', 'records', 'coverage', 'suggestions'],
  additionalProperties: false,
  properties: {
    recipe: { type: 'object', description: 'the one that was tried' },
    recognised: {
      type: 'object',
      required: ['format', 'share'],
      properties: {
        format: { enum: formatNames },
        columns: { type: 'array', items: { type: 'string' } },
        delimiter: { type: 'string' },
        share: { type: 'number', description: 'of the records that read so, 0..1' },
      },
    },
    fitting: {
      type: 'array',
      description: 'recipes that ship and read the sample, the best first; only where none was given',
      items: {
        type: 'object',
        required: ['name', 'title', 'fit'],
        additionalProperties: false,
        properties: { name: { type: 'string' }, title: { type: 'string' }, fit: { type: 'number' } },
      },
    },
    mistake: { type: ['string', 'null'], description: 'why the recipe is none' },
    records: {
      type: 'array',
      items: {
        type: 'object',
        required: ['raw', 'became', 'fields', 'event', 'unread', 'reason'],
        additionalProperties: false,
        properties: {
          raw: { type: 'string' },
          became: { enum: ['event', 'discarded', 'set-aside'] },
          fields: { anyOf: [{ type: 'object' }, { type: 'null' }], description: 'as its source named them' },
          event: { anyOf: [{ type: 'object' }, { type: 'null' }], description: 'columns of the event' },
          unread: {
            type: 'array',
            items: { type: 'string' },
            description: 'columns whose value could not be read',
          },
          reason: { type: ['string', 'null'] },
        },
      },
    },
    coverage: {
      type: 'array',
      items: {
        type: 'object',
        required: ['field', 'records', 'example', 'columns', 'used'],
        additionalProperties: false,
        properties: {
          field: { type: 'string' },
          records: { type: 'integer' },
          example: { type: 'string' },
          columns: { type: 'array', items: { type: 'string' } },
          used: { type: 'boolean', description: 'mapped, or looked at; otherwise it stays under original' },
        },
      },
    },
    suggestions: {
      type: 'array',
      items: {
        type: 'object',
        required: ['field', 'column', 'because'],
        additionalProperties: false,
        properties: {
          field: { type: 'string' },
          column: { type: 'string' },
          because: { type: 'string' },
        },
      },
    },
  },
} as const;
export type RecipeTried = Wire<typeof recipeTried>;

/** Records of a source as they came, to try a recipe on. */
export const sourceSample = {
  type: 'object',
  required: ['sample'],
  additionalProperties: false,
  properties: { sample: { type: 'string' } },
} as const;

export const recipes = {
  type: 'object',
  required: ['recipes'],
  additionalProperties: false,
  properties: { recipes: { type: 'array', items: recipeSummary } },
} as const;

/** How records can come in, for whoever sets up a sender. */
export const intakeWays = {
  type: 'object',
  required: ['bytes', 'records', 'syslog'],
  additionalProperties: false,
  properties: {
    bytes: { type: 'integer', description: 'a request may hold at most, unpacked' },
    records: { type: 'integer', description: 'a request may hold at most' },
    syslog: {
      type: 'object',
      required: ['host', 'port', 'tlsPort'],
      additionalProperties: false,
      properties: {
        host: { type: 'string' },
        port: { type: ['integer', 'null'], description: 'of UDP and TCP; null when it is not listened for' },
        tlsPort: { type: ['integer', 'null'] },
      },
    },
  },
} as const;
export type IntakeWays = Wire<typeof intakeWays>;

/** What a sender with a source's key may know of it. */
export const intakeSource = {
  type: 'object',
  required: ['source', 'format'],
  additionalProperties: false,
  properties: {
    source: { type: 'string' },
    format: { enum: formatNames },
    records: {
      type: 'object',
      description: 'how lines or documents make up records, as recipes say it; absent where that is not told',
      additionalProperties: { type: ['string', 'boolean'] },
    },
  },
} as const;

const group = { type: 'string', minLength: 1, maxLength: 300 } as const;

/** Records that could not be read for the same reason. */
export const setAsideGroup = {
  type: 'object',
  required: ['group', 'code', 'reason', 'records', 'first', 'last', 'examples'],
  additionalProperties: false,
  properties: {
    group: { ...group, description: 'names the group in requests' },
    code: { type: 'string' },
    reason: { type: 'string', description: 'the reason of the newest of them, in full' },
    records: { type: 'integer' },
    first: moment,
    last: moment,
    examples: {
      type: 'array',
      items: { type: 'string' },
      description: 'newest first, cut at 4,000 characters',
    },
  },
} as const;
export type SetAsideGroup = Wire<typeof setAsideGroup>;
export const setAsideList = {
  type: 'object',
  required: ['total', 'groups'],
  additionalProperties: false,
  properties: { total: { type: 'number' }, groups: { type: 'array', items: setAsideGroup } },
} as const;
export type SetAsideList = Wire<typeof setAsideList>;

export const setAsideRetry = {
  type: 'object',
  additionalProperties: false,
  properties: { group },
} as const;
export const setAsideRetried = {
  type: 'object',
  required: ['tried', 'stored', 'known', 'discarded', 'setAside'],
  additionalProperties: false,
  properties: {
    tried: { type: 'integer' },
    stored: { type: 'integer' },
    known: { type: 'integer' },
    discarded: { type: 'integer' },
    setAside: { type: 'integer', description: 'still cannot be read' },
  },
} as const;
export type SetAsideRetried = Wire<typeof setAsideRetried>;

export const setAsideDiscard = {
  type: 'object',
  required: ['group', 'because'],
  additionalProperties: false,
  properties: { group, because: { type: 'string', minLength: 3, maxLength: 500 } },
} as const;
export const discardedCount = {
  type: 'object',
  required: ['discarded'],
  additionalProperties: false,
  properties: { discarded: { type: 'integer' } },
} as const;

export const recordOutcome = {
  type: 'object',
  required: ['record', 'outcome'],
  additionalProperties: false,
  properties: {
    record: { type: 'integer', description: 'which record of the request, from 1' },
    outcome: { enum: ['stored', 'known', 'set aside', 'discarded'] },
    id: { type: 'string' },
    code: { type: 'string' },
    reason: { type: 'string' },
  },
} as const;
export type RecordOutcome = Wire<typeof recordOutcome>;

const counts = {
  records: { type: 'integer' },
  stored: { type: 'integer' },
  known: { type: 'integer', description: 'already there: the same record sent again' },
  setAside: { type: 'integer' },
  discarded: { type: 'integer', description: 'left out because the recipe says so' },
} as const;

/** What became of a request's records. Whatever it reports as stored is committed. */
/** What one intake request may hold, told in every refusal. */
export const INTAKE_LIMITS = { bytes: 16 * 1024 * 1024, records: 50_000 } as const;

export const intakeResult = {
  type: 'object',
  required: ['records', 'stored', 'known', 'setAside', 'discarded', 'outcomes'],
  additionalProperties: false,
  properties: { ...counts, outcomes: { type: 'array', items: recordOutcome } },
} as const;

export const uploadResult = {
  type: 'object',
  required: ['records', 'stored', 'known', 'setAside', 'discarded'],
  additionalProperties: false,
  properties: counts,
} as const;
export type UploadResult = Wire<typeof uploadResult>;
