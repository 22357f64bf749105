import type { Pool, QueryResultRow } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { jsonToText } from '../../core/text/json-text.js';
import { compileHunt } from '../../core/wick/compile.js';
import type { ListRef, Value, Window } from '../../core/wick/plan.js';
import type { UserDossier } from '../../core/wire/dossiers.js';
import type { Alerts } from '../alerts/service.js';
import { invalid } from '../failure.js';
import type { HuntRunner } from '../hunts/runner.js';
import { FIRST_AND_LAST_OF_USER, LISTS_TO_ASK } from './sql.js';

/** Rows of each part of a dossier. */
const MAX_ROWS = 100;
const MILLISECONDS = 30_000;

type Counted = UserDossier['operations'][number];

const quote = (text: string): string => `'${text.replaceAll("'", "''")}'`;
const moment = (value: Value | undefined): string => formatInstant(value as Instant);

/** The hunts a dossier is made of; each can be opened as it stands. */
const parts = {
  totals: (user: string) =>
    `from all\nwhere user = ${user}\ntally count(), count(where outcome = 'success') as success, count(where outcome = 'failure') as failure`,
  hours: (user: string, zone: string) =>
    `from all\nwhere user = ${user}\ntally count() per weekday(time, ${zone}) as weekday, hour(time, ${zone}) as hour`,
  counted: (user: string, field: string, extra: string) =>
    `from all\nwhere user = ${user} and ${field} is not null\ntally count(where outcome = 'success') as success, count(where outcome = 'failure') as failure, count() as events, min(time) as first, max(time) as last${extra} per ${field}\nsort events desc\nfirst ${MAX_ROWS}`,
};

export class Dossiers {
  constructor(
    private readonly pool: Pool,
    private readonly runner: HuntRunner,
    private readonly alerts: Alerts,
  ) {}

  /**
   * Everything about one user over a window. A user nobody has seen has an empty dossier.
   * @param carried conditions that narrow what is counted; firsts and alerts are told whole
   * @throws HuntError for a condition that is refused
   */
  async user(
    name: string,
    window: Window,
    zone: string,
    carried: readonly string[],
    signal: AbortSignal,
  ): Promise<UserDossier> {
    const user = name.trim().toLowerCase();
    const quoted = quote(user);
    requireZone(zone);
    const run = (text: string) => this.rows(text, window, carried, signal);
    const [totals, hours, addresses, operations, applications, hosts, ever, alerts] = await Promise.all([
      run(parts.totals(quoted)),
      run(parts.hours(quoted, quote(zone))),
      run(parts.counted(quoted, 'src_ip', ', last(country) as country, last(city) as city')),
      run(parts.counted(quoted, 'operation', '')),
      run(parts.counted(quoted, 'application', '')),
      run(parts.counted(quoted, 'host', '')),
      this.pool.query<{ first: Instant | null; last: Instant | null }>(FIRST_AND_LAST_OF_USER, [user]),
      this.alerts.aboutUser(user),
    ]);
    const [total, success, failure] = totals[0] ?? [];
    const first = ever.rows[0]?.first ?? null;
    const last = ever.rows[0]?.last ?? null;
    return {
      user,
      window: { from: formatInstant(window.from), to: formatInstant(window.to) },
      events: { total: Number(total ?? 0), success: Number(success ?? 0), failure: Number(failure ?? 0) },
      firstEver: first === null ? null : formatInstant(first),
      lastEver: last === null ? null : formatInstant(last),
      hours: hours.map(([weekday, hour, count]) => ({
        weekday: Number(weekday),
        hour: Number(hour),
        count: Number(count),
      })),
      addresses: addresses.map((row) => ({
        ...toCounted(row),
        country: (row[6] as string | null | undefined) ?? null,
        city: (row[7] as string | null | undefined) ?? null,
      })),
      operations: operations.map(toCounted),
      applications: applications.map(toCounted),
      hosts: hosts.map(toCounted),
      alerts,
    };
  }

  private async rows(
    text: string,
    window: Window,
    carried: readonly string[],
    signal: AbortSignal,
  ): Promise<readonly (readonly Value[])[]> {
    const lists = (await this.pool.query<ListRef & QueryResultRow>(LISTS_TO_ASK)).rows;
    const plan = compileHunt(text, { window, now: window.to, carried, lists });
    const { rows } = await this.runner.table(plan, MAX_ROWS * 10, {
      purpose: 'screen',
      milliseconds: MILLISECONDS,
      signal,
    });
    return rows;
  }
}

/** A row of `parts.counted`: value, success, failure, events, first, last. */
function toCounted([value, success, failure, events, first, last]: readonly Value[]): Counted {
  const counts = [success, failure, events].map(Number) as [number, number, number];
  return {
    value: jsonToText(value ?? null) ?? '',
    success: counts[0],
    failure: counts[1],
    other: counts[2] - counts[0] - counts[1],
    first: moment(first),
    last: moment(last),
  };
}

function requireZone(zone: string): void {
  try {
    new Intl.DateTimeFormat('en', { timeZone: zone });
  } catch {
    throw invalid(`"${zone}" is no time zone. Use an IANA name such as Europe/Lisbon.`);
  }
}
