import pLimit from 'p-limit';
import type { Pool } from 'pg';
import { DAY, formatInstant, HOUR, type Instant, MINUTE } from '../../core/base/instant.js';
import { type SubjectBoard, usualLanesHunt } from '../../core/boards/subjects/subject-board.js';
import { subjectBoards } from '../../core/boards/subjects/index.js';
import { knownState } from '../../core/studies/known-state.js';
import {
  clockOf,
  normalWords,
  type PastHour,
  subjectSentence,
  type UsualLane,
  usualOfLanes,
} from '../../core/studies/subject-words.js';
import type { LedeWord } from '../../core/studies/lede.js';
import type { Identity } from '../../core/subjects/identity.js';
import { isSubjectKind, type SubjectKind } from '../../core/subjects/kinds.js';
import { lookAlikesOf } from '../../core/subjects/look-alike.js';
import { jsonToText } from '../../core/text/json-text.js';
import { localClock, zoneName } from '../../core/text/zones.js';
import type { Value, Window } from '../../core/wick/plan.js';
import { quoteText } from '../../core/wick/spell.js';
import type { Dossier, First, IdentityWire } from '../../core/wire/dossiers.js';
import type { Alerts } from '../alerts/service.js';
import type { Boards } from '../boards/service.js';
import { invalid } from '../failure.js';
import type { HuntPlanner } from '../hunts/planner.js';
import type { HuntRunner } from '../hunts/runner.js';
import { type Identities, momentOrNull } from './identities.js';
import { SubjectSightings } from './sightings.js';
import { CASES_OF, KNOWN_SINCE, NAMES_OF_LENGTH } from './sql.js';

const MAX_ROWS = 2000;
const MILLISECONDS = 20_000;
/** Hunts of one dossier that run at once, and as many looks at its sightings. */
const AT_ONCE = 2;
/** What is normal rests on so many days before the window. */
const NORMAL_DAYS = 30;
/** Changes are looked for so far back. */
const STATE_DAYS = 90;
/** Names that one is compared with. */
const MAX_NAMES = 20_000;
/** Who created it, who created that one, and once more. */
const MAX_MAKERS = 3;

const textOf = (value: Value | undefined): string => jsonToText(value ?? null) ?? '';

interface Asked {
  readonly window: Window;
  readonly zone: string;
  readonly carried: readonly string[];
}

/** The hours before the window, and what is usual of them. */
interface Past {
  readonly hours: readonly PastHour[];
  readonly usual: readonly UsualLane[];
}

type Rows = (text: string, over?: Window) => Promise<readonly (readonly Value[])[]>;

/** Gathers what is told about one subject beside its board. */
export class Dossiers {
  private readonly sightings: SubjectSightings;

  constructor(
    private readonly pool: Pool,
    private readonly planner: HuntPlanner,
    private readonly runner: HuntRunner,
    private readonly identities: Identities,
    private readonly boards: Boards,
    private readonly alerts: Alerts,
  ) {
    this.sightings = new SubjectSightings(pool);
  }

  /**
   * Everything about one subject over a window. One that nobody has seen has an empty dossier.
   * @throws HuntError for a condition that is refused; Failure for a zone or a name that cannot be
   */
  async read(
    kind: string,
    name: string,
    asked: Asked,
    person: string,
    signal: AbortSignal,
  ): Promise<Dossier> {
    const zone = zoneName(asked.zone);
    if (zone === null)
      throw invalid(`"${asked.zone}" is no time zone. Use an IANA name such as Europe/Lisbon.`);
    if (!isSubjectKind(kind)) throw invalid(`"${kind}" is no kind of subject.`);
    const of = subjectBoards[kind];
    const { window } = asked;
    const identity = await this.identities.of(kind, name);
    const names = [identity.name, ...identity.names.map(({ value }) => value)];
    // A person's places are for what they look at: one dossier takes few of them at once, however many hunts it asks.
    const inTurn = pLimit(AT_ONCE);
    const sightingsInTurn = pLimit(AT_ONCE);
    const rows: Rows = (text, over = window) =>
      inTurn(() => this.rows(text, identity.name, asked.carried, over, signal));
    const known = await this.known(kind, names, rows);
    const days = known === null ? 0 : Math.max(0, Math.floor((window.from - known.first) / DAY));
    const past = this.past(of, rows, window, zone, Math.min(NORMAL_DAYS, days));
    const [firsts, alerts, looksLike, facts, normal, { usual }, state, makers, board] = await Promise.all([
      this.sightings.firsts(of, names, window, sightingsInTurn),
      this.alerts.about(names),
      this.looksLike(kind, identity.name),
      this.facts(kind, identity.name),
      this.normal(of, rows, window, days, past),
      past,
      this.state(kind, rows, window),
      this.makers(kind, identity.name, rows, window),
      this.boards.read(`dossier-${kind}`, person),
    ]);
    const [sentence, neighbours, cases] = await Promise.all([
      this.sentence(of, names, rows, { firsts, alerts: alerts.length, window }),
      this.sightings.neighbours(of, names, window, sightingsInTurn),
      this.pool.query<Dossier['cases'][number]>(CASES_OF, [alerts.map(({ id }) => String(id))]),
    ]);
    return {
      ...identityToWire(identity),
      window: { from: formatInstant(window.from), to: formatInstant(window.to) },
      known: known === null ? null : { first: formatInstant(known.first), last: formatInstant(known.last) },
      looksLike: looksLike.map(({ confused, ...one }) => ({
        ...one,
        confused: confused.map((pair) => ({ ...pair })),
      })),
      facts,
      sentence: wireWords(sentence),
      normal: wireWords(known === null ? [] : normal),
      usual: usual.map(({ hours, ...one }) => ({ ...one, hours: [...hours] })),
      firsts,
      state,
      makers,
      neighbours,
      alerts,
      cases: cases.rows,
      board: board.board,
    };
  }

  private async rows(
    text: string,
    subject: string,
    carried: readonly string[],
    over: Window,
    signal: AbortSignal,
  ): Promise<readonly (readonly Value[])[]> {
    const plan = await this.planner.plan({
      text: text.startsWith('ask ') ? text : `ask subject 'Subject'\n${text}`,
      window: { from: formatInstant(over.from), to: formatInstant(over.to) },
      carried: [...carried],
      parameters: { subject },
    });
    const { rows } = await this.runner.table(plan, MAX_ROWS, {
      purpose: 'screen',
      milliseconds: MILLISECONDS,
      signal,
    });
    return rows;
  }

  /**
   * When a subject was seen first and last. Whom no sighting names is looked for among the events of the window:
   * sightings are counted a while after events came in, and an event that tells neither address nor operation has none.
   */
  private async known(
    kind: SubjectKind,
    names: readonly string[],
    rowsOf: Rows,
  ): Promise<{ first: Instant; last: Instant } | null> {
    const { rows } = await this.pool.query<{ first: Instant | null; last: Instant | null }>(KNOWN_SINCE, [
      kind,
      names,
    ]);
    const [found] = rows;
    if (found?.first != null && found.last !== null) return { first: found.first, last: found.last };
    const [[first, last] = []] = await rowsOf(
      `from all\nwhere about ${kind} $subject\ntally min(time) as first, max(time) as last`,
    );
    return first == null || last == null ? null : { first: Number(first), last: Number(last) };
  }

  private async looksLike(kind: SubjectKind, name: string): Promise<ReturnType<typeof lookAlikesOf>> {
    if (kind === 'address') return [];
    const { length } = name;
    const { rows } = await this.pool.query<{ name: string }>(NAMES_OF_LENGTH, [
      kind,
      length - 2,
      length + 2,
      MAX_NAMES,
    ]);
    return lookAlikesOf(
      name,
      rows.map((row) => row.name),
    );
  }

  /** What lists say of a subject, column by column. */
  private async facts(kind: SubjectKind, name: string): Promise<Dossier['facts']> {
    const listed = await this.identities.listed(kind, name);
    return listed.flatMap(({ row: { list }, cells }) =>
      cells.map(([column, value]) => ({ list, column, value })),
    );
  }

  private async sentence(
    of: SubjectBoard,
    names: readonly string[],
    rows: Rows,
    { firsts, alerts, window }: { firsts: readonly First[]; alerts: number; window: Window },
  ): Promise<LedeWord[]> {
    const about = `where about ${of.kind} $subject`;
    const isUser = of.kind === 'user';
    const none: Promise<readonly (readonly Value[])[]> = Promise.resolve([]);
    const before = { from: window.from - NORMAL_DAYS * DAY, to: window.from };
    const [[totals = []], [usualRead = []], journeys, acting, rights] = await Promise.all([
      rows(
        `from all\n${about}\ntally count(), count(where outcome = 'failure' or outcome = 'blocked') as failed, count(where kind = 'signin' and outcome = 'failure') as refusals, max(records) as most`,
      ),
      rows(`from query, object\n${about} and records is not null\ntally median(records)`, before),
      isUser
        ? rows(
            `from signin\n${about} and outcome = 'success'\ntravel per user faster than 900 farther than 500\nsort kmh desc\nfirst 1\nshow from_city, to_city, km, began, ended`,
          )
        : none,
      isUser
        ? rows(`from acting\n${about} and acting_as is not null\ntally count() per user, acting_as`)
        : none,
      isUser
        ? rows(
            `from rights\n${about} and target_user is not null and outcome != 'failure'\ntally count() per target_user, coalesce(group_name, operation) as got`,
          )
        : none,
    ]);
    const own = new Set(names);
    const country = firsts.find(({ what }) => what === 'country');
    const [journey] = journeys;
    const largest = Number(totals[3] ?? 0);
    return subjectSentence({
      events: Number(totals[0] ?? 0),
      failed: Number(totals[1] ?? 0),
      newCountry: country === undefined ? null : { country: country.value, others: country.ever },
      journey:
        journey === undefined
          ? null
          : {
              from: textOf(journey[0]),
              to: textOf(journey[1]),
              km: Number(journey[2]),
              minutes: (Number(journey[4]) - Number(journey[3])) / MINUTE,
            },
      refusals: Number(totals[2] ?? 0),
      actedAs: acting.filter(([user]) => own.has(textOf(user))).map(([, as]) => textOf(as)),
      largestRead: largest > 0 ? { records: largest, usual: Number(usualRead[0] ?? 0) } : null,
      rightsGained: rights.filter(([target]) => own.has(textOf(target))).map(([, what]) => textOf(what)),
      firsts: firsts.length,
      alerts,
    });
  }

  private async normal(
    { kind }: SubjectBoard,
    rows: Rows,
    window: Window,
    days: number,
    past: Promise<Past>,
  ): Promise<LedeWord[]> {
    const none = { days, hours: [], places: [], applications: [], usualRead: null, actedAs: 0 };
    if (days < 7) return normalWords(none);
    const over = { from: window.from - Math.min(NORMAL_DAYS, days) * DAY, to: window.from };
    const about = `where about ${kind} $subject`;
    const [{ hours }, places, applications, [acted = []]] = await Promise.all([
      past,
      rows(
        `from signin\n${about} and city is not null and outcome = 'success'\ntally count() as events, count(distinct src_ip) as addresses per city\nsort events desc\nfirst 5`,
        over,
      ),
      kind === 'application'
        ? Promise.resolve([])
        : rows(
            `from all\n${about} and application is not null\ntally count() as events per application\nsort events desc\nfirst 3`,
            over,
          ),
      kind === 'user'
        ? rows(
            `from query, object, acting\n${about} and user = $subject\ntally median(records) as usual, count(where records is not null) as reads, count(distinct acting_as) as others`,
            over,
          )
        : Promise.resolve([]),
    ]);
    return normalWords({
      days,
      hours: clockOf(hours),
      places: places.map(([city, , addresses]) => ({ city: textOf(city), addresses: Number(addresses) })),
      applications: applications.map(([application]) => textOf(application)),
      usualRead: Number(acted[1] ?? 0) > 0 ? Number(acted[0]) : null,
      actedAs: kind === 'user' ? Number(acted[2] ?? 0) : null,
    });
  }

  /** What happened on the lanes hour by hour before the window, and what is usual for each. */
  private async past(
    of: SubjectBoard,
    rows: Rows,
    { from, to }: Window,
    zone: string,
    days: number,
  ): Promise<Past> {
    if (days < 1) return { hours: [], usual: [] };
    const step = Math.max(DAY, Math.ceil((to - from) / DAY) * DAY);
    const stretches = Math.floor((days * DAY) / step);
    const found = await rows(usualLanesHunt(of), { from: from - days * DAY, to: from });
    const start = Math.floor(from / HOUR) * HOUR;
    const hours = found.flatMap(([lane, time, events, records, refused]): PastHour[] => {
      if (lane == null) return [];
      const stretch = Math.ceil((start - Number(time)) / step) - 1;
      const inside = Number(time) + (stretch + 1) * step;
      const counts = of.lanes.find(({ name }) => name === lane)?.height === 'records' ? records : events;
      return [
        {
          lane: textOf(lane),
          ...localClock(Number(time), zone),
          stretch: stretch >= 0 && stretch < stretches && inside >= start && inside < to ? stretch : null,
          events: Number(events ?? 0),
          refused: Number(refused ?? 0),
          value: Number(counts ?? 0),
        },
      ];
    });
    return { hours, usual: stretches < 1 ? [] : usualOfLanes(hours, stretches, days) };
  }

  private async state(kind: SubjectKind, rows: Rows, { to }: Window): Promise<Dossier['state']> {
    if (kind !== 'host' && kind !== 'account' && kind !== 'resource') return [];
    const found = await rows(
      `from all\nwhere about ${kind} $subject and changes is not null and outcome != 'failure'\nsort time desc\nfirst 200\nshow time, changes`,
      { from: to - STATE_DAYS * DAY, to },
    );
    return knownState(found.map(([time, changes]) => ({ time: Number(time), changes: changes ?? null }))).map(
      ({ time, ...one }) => ({ ...one, time: formatInstant(time) }),
    );
  }

  /** Who created it, who created that one. */
  private async makers(
    kind: SubjectKind,
    name: string,
    rows: Rows,
    { to }: Window,
  ): Promise<Dossier['makers']> {
    if (kind !== 'resource' && kind !== 'user') return [];
    const over = { from: to - STATE_DAYS * DAY, to };
    const makers: Dossier['makers'] = [];
    let [what, condition] = [
      name,
      kind === 'user' ? `target_user = ${quoteText(name)}` : `about resource ${quoteText(name)}`,
    ];
    while (makers.length < MAX_MAKERS) {
      const hunt = `from cloud, account, rights\nwhere ${condition} and operation like '%create%' and user is not null and outcome != 'failure'\nsort time desc\nfirst 1\nshow time, user, operation`;
      const [made] = await rows(hunt, over);
      if (made === undefined) break;
      const by = textOf(made[1]);
      makers.push({
        name: what,
        by,
        time: formatInstant(Number(made[0])),
        operation: textOf(made[2]),
        hunt,
      });
      if (makers.some((one) => one.name === by)) break;
      [what, condition] = [by, `target_user = ${quoteText(by)}`];
    }
    return makers;
  }
}

const wireWords = (words: readonly LedeWord[]): Dossier['sentence'] =>
  words.map((word) => (typeof word === 'string' ? word : { ...word }));

/** An identity as it is told. */
export const identityToWire = ({ kind, name, names, told }: Identity): IdentityWire => ({
  subject: { kind, name },
  names: names.map(({ from, to, ...one }) => ({ ...one, from: momentOrNull(from), to: momentOrNull(to) })),
  told: told.map((one) => ({ ...one })),
});
