import { randomBytes } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Pool } from 'pg';
import { DAY, HOUR, formatInstant, parseInstant, type Instant } from '../../core/base/instant.js';
import type { ListContent } from '../../core/wire/lists.js';
import { demoHunts } from '../../demo/hunts.js';
import { demoSources, generateDemo } from '../../demo/generate/index.js';
import type { DemoRecord } from '../../demo/generate/record.js';
import { truthOf } from '../../demo/truth.js';
import { rollForward } from '../../server/derived/roll-forward.js';
import { SourceCatalogue } from '../../server/intake/catalogue.js';
import { RuleSet } from '../../server/intake/rule-set.js';
import { BATCH_RECORDS, RecordStore } from '../../server/intake/store-records.js';
import { PUT_TAG } from '../../server/intake-rules/sql.js';
import { Warnings, WARNINGS_CLIENT } from '../../stand-ins/services/warnings.js';
import { addPull } from '../../server/pull/service.js';
import { makeSeal, type Seal } from '../../server/seal.js';
import { Destinations } from '../../server/deliver/destinations.js';
import { Rules } from '../../server/rules/service.js';
import { Lists } from '../../server/lists/service.js';
import { putUser } from '../../server/people/service.js';
import { SavedHunts } from '../../server/saved-hunts/service.js';
import { RuleFiles } from '../../server/rules/files.js';
import { Recipes } from '../../server/recipes/service.js';
import { Sources } from '../../server/sources/service.js';
import { SINK_SECRET } from '../../stand-ins/services/sink.js';
import { forgetTruth, keepTruth, settleUntil } from './settle-demo.js';
import { PlainFailure } from './plain-failure.js';

/** How the demo world was made, kept beside its data. */
export interface DemoWorld {
  readonly seed: number;
  readonly end: Instant;
  readonly days: number;
  /** The key of each demo source, for the stand-ins that send. */
  readonly keys: Readonly<Record<string, string>>;
  readonly loaded: boolean;
}

/** The demo sign-ins; made-up people with a password everyone may know. */
export const demoPeople = [
  { name: 'ottilie.brandt', displayName: 'Ottilie Brandt', role: 'admin', password: 'skerry-line' },
  { name: 'joris.penhale', displayName: 'Joris Penhale', role: 'analyst', password: 'skerry-line' },
  { name: 'runa.keel', displayName: 'Runa Keel', role: 'reader', password: 'skerry-line' },
] as const;

const worldFile = (folder: string): string => join(folder, 'demo-world.json');
const readJson = (path: string): unknown => JSON.parse(readFileSync(path, 'utf8'));

/** How the demo of this folder was made; undefined when there is none. */
export function readWorld(folder: string): DemoWorld | undefined {
  if (!existsSync(worldFile(folder))) return undefined;
  const found = readJson(worldFile(folder)) as Omit<DemoWorld, 'end'> & { end: string };
  return { ...found, end: parseInstant(found.end) ?? 0 };
}

const writeWorld = (folder: string, world: DemoWorld): void =>
  writeFileSync(
    worldFile(folder),
    `${JSON.stringify({ ...world, end: formatInstant(world.end) }, null, 2)}\n`,
    { mode: 0o600 },
  );

/**
 * Recipes, sources, lists, people and rules of the demo world.
 * @param standIns the address of the stand-ins that are to be pulled and told; left out, nothing is
 * @param mail where their mailbox listens, and what keeps secrets
 */
export async function furnish(
  pool: Pool,
  standIns?: string,
  mail?: { readonly port: number; readonly seal: Seal },
): Promise<Record<string, string>> {
  for (const person of demoPeople) await putUser(pool, person);
  const sources = new Sources(pool, () => 0);
  for (const name of readdirSync('demo/recipes'))
    await new Recipes(pool).put(readJson(join('demo/recipes', name)));
  const keys: Record<string, string> = {};
  for (const [name, title, description] of demoSources)
    keys[name] = await sources.add({ name, title, description, recipe: name });
  await sources.change('dock-auth', {
    syslog: { hosts: ['gate-*', 'hold-fs-*'], programs: ['sshd', 'sudo'] },
    retentionDays: 90,
  });
  await sources.change('fw-stavik', { syslog: { hosts: ['fw-stavik'] }, retentionDays: 90 });
  const lists = new Lists(pool);
  for (const file of readdirSync('demo/lists'))
    await lists.put(file.replace(/\.json$/, ''), readJson(join('demo/lists', file)) as ListContent);
  const hunts = new SavedHunts(pool);
  for (const hunt of demoHunts()) await hunts.add({ ...hunt, shared: true }, demoPeople[0].name);
  const pulled = [
    [
      'people',
      'login',
      'everyone with an account, from the identity directory',
      '/directory/people',
      'people',
    ],
    ['assets', 'host', 'machines, from the directory of assets', '/directory/assets', ''],
  ] as const;
  for (const [name, key, description, path, items] of pulled) {
    await lists.put(name, { match: 'exact', key, description, rows: [] });
    if (standIns !== undefined)
      await addPull(pool, {
        into: 'list',
        name,
        address: `${standIns}${path}`,
        everySeconds: 300,
        items,
        next: 'next',
        allowPrivate: true,
      });
  }
  if (standIns !== undefined)
    await addPull(pool, {
      into: 'source',
      name: 'booking-app',
      address: `${standIns}/feed/bookings`,
      everySeconds: 30,
      items: 'items',
      next: 'next',
      allowPrivate: true,
    });
  await furnishWarnings(pool, lists, standIns, mail?.seal);
  if (standIns !== undefined && mail !== undefined) await furnishDestinations(pool, standIns, mail);
  const files = readdirSync('demo/rules').sort();
  await new RuleFiles(pool).ship(
    files.map((name) => ({ name, text: readFileSync(join('demo/rules', name), 'utf8') })),
    'demo',
  );
  return keys;
}

/** What other harbours warn of, a list for each kind; read over TAXII where somebody shares it. */
async function furnishWarnings(pool: Pool, lists: Lists, standIns?: string, seal?: Seal): Promise<void> {
  for (const [kind, match] of [
    ['networks', 'network'],
    ['domains', 'wildcard'],
  ] as const) {
    const name = `warned-${kind}`;
    const description = `${kind} that other harbours warn of`;
    await lists.put(name, { match, key: 'value', description, rows: [] });
    if (standIns === undefined || seal === undefined) continue;
    await addPull(
      pool,
      {
        into: 'list',
        name,
        address: `${standIns}${Warnings.path}`,
        everySeconds: 300,
        allowPrivate: true,
        speaks: 'taxii',
        kind,
        tokenAddress: `${standIns}/warnings/token`,
        clientId: WARNINGS_CLIENT.id,
      },
      seal.close(WARNINGS_CLIENT.secret),
    );
  }
  await pool.query(PUT_TAG, ['balancer', 'umber', 'asked by the load balancer, not by a person']);
}

/** Where the rules of the demo send what they find: the stand-ins, which lie on this very machine. */
export async function furnishDestinations(
  pool: Pool,
  standIns: string,
  { port, seal }: { readonly port: number; readonly seal: Seal },
): Promise<void> {
  const destinations = new Destinations(pool, seal, new Rules(pool).reading, () => '');
  const inside = { allowPrivate: true } as const;
  await destinations.put('watch-room', { kind: 'chat', address: `${standIns}/chat/rooms/watch`, ...inside });
  await destinations.put('duty-desk', {
    kind: 'mail',
    address: `smtp://127.0.0.1:${port}`,
    settings: { from: 'lamp@skerry-line.example', to: 'duty@skerry-line.example' },
    ...inside,
  });
  await destinations.put('sink', {
    kind: 'webhook',
    address: `${standIns}/sink`,
    secret: SINK_SECRET,
    ...inside,
  });
  await destinations.put('edge-firewall', {
    kind: 'webhook',
    address: `${standIns}/firewall/blocks`,
    ...inside,
  });
  await destinations.put('directory', { kind: 'identity', address: `${standIns}/identity`, ...inside });
  await destinations.put('watchman', { kind: 'agent', address: `${standIns}/agent`, ...inside });
  await destinations.put('cumulus-rights', { kind: 'cloud', address: `${standIns}/cloud`, ...inside });
  await destinations.put('quay-firewall', { kind: 'firewall', address: `${standIns}/firewall`, ...inside });
}

/** Records taken at once, of all sources together; each source's share is a batch. */
const PIECE = 40_000;
/** Batches stored at the same time: one is written while another is read. */
const AT_ONCE = 3;

/** A world shorter than this has no history: all of its alerts are open. */
const HISTORY_DAYS = 14;
/** What came up so shortly before the end nobody has settled yet; the story's last days are left open whole. */
const NOT_YET_SETTLED = 30 * HOUR;
const STORY = 4 * DAY;

/** Pieces of records: at most so many, and none goes over midnight where days are settled one by one. */
function* piecesOf(records: readonly DemoRecord[], byDay: boolean): Generator<readonly DemoRecord[]> {
  const dayOf = (at: number): number => Math.floor((records[at]?.received ?? 0) / DAY);
  for (let from = 0; from < records.length;) {
    let to = Math.min(from + PIECE, records.length);
    if (byDay) while (to > from + 1 && dayOf(to - 1) !== dayOf(from)) to--;
    yield records.slice(from, to);
    from = to;
  }
}

/**
 * Stores records through the very intake that senders use, each source's in the order they came in.
 * @param settle what is done when a day is over
 */
async function store(
  pool: Pool,
  records: readonly DemoRecord[],
  settle: ((until: Instant) => Promise<void>) | null,
): Promise<void> {
  const catalogue = new SourceCatalogue(pool);
  const intake = new RecordStore(pool, new RuleSet());
  const shown = process.stdout.isTTY;
  const total = records.length.toLocaleString('en');
  if (!shown) process.stdout.write(`Loading the demo data: ${total} records…\n`);
  let from = 0;
  for (const piece of piecesOf(records, settle !== null)) {
    const waiting = demoSources.map(([name]) => name as string);
    const work = async (): Promise<void> => {
      for (let name = waiting.shift(); name !== undefined; name = waiting.shift()) {
        const source = await catalogue.find(name);
        if (source === undefined)
          throw new PlainFailure(`The demo source "${name}" is missing. Start with --reset to begin anew.`);
        const own = piece.filter((record) => record.source === name);
        for (let at = 0; at < own.length; at += BATCH_RECORDS) {
          const batch = own.slice(at, at + BATCH_RECORDS);
          await intake.store(
            source,
            batch.map((record) => record.raw),
            (position) => batch[position]?.received ?? 0,
          );
        }
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, work));
    from += piece.length;
    const [begun] = piece;
    if (settle !== null && begun !== undefined) await settle(Math.floor(begun.received / DAY) * DAY + DAY);
    if (shown)
      process.stdout.write(`\rLoading the demo data: ${from.toLocaleString('en')} of ${total} records`);
  }
  if (shown) process.stdout.write('\n');
}

/**
 * Loads the demo world into an empty database. A load that was cut off goes on where it stopped: the records are the
 * same, and what is stored already is recognised.
 */
export async function loadDemo(
  pool: Pool,
  folder: string,
  options: { end: Instant; seed?: number; days?: number; standIns?: string; smtpPort?: number },
): Promise<DemoWorld> {
  let world = readWorld(folder);
  if (world === undefined) {
    const { rows } = await pool.query<{ any: boolean }>(
      'SELECT EXISTS (SELECT 1 FROM sources) OR EXISTS (SELECT 1 FROM users) AS any',
    );
    if (rows[0]?.any)
      throw new PlainFailure(
        "The database holds data that is not the demo's. Set UNDER_LAMP_DEMO=0 to start without demo data, or name another database.",
      );
    const seal = makeSeal(process.env['UNDER_LAMP_SECRET'] ?? ownSecret(folder));
    const { smtpPort } = options;
    const keys = await furnish(
      pool,
      options.standIns,
      smtpPort === undefined ? undefined : { port: smtpPort, seal },
    );
    world = { seed: options.seed ?? 7, end: options.end, days: options.days ?? 30, keys, loaded: false };
    writeWorld(folder, world);
  }
  if (world.loaded) return world;
  const records = generateDemo(world);
  const truth = truthOf(records);
  writeFileSync(join(folder, 'demo-truth.json'), JSON.stringify(truth));
  const { seed, end, days } = world;
  if (days < HISTORY_DAYS) await store(pool, records, null);
  else {
    await keepTruth(pool, truth);
    await store(pool, records, (until) =>
      settleUntil(pool, Math.min(until, end - NOT_YET_SETTLED), end - STORY, seed),
    );
    await forgetTruth(pool);
  }
  // What is told of subjects rests on sightings, and would be counted from all events meanwhile.
  await rollForward(pool, new AbortController().signal);
  await pool.query('ANALYZE sightings, subjects, alerts');
  await pool.query('ANALYZE');
  world = { ...world, loaded: true };
  writeWorld(folder, world);
  return world;
}

/** Without the demo somebody must be able to sign in. @returns the password of the account made, or null if there are users */
export async function makeFirstAdmin(pool: Pool): Promise<string | null> {
  const { rows } = await pool.query<{ any: boolean }>('SELECT EXISTS (SELECT 1 FROM users) AS any');
  if (rows[0]?.any) return null;
  const password = randomBytes(12).toString('base64url');
  await putUser(pool, { name: 'admin', displayName: 'Admin', role: 'admin', password });
  return password;
}

/** A secret of this installation, made once. */
export function ownSecret(folder: string): string {
  const file = join(folder, 'session-secret');
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString('base64url'), { mode: 0o600 });
  return readFileSync(file, 'utf8').trim();
}
