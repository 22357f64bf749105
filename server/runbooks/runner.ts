import type { Pool, PoolClient } from 'pg';
import type { MessageStep, RespondStep, Step } from '../../core/runbooks/document.js';
import { fillNames, nameable } from '../../core/runbooks/names.js';
import type { RuleAction } from '../../core/sigma/actions.js';
import { HuntError } from '../../core/wick/hunt-error.js';
import { addChange } from '../alerts/service.js';
import { transaction } from '../db/transaction.js';
import type { Responses } from '../deliver/responses.js';
import { ADD_DELIVERY } from '../deliver/sql.js';
import { Failure } from '../failure.js';
import { tellAlerts } from '../live/tell.js';
import { askHunt, foundWords, type HuntParts } from './ask-hunt.js';
import { endStep } from './runs.js';
import {
  BEGIN_STEP,
  DUE_RUNS,
  END_RUN,
  END_STEP,
  HOLD_RUN_AT,
  KIND_OF_RECEIVER,
  type RunRow,
  STATE_OF_RESPONSE,
  WAIT_FOR,
} from './sql.js';

/** Runs that go on at once: their hunts leave most connections for work by the clock to the rest of it. */
const AT_ONCE = 2;
const MOST = 200;
/** Failures that pass: the step is tried again by a later round, and the run is as it was. */
const PASSING: ReadonlySet<string> = new Set(['database-away', 'stopped', 'too-many']);

/** What carries runs on. */
export interface RunnerParts extends HuntParts {
  readonly pool: Pool;
  readonly responses: Responses;
}

/**
 * Carries every run on that can go on, by one step each. One that fails unexpectedly stays where it stands, and holds up no
 * other.
 * @returns how many did
 * @throws the first of what went wrong, when all have had their turn
 */
export async function carryOn(parts: RunnerParts, stop: AbortSignal): Promise<number> {
  const { rows } = await parts.pool.query<RunRow>(DUE_RUNS, [MOST]);
  const queue = [...rows];
  let went = 0;
  const failures: unknown[] = [];
  const work = async (): Promise<void> => {
    for (let run = queue.shift(); run !== undefined && !stop.aborted; run = queue.shift())
      try {
        if (await carryOneOn(parts, run, stop)) went++;
      } catch (error) {
        failures.push(error);
      }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, work));
  if (failures.length > 0) throw failures[0];
  return went;
}

/** Carries runs on until each of them waits or is over. */
export async function carryAllOn(parts: RunnerParts, stop: AbortSignal): Promise<void> {
  while (!stop.aborted && (await carryOn(parts, stop)) > 0);
}

async function carryOneOn(parts: RunnerParts, run: RunRow, stop: AbortSignal): Promise<boolean> {
  const step = run.document.steps.find(({ id }) => id === run.step);
  try {
    if (step === undefined) throw new Failure('invalid', `There is no step "${run.step}".`);
    return await doStep(parts, run, step, stop);
  } catch (error) {
    // The run ends where its step cannot be done; whatever else goes wrong is tried again by the next round.
    if (!(error instanceof HuntError || error instanceof Failure) || stop.aborted) throw error;
    if (error instanceof Failure && PASSING.has(error.code)) throw error;
    const said = `"${step?.title ?? run.step}" could not be done: ${error.message}`;
    return transaction(parts.pool, async (client) => {
      const { rowCount } = await client.query(END_RUN, [run.id, 'failed', 'Under Lamp', said.slice(0, 2000)]);
      if (rowCount === 0) return false;
      if (step !== undefined) await client.query(END_STEP, [run.id, step.id, null, error.message, null]);
      await addChange(client, run.alert, 'Under Lamp', `runbook "${run.document.title}" ended: ${said}`);
      await tellAlerts(client, [run.alert]);
      return true;
    });
  }
}

async function doStep(parts: RunnerParts, run: RunRow, step: Step, stop: AbortSignal): Promise<boolean> {
  const { pool } = parts;
  switch (step.do) {
    case 'hunt': {
      // It is asked outside of the transaction: asked twice it does no harm, and it counts once.
      const found = await askHunt(parts, step, run.names, 'clock', stop);
      return transaction(pool, (client) =>
        endStep(client, run, step, {
          outcome: { step: 'hunt', found: found.rows.length > 0 },
          who: null,
          said: foundWords(found),
          found,
        }),
      );
    }
    case 'respond':
      return run.waits === 'response' ? endResponseStep(pool, run, step) : askForResponse(parts, run, step);
    case 'ask':
      return begin(pool, run, step, { waits: 'answer' });
    case 'message':
      return transaction(pool, (client) =>
        endStep(client, run, step, {
          outcome: { step: 'over' },
          who: null,
          said: step.to === undefined ? 'written on the alert' : `handed over for ${step.to}`,
          act: () => sayIt(client, run, step),
        }),
      );
    case 'wait':
      return run.waits === 'time'
        ? transaction(pool, (client) =>
            endStep(client, run, step, { outcome: { step: 'over' }, who: null, said: 'the time is over' }),
          )
        : begin(pool, run, step, { waits: 'time', minutes: step.minutes });
  }
}

/** Begins a step that waits for something, once. */
async function begin(
  pool: Pool,
  run: RunRow,
  step: Step,
  { waits, minutes = 0 }: { readonly waits: 'answer' | 'time'; readonly minutes?: number },
): Promise<boolean> {
  return transaction(pool, async (client) => {
    const { rowCount } = await client.query(HOLD_RUN_AT, [run.id, step.id, null]);
    if (rowCount === 0) return false;
    await client.query(BEGIN_STEP, [run.id, step.id]);
    await client.query(WAIT_FOR, [run.id, waits, minutes, null]);
    await tellAlerts(client, [run.alert]);
    return true;
  });
}

async function askForResponse(
  { pool, responses }: RunnerParts,
  run: RunRow,
  step: RespondStep,
): Promise<boolean> {
  const response = await responses.book.find(step.response);
  const subject = response === null ? undefined : run.names[response.on];
  if (subject === undefined)
    throw new Failure('invalid', `The alert names no ${response?.on ?? 'subject'} for it.`);
  return transaction(pool, async (client) => {
    const { rowCount } = await client.query(HOLD_RUN_AT, [run.id, step.id, null]);
    if (rowCount === 0) return false;
    await client.query(BEGIN_STEP, [run.id, step.id]);
    const asked = await responses.askIn(
      client,
      run.alert,
      { does: step.response, subject, ...(step.hours !== undefined && { hours: step.hours }) },
      run.started_by,
    );
    await client.query(WAIT_FOR, [run.id, 'response', 0, asked]);
    return true;
  });
}

async function endResponseStep(pool: Pool, run: RunRow, step: RespondStep): Promise<boolean> {
  const { rows } = await pool.query<{
    state: string;
    said: string | null;
    decided_by: string | null;
    reason: string | null;
  }>(STATE_OF_RESPONSE, [run.response]);
  const [found] = rows;
  const done = found !== undefined && ['done', 'undone', 'ended'].includes(found.state);
  return transaction(pool, (client) =>
    endStep(client, run, step, {
      outcome: { step: 'respond', done },
      who: found?.decided_by ?? null,
      said: found?.said ?? `${found?.state ?? 'gone'}${found?.reason == null ? '' : `: ${found.reason}`}`,
    }),
  );
}

/** Names of the alert stand for those of its events, so that whoever receives the message fills and marks them. */
const asTemplate = (text: string): string =>
  text.replace(/\{(\w+)\}/g, (whole, name: string) =>
    (nameable as readonly string[]).includes(name) ? `{event.${name}}` : whole,
  );

async function sayIt(client: PoolClient, run: RunRow, { to, text }: MessageStep): Promise<void> {
  if (to === undefined) {
    await addChange(client, run.alert, 'Under Lamp', fillNames(text, run.names).slice(0, 1000));
    return;
  }
  const { rows } = await client.query<{ kind: string }>(KIND_OF_RECEIVER, [to]);
  const action = messageTo(rows[0]?.kind ?? '', to, run.document.title, asTemplate(text));
  if (action === null)
    throw new Failure('invalid', `"${to}" is no room, mailbox or collector under Destinations.`);
  await client.query(ADD_DELIVERY, [run.alert, JSON.stringify(action)]);
}

function messageTo(kind: string, to: string, title: string, text: string): RuleAction | null {
  switch (kind) {
    case 'chat':
      return { do: 'chat', to, text, fields: [], offer: [] };
    case 'mail':
      return { do: 'mail', to, subject: title, text };
    case 'syslog':
      return { do: 'syslog', to, text };
    case 'webhook':
      return { do: 'webhook', to, fields: [] };
    default:
      return null;
  }
}
