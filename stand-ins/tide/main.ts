import { DAY, HOUR } from '../../core/base/instant.js';
import { generateTide } from '../../demo/generate/index.js';
import type { DemoRecord } from '../../demo/generate/record.js';

// The tide: stands in for the systems of the demo world and keeps sending what they would log, over HTTP like any
// other sender. It is told the world it continues in the environment.

const PAUSE_MILLISECONDS = 2000;
/** After a stop, at most so much is made up for; the gap before stays a gap. */
const CATCH_UP = 26 * HOUR;

const server = process.env['TIDE_SERVER'] ?? '';
const seed = Number(process.env['TIDE_SEED']);
const end = Number(process.env['TIDE_END']);
const keys = JSON.parse(process.env['TIDE_KEYS'] ?? '{}') as Record<string, string>;

const now = (): number => Date.now() * 1000;
const pause = (milliseconds: number): Promise<void> =>
  new Promise((resolve) => setTimeout(resolve, milliseconds));

/** Sends records of one source; what is not acknowledged is sent again by the next round. */
async function send(source: string, records: readonly DemoRecord[]): Promise<void> {
  const response = await fetch(`${server}/api/v1/intake/${source}`, {
    method: 'POST',
    headers: { Authorization: `Bearer ${keys[source]}`, 'Content-Type': 'text/plain' },
    body: records.map((record) => record.raw).join('\n'),
  });
  if (!response.ok) throw new Error(`${source}: ${response.status}`);
}

let sentUntil = Math.max(end, now() - CATCH_UP);
let made = { until: 0, records: [] as DemoRecord[] };
for (;;) {
  const until = now();
  // A day is made at once and given out as its hours pass.
  if (until > made.until)
    made = { until: until + DAY / 4, records: generateTide({ seed, end }, sentUntil, until + DAY / 4) };
  const due = made.records.filter(({ received }) => received > sentUntil && received <= until);
  try {
    for (const source of Object.keys(keys)) {
      const own = due.filter((record) => record.source === source);
      if (own.length > 0) await send(source, own);
    }
    sentUntil = until;
  } catch {
    // The server may be starting or stopping: the same records are tried again, and none is doubled.
  }
  await pause(PAUSE_MILLISECONDS);
}
