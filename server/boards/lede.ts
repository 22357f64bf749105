import type { Pool } from 'pg';
import { DAY, formatInstant, HOUR, type Instant, MINUTE, SECOND, WEEK } from '../../core/base/instant.js';
import {
  alertWave,
  type CountFigures,
  failedSignIns,
  firstOperations,
  largeRead,
  type LedeFact,
  ledeOf,
  nothingStandsOut,
  quietSource,
  refusedThenIn,
  rightOntoOneself,
  sinceWhen,
  spray,
} from '../../core/studies/lede.js';
import { median, spreadOf } from '../../core/studies/usual.js';
import { jsonToText } from '../../core/text/json-text.js';
import { zoneName } from '../../core/text/zones.js';
import type { Value, Window } from '../../core/wick/plan.js';
import type { LedeRequest, LedeWire } from '../../core/wire/boards.js';
import { whoAsks } from '../db/who-asks.js';
import { invalid } from '../failure.js';
import type { HuntPlanner } from '../hunts/planner.js';
import type { HuntRunner } from '../hunts/runner.js';
import type { Sources } from '../sources/service.js';
import type { BoardAnswers } from './answers.js';
import { SharedAnswers } from './shared-answers.js';
import { ALERTS_BY_HOUR, FIRST_HOUR } from './sql.js';

/** The hunts that the sentences are made from; each can be opened as it stands. */
const hunts = {
  failed: "from signin\nwhere outcome = 'failure'\ntally count() as failed, every 15m",
  failedTotal: "from signin\nwhere outcome = 'failure'\ntally count() as failed",
  sprays:
    "from signin\nwhere outcome = 'failure' and src_ip is not null and src_ip not within '10.0.0.0/8'\nset net = network(src_ip, 24)\ntally count() as tries, count(distinct user) as accounts per net\nwhere accounts >= 10\nsort accounts desc\nfirst 3",
  entered: (net: string) =>
    `from signin\nwhere outcome = 'success' and src_ip within '${net}'\ntally count() as times per user\nsort times desc\nfirst 20`,
  refused:
    "from signin\nsequence per user within 1h\n  refused: outcome = 'failure' and reason like '%factor%' at least 3\n  approved: outcome = 'success'\nfirst 20",
  refusals: (user: string) =>
    `from signin\nwhere user = ${quote(user)} and outcome = 'failure' and reason like '%factor%'\ntally count() as refused`,
  rights:
    'from rights, account\nwhere target_user is not null and user is not null\nset alike = similarity(user, target_user)\nwhere alike > 0.85 and group_name is not null\nshow time, user, target_user, group_name, resource, host\nsort time desc\nfirst 5',
  changes: 'from rights\ntally count() as changes',
  reads:
    'from query, object\nwhere records is not null and records >= 1000\ntally max(records) as most per user, application, entity\nsort most desc\nfirst 5',
  usualReads:
    'from query, object\nwhere records is not null\ntally median(records) as usual per application, entity',
  /** Answered from the counts that are kept beside the events. */
  operations: 'from all\ntally count() as events per operation',
  about: (operations: readonly string[]) =>
    `from all\nwhere operation in (${operations.map(quote).join(', ')}) and outcome != 'failure'\ntally count() as events, last(kind) as kind, last(resource) as resource, last(target_user) as target per operation\nfirst 50`,
  firsts: (back: string) =>
    `from all\nwhere outcome != 'failure' and operation is not null\ndebut operation in last ${back}, count() as events\nshow operation, first.kind as kind, first.resource as resource, first.target_user as target, events, baseline_events\nfirst 50`,
} as const;

const textOf = (value: Value | undefined): string => jsonToText(value ?? null) ?? '';
const quote = (text: string): string => `'${text.replaceAll("'", "''")}'`;

/** What changes rights, accounts or logs is told before what merely happened. */
const GRAVE = ['rights', 'account', 'log', 'acting', 'software', 'process', 'cloud'];
const MAX_BACK = 28;
/** Operations that are looked at more closely. */
const MAX_FRESH = 30;

type Rows = (text: string, over?: Window) => Promise<readonly (readonly Value[])[]>;

interface Asked {
  readonly window: Window;
  readonly zone: string;
  readonly carried: readonly string[];
}

/** Gathers the figures of what stands out, and says the few that are most surprising. */
export class DeskLede {
  private readonly shared: SharedAnswers<LedeWire>;

  constructor(
    private readonly pool: Pool,
    private readonly planner: HuntPlanner,
    private readonly runner: HuntRunner,
    private readonly answers: BoardAnswers,
    private readonly sources: Sources,
    private readonly now: () => Instant,
  ) {
    this.shared = new SharedAnswers(now, { weigh: () => 200, replaces: () => false });
  }

  /** @throws Failure 400 for a view that cannot be read; HuntError for a condition that is refused */
  async read(request: LedeRequest, signal: AbortSignal): Promise<LedeWire> {
    const zone = zoneName(request.zone ?? 'UTC');
    if (zone === null)
      throw invalid(`"${request.zone}" is no time zone. Use an IANA name such as Europe/Lisbon.`);
    const asked = { window: this.answers.windowOf(request.window), zone, carried: request.carried ?? [] };
    const key = JSON.stringify([request.window, zone, asked.carried]);
    const answer = this.shared.answer(
      key,
      { refresh: 60, state: null },
      (stop) => this.inTurn(asked, stop),
      signal,
    );
    for await (const { piece } of answer) return piece;
    throw invalid('The question was stopped.');
  }

  private async *inTurn(asked: Asked, signal: AbortSignal): AsyncGenerator<LedeWire> {
    const entry = this.runner.placesFor('board')?.enter(whoAsks());
    try {
      await entry?.taken;
      yield await this.gather(asked, signal);
    } finally {
      entry?.leave();
    }
  }

  private async gather(asked: Asked, signal: AbortSignal): Promise<LedeWire> {
    const { window, zone } = asked;
    const rows: Rows = (text, over = window) => this.rows(text, over, asked.carried, signal);
    const since =
      (await this.pool.query<{ first: Instant | null }>(FIRST_HOUR)).rows[0]?.first ?? window.from;
    const [failed, sprays, seconds, rights, reads, firsts, alerts, sources] = [
      await this.failed(rows, window, since, zone),
      await this.sprays(rows),
      await this.secondFactors(rows),
      await rows(hunts.rights),
      await this.reads(rows, window),
      await this.firsts(rows, window, since),
      await this.alerts(window, since),
      await this.sources.all(),
    ];
    const changes = Number((await rows(hunts.changes))[0]?.[0] ?? 0);
    const quiet = sources.filter(({ state }) => state === 'quiet');
    const facts: (LedeFact | null)[] = [
      failedSignIns(failed, hunts.failed),
      ...sprays,
      ...seconds,
      ...rights.map(([, user, target, right, resource, host]) =>
        rightOntoOneself(
          {
            user: textOf(user),
            target: textOf(target),
            right: textOf(right),
            on: resource != null ? textOf(resource) : host != null ? textOf(host) : null,
          },
          hunts.rights,
        ),
      ),
      ...reads,
      firsts,
      // Whether a source is quiet is known of now alone.
      ...(window.to > this.now() - HOUR
        ? quiet.map(({ name, silentSeconds, usualSeconds }) =>
            quietSource(name, (silentSeconds ?? 0) / 60, Math.max(1, (usualSeconds ?? 60) / 60) * 10),
          )
        : []),
      alertWave(alerts),
    ];
    const lede = ledeOf(
      facts,
      nothingStandsOut({ failed, alerts, rights: changes, quietSources: quiet.length }),
    );
    const toWire = ({ words, hunt, page, over = window }: LedeFact): LedeWire['more'][number] => ({
      words: words.map((word) => (typeof word === 'string' ? word : { ...word })),
      hunt,
      page,
      window: { from: formatInstant(over.from), to: formatInstant(over.to) },
    });
    return {
      sentences: lede.sentences.map(toWire),
      more: lede.more.map(toWire),
      counted: formatInstant(this.now()),
    };
  }

  private async failed(rows: Rows, window: Window, since: Instant, zone: string): Promise<CountFigures> {
    const points = (await rows(hunts.failed))
      .map(([time, value]) => ({ time: Number(time), value: Number(value ?? 0) }))
      .sort((a, b) => a.time - b.time);
    const total = async (over: Window): Promise<number> =>
      Number((await rows(hunts.failedTotal, over))[0]?.[0] ?? 0);
    const start = sinceWhen(points, window.from, window.to);
    return {
      now: points.reduce((sum, { value }) => sum + value, 0),
      ...(await usualOfCount(total, window, since)),
      since: start === null ? null : clockTime(start, zone),
    };
  }

  private async sprays(rows: Rows): Promise<(LedeFact | null)[]> {
    const found: (LedeFact | null)[] = [];
    for (const [net, tries, accounts] of await rows(hunts.sprays)) {
      const network = textOf(net);
      const entered = (await rows(hunts.entered(network))).map(([user]) => textOf(user));
      found.push(spray({ network, tries: Number(tries), accounts: Number(accounts), entered }, hunts.sprays));
    }
    return found;
  }

  private async secondFactors(rows: Rows): Promise<(LedeFact | null)[]> {
    const users = [...new Set((await rows(hunts.refused)).map(([user]) => textOf(user)))].slice(0, 3);
    const found: (LedeFact | null)[] = [];
    for (const user of users) {
      const refusals = Number((await rows(hunts.refusals(user)))[0]?.[0] ?? 0);
      found.push(refusedThenIn(user, refusals, hunts.refused));
    }
    return found;
  }

  private async reads(rows: Rows, window: Window): Promise<(LedeFact | null)[]> {
    const large = await rows(hunts.reads);
    if (large.length === 0) return [];
    const before = { from: window.from - MAX_BACK * DAY, to: window.from };
    const usual = new Map(
      (await rows(hunts.usualReads, before)).map(([application, entity, median]) => [
        `${textOf(application)} ${textOf(entity)}`,
        Number(median),
      ]),
    );
    return large.map(([user, application, entity, most]) =>
      largeRead(
        {
          user: textOf(user),
          amount: Number(most),
          usual: usual.get(`${textOf(application)} ${textOf(entity)}`) ?? 0,
          data: [application, entity].flatMap((one) => (one === null ? [] : [textOf(one)])).join(' / '),
        },
        hunts.reads,
      ),
    );
  }

  private async firsts(rows: Rows, window: Window, since: Instant): Promise<LedeFact | null> {
    const days = Math.min(MAX_BACK, Math.floor((window.from - since) / DAY));
    const length = window.to - window.from;
    // In a window as long as what came before nearly everything is seen first.
    if (days < 7 || length > 4 * DAY) return null;
    const back = `${Math.ceil(length / MINUTE)}m`;
    const text = hunts.firsts(back);
    const over = { from: window.from - days * DAY, to: window.to };
    const before = await rows(hunts.operations, { from: over.from, to: window.from });
    const known = new Set(before.map(([operation]) => textOf(operation)));
    const fresh = (await rows(hunts.operations)).flatMap(([operation]) =>
      operation === null || known.has(textOf(operation)) ? [] : [textOf(operation)],
    );
    if (fresh.length === 0) return null;
    const found = await rows(hunts.about(fresh.slice(0, MAX_FRESH)));
    const order = (kind: Value | undefined): number => {
      const at = GRAVE.indexOf(textOf(kind));
      return at < 0 ? GRAVE.length : at;
    };
    const operations = [...found]
      .sort((a, b) => order(a[2]) - order(b[2]))
      .map(([operation, , , resource, target]) => ({
        operation: textOf(operation),
        on: target != null ? textOf(target) : resource != null ? textOf(resource) : null,
      }));
    const events = before.reduce((sum, [, count]) => sum + Number(count ?? 0), 0);
    return firstOperations({ operations, days, events }, text, over);
  }

  private async alerts(window: Window, since: Instant): Promise<CountFigures> {
    const count = async ({ from, to }: Window): Promise<number> => {
      const { rows } = await this.pool.query<{ alerts: number }>(ALERTS_BY_HOUR, [
        formatInstant(from),
        formatInstant(to),
      ]);
      return rows.reduce((sum, { alerts }) => sum + alerts, 0);
    };
    return { now: await count(window), ...(await usualOfCount(count, window, since)), since: null };
  }

  private async rows(
    text: string,
    window: Window,
    carried: readonly string[],
    signal: AbortSignal,
  ): Promise<readonly (readonly Value[])[]> {
    const plan = await this.planner.plan({
      text,
      window: { from: formatInstant(window.from), to: formatInstant(window.to) },
      carried: [...carried],
    });
    return (await this.runner.table(plan, 1000, { purpose: 'board', signal, milliseconds: 20_000 })).rows;
  }
}

/** What is usual for a count over a window: the same stretch of past weeks, or of past days where there are no weeks. */
async function usualOfCount(
  count: (over: Window) => Promise<number>,
  { from, to }: Window,
  since: Instant,
): Promise<{ usual: number; spread: number }> {
  const weeks = Math.min(4, Math.floor((from - since) / WEEK));
  const step = weeks >= 2 ? WEEK : Math.max(DAY, Math.ceil((to - from) / DAY) * DAY);
  const of = weeks >= 2 ? weeks : Math.min(7, Math.floor((from - since) / step));
  const values: number[] = [];
  for (let i = 1; i <= of; i++) values.push(await count({ from: from - i * step, to: to - i * step }));
  const usual = median(values);
  return { usual, spread: spreadOf(values, usual) };
}

const clockTime = (instant: Instant, zone: string): string =>
  new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit', timeZone: zone }).format(
    instant / (SECOND / 1000),
  );
