import { readdirSync, readFileSync } from 'node:fs';
import type { OpenPage } from './page.js';

/** How a running workbench bore what was tried. */
export interface Borne {
  /** Answers of /healthz: how many, the worst in milliseconds, and how many failed. */
  readonly health: Delays;
  /** A small hunt, as a page asks it over and over. */
  readonly hunts: Delays;
  /** A letter typed on the page of Hunt that is left open, and the hunt run there. */
  readonly typed: Delays;
  readonly page: Delays;
  /** The most memory of the server and of any one process of the database, MiB; null where that is not told. */
  readonly server: number | null;
  readonly database: number | null;
}

export class Delays {
  asked = 0;
  failed = 0;
  worst = 0;

  /** Measures one request. */
  async take(request: () => Promise<boolean>): Promise<void> {
    const start = performance.now();
    const went = await request().catch(() => false);
    this.asked++;
    if (!went) this.failed++;
    this.worst = Math.max(this.worst, performance.now() - start);
  }

  toString(): string {
    return `worst ${Math.round(this.worst)} ms of ${this.asked}${this.failed > 0 ? `, ${this.failed} failed` : ''}`;
  }
}

const PAUSE_MILLISECONDS = 200;

/** Resident memory of the processes whose command line fits, MiB, the most of one (proc(5), VmRSS). */
function mostMemory(fits: RegExp): number | null {
  let most: number | null = null;
  try {
    for (const pid of readdirSync('/proc').filter((name) => /^\d+$/.test(name))) {
      try {
        if (!fits.test(readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' '))) continue;
        const kib = /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1];
        if (kib !== undefined) most = Math.max(most ?? 0, Math.round(Number(kib) / 1024));
      } catch {
        // It ended meanwhile, or is not ours to look at.
      }
    }
  } catch {
    return null;
  }
  return most;
}

/** What is asked over and over while something is tried; each tells whether it went well. */
export interface Watched {
  readonly health: () => Promise<boolean>;
  /** A small hunt, as a page asks it. */
  readonly hunt: () => Promise<boolean>;
  readonly page: OpenPage;
}

/** Watches a workbench until it is told to stop. */
export function watch({ health, hunt, page }: Watched): { stop(): Promise<Borne> } {
  const found = { health: new Delays(), hunts: new Delays(), typed: new Delays(), page: new Delays() };
  let server: number | null = null;
  let database: number | null = null;
  let going = true;
  const round = async (...asked: readonly (readonly [Delays, () => Promise<boolean>])[]): Promise<void> => {
    while (going) {
      for (const [delays, request] of asked) await delays.take(request);
      server = Math.max(server ?? 0, mostMemory(/dist\/server\.mjs/) ?? 0) || null;
      database = Math.max(database ?? 0, mostMemory(/^postgres: /) ?? 0) || null;
      await new Promise((pause) => setTimeout(pause, PAUSE_MILLISECONDS));
    }
  };
  const rounds = [
    round([found.health, health]),
    round([found.hunts, hunt]),
    round([found.typed, () => page.type()], [found.page, () => page.run()]),
  ];
  return {
    async stop() {
      going = false;
      await Promise.all(rounds);
      return { ...found, server, database };
    },
  };
}
