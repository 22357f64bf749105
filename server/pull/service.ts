import { setTimeout as delay } from 'node:timers/promises';
import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { Pull, PullSetting, PullTarget } from '../../core/wire/pulls.js';
import { Failure, notFound } from '../failure.js';
import type { Seal } from '../seal.js';
import { addChange } from '../trail/changes.js';
import type { Puller } from './puller.js';
import {
  PUT_PULL,
  FIND_LIST,
  FIND_RUNNING,
  FIND_SOURCE,
  type PullRow,
  READ_PULLS,
  READ_PULL,
  REMOVE_PULL,
  takePull,
} from './sql.js';

const text = (time: Instant | null): string | null => (time === null ? null : formatInstant(time));

const toWire = (row: PullRow): Pull => ({
  into: row.into,
  name: row.name,
  address: row.address,
  everySeconds: row.every_seconds,
  items: row.items,
  next: row.next,
  cursorParameter: row.cursor_parameter,
  hasToken: row.token !== null,
  enabled: row.enabled,
  allowPrivate: row.allow_private,
  cursor: row.cursor,
  fetched: row.fetched,
  lastRun: text(row.last_run),
  lastFetched: row.last_fetched,
  error: row.error,
  failures: row.failures,
  speaks: row.speaks,
  follow: row.follow,
  sinceParameter: row.since_parameter,
  overlapSeconds: row.overlap_seconds,
  tokenAddress: row.token_address,
  clientId: row.client_id,
  scope: row.scope,
  kind: row.kind as Pull['kind'],
  nextRun: row.enabled ? formatInstant(row.next_run) : null,
});

/** An address that may be fetched. @throws Failure 422 */
function requireAddress(address: string): string {
  const url = URL.canParse(address) ? new URL(address) : null;
  if (url === null || !['http:', 'https:'].includes(url.protocol))
    throw new Failure('not-an-address', `"${address}" is no address such as https://host.example/feed.`);
  if (url.username !== '' || url.password !== '')
    throw new Failure(
      'secret-in-address',
      'The address holds a password. Give it as the token instead, where nobody sees it again.',
    );
  return address;
}

/** A run of another server is waited for so long, looked at so often; milliseconds. */
const MAX_WAIT = 30_000;
const LOOK_MILLISECONDS = 200;

/**
 * Writes a pull down; one that is there is changed.
 * @param token sealed
 * @param changesToken false keeps the token that is there
 */
export async function addPull(
  pool: Pool,
  setting: Omit<PullSetting, 'token'> & { into: PullTarget; name: string },
  token: Buffer | null = null,
  changesToken = true,
): Promise<void> {
  await pool.query(PUT_PULL, [
    setting.into,
    setting.name,
    setting.address,
    setting.everySeconds,
    setting.items ?? '',
    setting.next ?? '',
    setting.cursorParameter ?? 'cursor',
    token,
    setting.enabled ?? true,
    changesToken,
    setting.allowPrivate ?? false,
    setting.speaks ?? 'json',
    setting.follow ?? 'cursor',
    setting.sinceParameter ?? '',
    setting.overlapSeconds ?? 0,
    setting.tokenAddress ?? '',
    setting.clientId ?? '',
    setting.scope ?? '',
    setting.kind ?? null,
  ]);
}

/** What is fetched by the clock, and how it goes. */
export class Pulls {
  constructor(
    private readonly pool: Pool,
    private readonly puller: Puller,
    private readonly seal: Seal,
  ) {}

  async all(): Promise<Pull[]> {
    const { rows } = await this.pool.query<PullRow>(READ_PULLS);
    return rows.map(toWire);
  }

  /** The pull of a source or list; null when it has none. */
  async one(into: PullTarget, name: string): Promise<Pull | null> {
    const { rows } = await this.pool.query<PullRow>(READ_PULL, [into, name]);
    return rows[0] === undefined ? null : toWire(rows[0]);
  }

  /** Sets a pull up or changes it. A new address begins anew, without the old one's cursor; a new host without its token. @throws Failure 404, 422 */
  async put(into: PullTarget, name: string, setting: PullSetting): Promise<void> {
    const there = await this.pool.query(into === 'source' ? FIND_SOURCE : FIND_LIST, [name]);
    if (there.rowCount === 0) throw notFound(`${into} "${name}"`);
    const { token, ...rest } = setting;
    const address = requireAddress(setting.address);
    const tokenAddress = setting.tokenAddress ?? '';
    if (tokenAddress !== '') requireAddress(tokenAddress);
    if (into === 'source' && setting.speaks === 'taxii')
      throw new Failure('bad-address', 'Indicators are pulled into a list, not into a source.');
    // A token was given for one host; it goes to no other because somebody changed the address.
    const before = await this.one(into, name);
    const toldTo = (one: string, tokens: string): string => new URL(tokens === '' ? one : tokens).origin;
    const elsewhere =
      before !== null && toldTo(before.address, before.tokenAddress) !== toldTo(address, tokenAddress);
    await addPull(
      this.pool,
      { into, name, ...rest, address },
      token == null ? null : this.seal.close(token),
      token !== undefined || elsewhere,
    );
    await addChange(
      this.pool,
      into,
      name,
      `pulled from ${address} every ${setting.everySeconds} s${setting.allowPrivate === true ? ', may lie inside' : ''}${token == null ? '' : ', with a new token'}`,
    );
  }

  private async waitFor(into: PullTarget, name: string, stop: AbortSignal): Promise<void> {
    for (let waited = 0; waited < MAX_WAIT && !stop.aborted; waited += LOOK_MILLISECONDS) {
      const { rowCount } = await this.pool.query(FIND_RUNNING, [into, name]);
      if (rowCount === 0) return;
      await delay(LOOK_MILLISECONDS);
    }
    throw new Failure('running', 'It is being fetched at this moment. Look again in a little while.');
  }

  /** Ends a pull; what it has brought stays. @throws Failure 404 */
  async remove(into: PullTarget, name: string): Promise<void> {
    const { rowCount } = await this.pool.query(REMOVE_PULL, [into, name]);
    if (rowCount === 0) throw notFound(`pull into the ${into} "${name}"`);
    await addChange(this.pool, into, name, 'no longer pulled');
  }

  /**
   * Fetches now and waits for it; how it went stands in the answer. What is being fetched at this moment is waited
   * for, and not fetched a second time.
   * @throws Failure 404; 409 when that takes too long
   */
  async run(into: PullTarget, name: string, stop: AbortSignal): Promise<Pull> {
    if ((await this.one(into, name)) === null) throw notFound(`pull into the ${into} "${name}"`);
    const taken = await takePull(this.pool, into, name);
    if (taken !== undefined) await this.puller.run(taken, stop);
    else await this.waitFor(into, name, stop);
    const after = await this.one(into, name);
    if (after === null) throw notFound(`pull into the ${into} "${name}"`);
    return after;
  }
}
