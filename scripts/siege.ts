import { demoPeople } from './lib/demo.js';
import { attacks } from './siege/attacks.js';
import { Besieged } from './siege/besieged.js';
import { openHunt } from './siege/page.js';
import { watch, type Borne } from './siege/watch.js';

// `npm run siege [-- --address http://127.0.0.1:7380] [--syslog 5514] [--only TEXT]`: tries on a running demo what would stop a lesser
// workbench, one thing after another, and prints how /healthz, a small hunt and a browser left open on Hunt bore it, how
// much memory was taken, and what was refused. It sends to this machine only, every try is bounded, and it ends by itself.

const option = (name: string, usual: string): string => {
  const at = process.argv.indexOf(name);
  return at < 0 ? usual : (process.argv[at + 1] ?? usual);
};

/** A source that is only there to be tried. @returns it with its key */
async function makeSource(admin: Besieged, name: string): Promise<{ name: string; key: string }> {
  const body = { name, title: 'Tried by the siege', description: '', recipe: 'dock-auth' };
  const made = await admin.fetch('POST', '/sources', body, 10_000);
  const answer = made.ok ? made : await admin.fetch('POST', `/sources/${name}/key`, undefined, 10_000);
  return { name, key: ((await answer.json()) as { key: string }).key };
}

/** The last day, as a page asks for it. */
const lastDay = (): { from: string; to: string } => ({
  from: new Date(Date.now() - 86_400_000).toISOString(),
  to: new Date().toISOString(),
});

const told = ({ health, hunts, typed, page, server, database }: Borne): string =>
  `  /healthz ${health.toString()}; a small hunt ${hunts.toString()}\n  on the open page: a letter ${typed.toString()}; the hunt ${page.toString()}\n  server ${server ?? '?'} MiB, the largest process of the database ${database ?? '?'} MiB`;

async function main(): Promise<void> {
  const address = option('--address', 'http://127.0.0.1:7380');
  const [first, second] = demoPeople;
  const admin = await Besieged.enter(address, first.name, first.password);
  const analyst = await Besieged.enter(address, second.name, second.password);
  const siege = {
    analyst,
    source: await makeSource(admin, 'siege'),
    beside: await makeSource(admin, 'siege-beside'),
    syslogPort: Number(option('--syslog', '5514')),
  };
  const health = async (): Promise<boolean> =>
    (await fetch(new URL('/healthz', admin.base), { signal: AbortSignal.timeout(60_000) })).ok;
  // As somebody else asks it than who attacks.
  const small = async (): Promise<boolean> => {
    const body = { text: 'from signin\nfirst 10', window: lastDay() };
    const answer = await admin.fetch('POST', '/hunts/run', body, 60_000);
    await answer.text();
    return answer.ok;
  };
  let worst = 0;
  const page = await openHunt(admin);
  const watched = { health, hunt: small, page };
  const calm = watch(watched);
  await new Promise((on) => setTimeout(on, 3000));
  process.stdout.write(`Nothing tried\n${told(await calm.stop())}\n`);
  const only = option('--only', '').toLowerCase();
  for (const attack of attacks.filter(({ name }) => name.toLowerCase().includes(only))) {
    const watching = watch(watched);
    const start = performance.now();
    const answers = await attack.run(siege).catch((error: unknown) => `it failed: ${String(error)}`);
    // What was only handed over is worked off now.
    await new Promise((on) => setTimeout(on, 2000));
    const borne = await watching.stop();
    worst = Math.max(worst, borne.health.worst);
    process.stdout.write(
      `${attack.name} (${((performance.now() - start) / 1000).toFixed(1)} s)\n  answered: ${answers.toString()}\n${told(borne)}\n`,
    );
  }
  await page.close();
  process.stdout.write(`Worst /healthz of all: ${Math.round(worst)} ms\n`);
}

main().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
});
