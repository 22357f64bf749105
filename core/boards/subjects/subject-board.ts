import { MINUTE } from '../../base/instant.js';
import type { Kind } from '../../events/kinds.js';
import type { SubjectKind } from '../../subjects/kinds.js';
import type { Window } from '../../wick/plan.js';
import type { Board, Card, CardPicture, Place, WorkState } from '../board.js';

/** One lane of what happened: the kinds of events that stand on it. */
export interface Lane {
  readonly name: string;
  readonly kinds: readonly Kind[];
  /** What its marks are as high as, where that is not how many there are. */
  readonly height?: 'records';
  /** What is told of it in words, where more happened than usual. */
  readonly tells?: Telling;
}

/** Different values of a lane's events that say more than how many there were. */
export interface Telling {
  /** An expression of the hunt language. */
  readonly value: string;
  /** What stands between two of them. */
  readonly between: ', ' | ', then ';
  /** What stands behind the last. */
  readonly after?: string;
  /** How many different ones there must be to be worth telling. */
  readonly least?: number;
  /** Whether they are names as systems write them. */
  readonly names?: boolean;
}

/** Tellings that several kinds share. */
export const tellings = {
  rights: { value: 'coalesce(group_name, operation)', between: ', ' },
  acting: { value: 'acting_as', between: ', ', names: true },
  programs: { value: 'elevation', between: ', then ', after: ' rights', least: 2 },
  findings: { value: 'finding', between: ', ' },
} as const satisfies Record<string, Telling>;

/** What may be new of a subject: values of the other side of a pair of which sightings are kept. */
export interface FirstOf {
  readonly what: string;
  readonly pair: string;
  readonly column: string;
}

/** The dossier of one kind. */
export interface SubjectBoard {
  readonly kind: SubjectKind;
  readonly lanes: readonly Lane[];
  readonly firsts: readonly FirstOf[];
  /** By which shared values its neighbours are found, and what those are called. */
  readonly neighbours: readonly { readonly pair: string; readonly by: string }[];
  readonly board: Board;
}

/** How every hunt of a dossier begins. @param from kinds of events, as after "from" */
export const about = (kind: SubjectKind, from: string): string =>
  `ask subject 'Subject'\nfrom ${from}\nwhere about ${kind} $subject\n`;

export const card = (
  id: string,
  title: string,
  hunt: string,
  picture: CardPicture,
  more: Partial<Card> = {},
): Card => ({ id, title, hunt, picture, ...more });

export const state = (id: string, title: string, shows: WorkState): Card => ({ id, title, shows });

/** Three columns, as dossiers stand: each a list of cards with their height in rows. */
export function inColumns(
  widths: readonly [number, number, number],
  columns: readonly (readonly (readonly [string, number])[])[],
): Place[] {
  let x = 0;
  return columns.flatMap((cards, i) => {
    const w = widths[i] ?? 4;
    let y = 0;
    const places = cards.map(([id, h]) => {
      const place: Place = { card: id, x, y, w, h };
      y += h;
      return place;
    });
    x += w;
    return places;
  });
}

/** Marks of a lane at most, over the whole window. */
export const MARKS = 72;
const STEPS = [1, 2, 5, 10, 15, 30, 60, 120, 180, 360, 720, 1440, 2880, 10080, 20160];

/** How long the stretch of one mark is, minutes: the shortest round one of which at most {@link MARKS} fill the window. */
export function markMinutes({ from, to }: Window): number {
  const minutes = (to - from) / MINUTE;
  return STEPS.find((step) => minutes / step <= MARKS) ?? STEPS.at(-1) ?? 1;
}

const listed = (kinds: readonly Kind[]): string =>
  kinds.length === 1 ? `kind = '${kinds[0]}'` : `kind in (${kinds.map((one) => `'${one}'`).join(', ')})`;

/** The lane of an event as a value; null for one that stands on none. */
const laneOf = ([lane, ...more]: readonly Lane[]): string =>
  lane === undefined ? 'null' : `if(${listed(lane.kinds)}, '${lane.name}', ${laneOf(more)})`;

/** What is told of an event on its lane; null where nothing is. */
const tellsOf = ([lane, ...more]: readonly Lane[]): string =>
  lane === undefined
    ? 'null'
    : lane.tells === undefined
      ? tellsOf(more)
      : `if(${listed(lane.kinds)}, ${lane.tells.value}, ${tellsOf(more)})`;

/**
 * The hunt behind the lanes: how many events, and how many records, on each lane by outcome, and by what is told of
 * them.
 */
export const lanesHunt = ({ kind, lanes }: SubjectBoard, minutes: number): string =>
  `${about(kind, lanes.flatMap((lane) => lane.kinds).join(', '))}set lane = ${laneOf(lanes)}\nset tells = ${tellsOf(lanes)}\ntally count() as events, sum(records) as records per lane, outcome, tells, every ${minutes}m`;

/** The same by the hour, for what is usual. */
export const usualLanesHunt = ({ kind, lanes }: SubjectBoard): string =>
  `${about(kind, lanes.flatMap((lane) => lane.kinds).join(', '))}set lane = ${laneOf(lanes)}\ntally count() as events, sum(records) as records, count(where outcome = 'failure' or outcome = 'blocked') as refused per lane, every 1h`;

/** Cards that several kinds share. */
export const shared = {
  rights: (kind: SubjectKind): Card =>
    card(
      'rights',
      'Rights',
      `${about(kind, 'rights, account')}set did = if(operation like '%remove%' or operation like '%revoke%' or operation like '%delete%', 'took', 'gave')\nset what = coalesce(group_name, operation)\nset on_what = coalesce(host, resource, application)\nsort time desc\nfirst 40\nshow time, user, did, what, target_user, on_what`,
      {
        kind: 'sentences',
        template: '{user} {did} *{what}* to {target_user} on {on_what}',
        same: { columns: ['user', 'target_user'], words: 'to itself' },
      },
      { click: 'dossier' },
    ),
  operations: (kind: SubjectKind): Card =>
    card(
      'operations',
      'What was done',
      `${about(kind, 'all')}where operation is not null\ntally count() as events, count(where outcome = 'failure' or outcome = 'blocked') as failed per operation\nsort events desc\nfirst 20`,
      { kind: 'rows' },
    ),
  programs: (kind: SubjectKind): Card =>
    card(
      'programs',
      'Programs, and their rights',
      `${about(kind, 'process, software')}set rights = if(elevation = 'full', 'full rights', if(elevation = 'limited', 'limited', if(elevation = 'default', 'of the user', 'not told')))\ntally count() as starts, last(user) as by, max(time) as last per process, host, rights\nsort last desc\nfirst 20`,
      { kind: 'rows' },
    ),
  flows: (kind: SubjectKind): Card =>
    card(
      'network',
      'Network, by peer and port',
      `${about(kind, 'network, dns')}tally count() as flows, sum(bytes_out) as bytes_out, count(where outcome = 'blocked' or outcome = 'failure') as refused per direction, src_ip, dst_ip, dst_port, protocol\nsort bytes_out desc\nfirst 20`,
      { kind: 'rows' },
    ),
  findings: (kind: SubjectKind): Card =>
    card(
      'findings',
      'Findings of other systems',
      `${about(kind, 'finding, web')}where finding is not null\ntally count() as findings, max(severity) as severity, max(time) as last per finding, source\nsort findings desc\nfirst 12`,
      { kind: 'rows' },
    ),
  changes: (kind: SubjectKind): Card =>
    card(
      'changes',
      'Configuration: before and after',
      `${about(kind, 'cloud, rights, account, system, log')}where changes is not null\nsort time desc\nfirst 40\nshow time, user, operation, resource, changes`,
      { kind: 'rows' },
      { window: { last: '30d' } },
    ),
  made: (kind: SubjectKind): Card =>
    card(
      'made',
      'Created and deleted',
      `${about(kind, 'cloud, account, rights, software, system')}where operation like '%create%' or operation like '%delete%' or operation like '%add%' or operation like '%install%'\nset what = coalesce(resource, target_user, group_name, service, application, host)\nsort time desc\nfirst 30\nshow time, user, operation, what, outcome`,
      { kind: 'sentences', template: '{user} *{operation}* {what}, {outcome}' },
    ),
  people: (kind: SubjectKind): Card =>
    card(
      'people',
      'Who',
      `${about(kind, 'all')}where user is not null\ntally count() as events, count(where outcome = 'failure' or outcome = 'blocked') as failed, max(time) as last per user\nsort events desc\nfirst 20`,
      { kind: 'rows' },
      { click: 'dossier' },
    ),
  addresses: (kind: SubjectKind): Card =>
    card(
      'addresses',
      'From which addresses',
      `${about(kind, 'all')}where src_ip is not null\ntally count(where outcome = 'success' or outcome = 'allowed') as "got in", count(where outcome = 'failure' or outcome = 'blocked') as "did not", last(city) as city per src_ip\nsort "got in" desc\nfirst 20`,
      { kind: 'rows' },
    ),
} as const;

/** The cards that every dossier has. */
export const OWN_CARDS: readonly Card[] = [
  state('firsts', 'New in this Beam', 'firsts'),
  state('alerts-about', 'Alerts and cases', 'alerts-about'),
  state('neighbours', 'Neighbours', 'neighbours'),
];
