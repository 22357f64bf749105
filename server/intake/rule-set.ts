import type { PoolClient } from 'pg';
import type { Instant } from '../../core/base/instant.js';
import { activateRules, type ActiveRules, placeOf, type RulePlace } from '../../core/detect/active-rules.js';
import { EARLIEST, LATEST } from '../../core/recipes/record-time.js';
import { loadPack } from '../../core/sigma/pack.js';
import type { HuntRule } from '../../core/sigma/rule-model.js';
import { compileFollowable } from '../../core/wick/followable.js';
import { HuntError } from '../../core/wick/hunt-error.js';
import type { Environment } from '../../core/wick/in-memory/environment.js';
import type { ListRef, Plan } from '../../core/wick/plan.js';
import { configVersions } from '../db/config-versions.js';
import { loadLookups } from '../lists/lookups.js';
import { logSourceEntries } from '../rules/log-sources-sql.js';
import { namesLists, ruleLists } from '../rules/rule-lists.js';
import { type RunningText, runningTexts } from '../rules/sql.js';
import { TextCache } from '../rules/text-cache.js';
import { LISTS_WITH_COLUMNS } from './sql.js';

/** A hunt that is a rule and looks at every event as it comes in. */
export interface LiveHunt {
  readonly place: RulePlace;
  readonly hunt: HuntRule;
  readonly plan: Plan;
  readonly environment: Environment;
}

/** Everything that is asked of an event at intake. */
export interface IntakeRules extends ActiveRules {
  readonly hunts: readonly LiveHunt[];
}

/** The rules that are switched on, as of the transaction that asks. */
export class RuleSet {
  private version = '';
  /** Whether a rule names lists, so that it changes with them. */
  private withLists = false;
  private rules: IntakeRules | undefined;
  private readonly texts = new TextCache();

  async current(client: PoolClient): Promise<IntakeRules> {
    const versions = await configVersions(client);
    const version = this.withLists ? `${versions.rules} ${versions.sources}` : String(versions.rules);
    if (version === this.version && this.rules !== undefined) return this.rules;
    const rows = await runningTexts(client);
    const texts = rows.map(({ text }) => text);
    const pack = loadPack(
      rows.map(({ id: name, text, live }) => ({ name, text, standby: !live })),
      await ruleLists(client, texts),
      (text) => this.texts.open(text),
    );
    const hunts = pack.hunts.filter(({ hunt }) => hunt.runs.how === 'live');
    this.rules = {
      ...activateRules(pack, rows, await logSourceEntries(client)),
      hunts: await liveHunts(client, rows, hunts),
    };
    this.withLists = hunts.length > 0 || texts.some(namesLists);
    this.version = this.withLists ? `${versions.rules} ${versions.sources}` : String(versions.rules);
    return this.rules;
  }
}

/** Hunts made ready; one that can no longer be read is left out: the others, and intake, go on. */
async function liveHunts(
  client: PoolClient,
  homes: readonly RunningText[],
  hunts: ReturnType<typeof loadPack>['hunts'],
): Promise<LiveHunt[]> {
  if (hunts.length === 0) return [];
  const { rows: lists } = await client.query<ListRef>(LISTS_WITH_COLUMNS);
  const lookups = await loadLookups(
    client,
    lists.map(({ name }) => name),
  );
  const environment: Environment = { rowsOf: ({ name }) => lookups.lists.get(name) ?? (() => undefined) };
  return hunts.flatMap(({ hunt, origin }) => {
    const plan = planOfLive(hunt.hunt, lists, 0);
    return plan === null ? [] : [{ place: placeOf(homes, origin), hunt, plan, environment }];
  });
}

/** The plan of a hunt that looks at events one by one; null where it is none or cannot be read. */
function planOfLive(text: string, lists: readonly ListRef[], now: Instant): Plan | null {
  try {
    const { plan, until } = compileFollowable(text, { window: { from: EARLIEST, to: LATEST }, now, lists });
    return until === null ? plan : null;
  } catch (error) {
    if (error instanceof HuntError) return null;
    throw error;
  }
}
