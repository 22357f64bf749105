import { parseDuration, SECOND } from '../base/instant.js';
import type { Wire } from '../wire/common.js';
import { moment } from '../wire/common.js';
import { pictureKinds } from './picture-kinds.js';

/** Columns of a board; its rows are {@link ROW_PIXELS} high. */
export const BOARD_COLUMNS = 12;
export const ROW_PIXELS = 43;
/** A board is a sheet to be looked at, and each card is a hunt that is asked. */
export const MAX_CARDS = 40;
export const MAX_BOARD_ROWS = 400;
/** Rows of a card: enough for every picture there is. */
export const MAX_CARD_ROWS = 5000;
/** Half of every event's bytes: a card leaves them to the reading of one. */
export const UNSHOWN_COLUMNS: ReadonlySet<string> = new Set(['original', 'raw']);
/** Longer texts are no boards. */
export const MAX_BOARD_LENGTH = 500_000;

/** Windows that are offered for a card; `day` is the day in which the Beam ends. */
export const ownWindows = ['15m', '1h', '4h', '24h', 'day', '7d', '30d', '90d'] as const;

/** What of the workbench itself a card may show in place of a hunt. */
export const workStates = [
  'alerts',
  'cases',
  'rules',
  'sources',
  'set-aside',
  'coverage',
  // Of one subject: on dossiers.
  'firsts',
  'alerts-about',
  'neighbours',
  'state',
  'makers',
] as const;
export type WorkState = (typeof workStates)[number];

const column = { type: 'string', minLength: 1, maxLength: 300 } as const;
const columnList = { type: 'array', maxItems: 60, items: column } as const;

/** How a card's rows are drawn. */
export const picture = {
  type: 'object',
  required: ['kind'],
  additionalProperties: false,
  properties: {
    kind: { enum: pictureKinds },
    usual: {
      type: 'integer',
      minimum: 1,
      maximum: 8,
      description: 'figures over time: so many weeks before give what is usual',
    },
    total: { type: 'boolean', description: 'figures over time: their sum stands above them' },
    template: {
      type: 'string',
      minLength: 1,
      maxLength: 500,
      description: 'sentences: words with columns in braces, such as "{user} gave {group_name}"',
    },
    same: {
      type: 'object',
      required: ['columns', 'words'],
      additionalProperties: false,
      properties: {
        columns: { type: 'array', minItems: 2, maxItems: 2, items: column },
        words: { type: 'string', minLength: 1, maxLength: 40 },
      },
      description: 'sentences: rows whose two columns are equal carry these words',
    },
    scale: {
      type: 'string',
      minLength: 1,
      maxLength: 40,
      description: 'cards that name the same scale share one',
    },
    unit: { enum: ['bytes'], description: 'what the figures are measured in' },
  },
} as const;
export type CardPicture = Wire<typeof picture>;

/** A window of a card's own. */
export const cardWindow = {
  anyOf: [
    {
      type: 'object',
      required: ['last'],
      additionalProperties: false,
      properties: {
        last: {
          type: 'string',
          pattern: '^(?:day|[1-9][0-9]{0,5}[smhdw])$',
          description:
            'a duration such as 24h, up to the end of the Beam; or "day", the day in which the Beam ends',
        },
      },
    },
    {
      type: 'object',
      required: ['from', 'to'],
      additionalProperties: false,
      properties: { from: moment, to: moment },
    },
  ],
} as const;
export type CardWindow = Wire<typeof cardWindow>;

/** What a click on a value of a card does. */
export const clicks = ['hunt', 'carry', 'dossier'] as const;
export type CardClick = (typeof clicks)[number];

/** A hunt with a picture, or a state of the workbench. */
export const card = {
  type: 'object',
  required: ['id', 'title'],
  additionalProperties: false,
  properties: {
    id: { type: 'string', pattern: '^[a-z0-9][a-z0-9-]{0,39}$' },
    title: { type: 'string', minLength: 1, maxLength: 120 },
    hunt: {
      anyOf: [
        { type: 'string', minLength: 1, maxLength: 100_000 },
        {
          type: 'object',
          required: ['saved', 'version'],
          additionalProperties: false,
          properties: { saved: { type: 'integer', minimum: 1 }, version: { type: 'integer', minimum: 1 } },
        },
      ],
      description: 'the text of a hunt, or a version of a saved one',
    },
    shows: { enum: workStates, description: 'a state of the workbench, in place of a hunt' },
    picture,
    window: cardWindow,
    click: { enum: clicks },
    hide: columnList,
    note: { type: 'string', maxLength: 2000 },
  },
} as const;
export type Card = Wire<typeof card>;

/** Where a card lies, in columns and rows from the top left. */
export const place = {
  type: 'object',
  required: ['card', 'x', 'y', 'w', 'h'],
  additionalProperties: false,
  properties: {
    card: { type: 'string', maxLength: 40 },
    x: { type: 'integer', minimum: 0, maximum: BOARD_COLUMNS - 1 },
    y: { type: 'integer', minimum: 0, maximum: MAX_BOARD_ROWS },
    w: { type: 'integer', minimum: 1, maximum: BOARD_COLUMNS },
    h: { type: 'integer', minimum: 1, maximum: 40 },
  },
} as const;
export type Place = Wire<typeof place>;

/** Where a board is used: by itself, as the Desk, or on the dossiers of a kind of subject. */
export const boardUses = [
  'people',
  'desk',
  'user',
  'host',
  'address',
  'account',
  'resource',
  'application',
] as const;

/** Mailboxes that one sheet goes to. */
export const MAX_MAILBOXES = 5;

/** When a board is answered by the clock, over what, and to whom that goes. */
export const boardSchedule = {
  type: 'object',
  required: ['cron', 'last'],
  additionalProperties: false,
  description:
    'at each of these times the board is answered, and what it showed is kept as a sheet; no two within an hour',
  properties: {
    cron: {
      type: 'string',
      maxLength: 200,
      description: 'five parts by the clock of the zone: minute, hour, day, month, weekday',
    },
    zone: { type: 'string', minLength: 1, maxLength: 60, description: 'IANA name; UTC where it is not told' },
    last: {
      type: 'string',
      pattern: '^[1-9][0-9]{0,5}[smhdw]$',
      description: 'the window of each sheet, which ends at its time: a duration such as 24h',
    },
    inputs: {
      type: 'object',
      maxProperties: 20,
      additionalProperties: { type: 'string', maxLength: 300 },
      description: 'values of the inputs; those that are not told stay as the hunts have them',
    },
    mail: {
      type: 'array',
      maxItems: MAX_MAILBOXES,
      uniqueItems: true,
      items: { type: 'string', minLength: 1, maxLength: 120 },
      description: 'destinations that each sheet is mailed to',
    },
  },
} as const;
export type BoardSchedule = Wire<typeof boardSchedule>;

/** A sheet of cards, as it is kept, shared, exported and drawn. */
export const board = {
  type: 'object',
  required: ['title', 'cards', 'layout'],
  additionalProperties: false,
  properties: {
    title: { type: 'string', minLength: 1, maxLength: 120 },
    about: { type: 'string', maxLength: 2000 },
    id: { type: ['string', 'integer'], description: 'told along with a board, and not kept with it' },
    owner: { type: ['string', 'null'] },
    shared: {
      anyOf: [
        { type: 'string', maxLength: 120 },
        { type: 'array', maxItems: 50, items: { type: 'string', maxLength: 120 } },
      ],
    },
    version: { type: 'integer' },
    for: {
      enum: boardUses,
      description: 'where it is used: by itself, as the Desk, on dossiers',
    },
    cards: { type: 'array', maxItems: MAX_CARDS, items: card },
    layout: { type: 'array', maxItems: MAX_CARDS, items: place },
    refresh: {
      type: ['integer', 'string'],
      minimum: 60,
      maximum: 3600,
      pattern: '^[1-9][0-9]{0,3}[smh]$',
      description:
        'seconds, or a duration such as 5m, 60 s to 1 h: so long an answer is kept, and then an open board asks again',
    },
    schedule: boardSchedule,
  },
} as const;
export type Board = Wire<typeof board>;

/** Seconds after which a board asks again where it does not say. */
export const USUAL_REFRESH = 60;

/** Seconds after which a board asks again, 60 to 3600. */
export function refreshOf({ refresh }: Pick<Board, 'refresh'>): number {
  const seconds =
    typeof refresh === 'string' ? (parseDuration(refresh) ?? 0) / SECOND : (refresh ?? USUAL_REFRESH);
  return Math.max(60, Math.min(3600, seconds));
}

/** A board as it is kept: without what is told along with it. */
export function bare({ id: _id, owner: _owner, shared: _shared, version: _version, ...board }: Board): Board {
  return board;
}

/** The hunt of a card as a text; null where it names a saved hunt, or has none. */
export const huntText = ({ hunt }: Card): string | null => (typeof hunt === 'string' ? hunt : null);
