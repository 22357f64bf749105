import type { Pool, PoolClient } from 'pg';
import { formatInstant } from '../../core/base/instant.js';
import type { ResponseDocuments } from '../../core/responses/document.js';
import { responseIn } from '../../core/responses/document.js';
import type { Step } from '../../core/runbooks/document.js';
import { fillNames, missingFor, namesOf } from '../../core/runbooks/names.js';
import { stepAfter, type Outcome } from '../../core/runbooks/walk.js';
import type { FoundRows, RunbookTried, RunDetail, RunSummary } from '../../core/wire/runbooks.js';
import { addChange } from '../alerts/service.js';
import type { Alerts } from '../alerts/service.js';
import { transaction } from '../db/transaction.js';
import type { Responses } from '../deliver/responses.js';
import { Failure, invalid, notFound } from '../failure.js';
import { tellAlerts } from '../live/tell.js';
import type { HuntParts } from './ask-hunt.js';
import type { Runbooks } from './service.js';
import {
  BEGIN_STEP,
  COUNT_RUNNING,
  END_RUN,
  END_STEP,
  GO_ON,
  HOLD_RUN_AT,
  READ_RUN,
  READ_RUNS,
  type RunRow,
  START_RUN,
  STEPS_OF_RUN,
} from './sql.js';
import { tryRunbook } from './try.js';

/** Runs of one person at once. */
const MAX_RUNNING = 30;

/** How a step ended, as it is written down. */
export interface StepEnd {
  readonly outcome: Outcome;
  readonly who: string | null;
  readonly said: string;
  readonly found?: FoundRows;
  /** What the step does, once it is sure that it is done here and now. */
  readonly act?: () => Promise<void>;
}

/**
 * Ends the step a run stands at, and goes on to the next, in a transaction of whoever calls: only where it still stands there.
 * @returns whether it did
 */
export async function endStep(client: PoolClient, run: RunRow, step: Step, end: StepEnd): Promise<boolean> {
  const { rowCount } = await client.query(HOLD_RUN_AT, [run.id, step.id, run.waits]);
  if (rowCount === 0) return false;
  await end.act?.();
  const next = stepAfter(run.document, step, end.outcome);
  await client.query(END_STEP, [
    run.id,
    step.id,
    end.who,
    end.said.slice(0, 2000),
    end.found === undefined ? null : JSON.stringify(end.found),
  ]);
  await client.query(GO_ON, [run.id, next?.id ?? null]);
  if (next === null)
    await addChange(client, run.alert, 'Under Lamp', `runbook "${run.document.title}" came to its end`);
  await tellAlerts(client, [run.alert]);
  return true;
}

const toSummary = (row: RunRow): RunSummary => ({
  id: row.id,
  runbook: row.runbook,
  title: row.document.title,
  version: row.version,
  alert: row.alert,
  subject: row.names['subject'] ?? '',
  state: row.state,
  startedBy: row.started_by,
  started: formatInstant(row.started),
  endedBy: row.ended_by,
  ended: row.ended === null ? null : formatInstant(row.ended),
  said: row.said,
  at: row.document.steps.find(({ id }) => id === row.step)?.title ?? null,
  waits: row.waits,
  wake: row.wake === null ? null : formatInstant(row.wake),
});

function textOf(step: Step, names: Readonly<Record<string, string>>, responses: ResponseDocuments): string {
  switch (step.do) {
    case 'hunt':
      return step.hunt;
    case 'respond':
      return responseIn(responses, step.response)?.title ?? step.response;
    case 'ask':
      return fillNames(step.question, names);
    case 'message':
      return fillNames(step.text, names);
    case 'wait':
      return `${step.minutes} minutes`;
  }
}

/** Runs of runbooks on alerts. */
export class Runs {
  constructor(
    private readonly pool: Pool,
    private readonly runbooks: Runbooks,
    private readonly alerts: Alerts,
    private readonly parts: HuntParts & { readonly responses: Responses },
  ) {}

  /** Says what each step of a runbook would do on an alert. @throws Failure 404, 422 */
  async tryOn(text: string, alert: number, signal: AbortSignal): Promise<RunbookTried> {
    const runbook = await this.runbooks.require(text);
    return tryRunbook(this.parts, runbook, await this.alerts.one(alert, signal), signal);
  }

  /** @throws Failure 404; 409 where it runs on this alert already; 422 where the alert lacks what it needs; 429 */
  async start(name: string, alert: number, who: string, signal: AbortSignal): Promise<RunDetail> {
    const [{ document, version }, about] = await Promise.all([
      this.runbooks.current(name),
      this.alerts.one(alert, signal),
    ]);
    const missing = missingFor(document, about, await this.parts.responses.book.documents());
    if (missing.length > 0)
      throw invalid(
        `"${document.title}" needs ${missing.join(', ')}, which alert ${alert} does not name. Start it on one that does.`,
      );
    const id = await transaction(this.pool, async (client) => {
      const { rows: counted } = await client.query<{ n: number }>(COUNT_RUNNING, [who]);
      if ((counted[0]?.n ?? 0) >= MAX_RUNNING)
        throw new Failure('too-many', `You have ${MAX_RUNNING} runs under way already: end some first.`);
      const { rows } = await client.query<{ id: number }>(START_RUN, [
        name,
        version,
        JSON.stringify(document),
        alert,
        JSON.stringify(namesOf(about)),
        who,
        document.steps[0]?.id ?? null,
      ]);
      const [made] = rows;
      if (made === undefined)
        throw new Failure('runs-already', `"${document.title}" runs on alert ${alert} already.`);
      await addChange(client, alert, who, `started the runbook "${document.title}"`);
      await tellAlerts(client, [alert]);
      return made.id;
    });
    return this.one(id);
  }

  /** Starts one for whoever pressed a button of a message. @returns what to tell them @throws as {@link start} */
  startFromRoom = async (name: string, alert: number, who: string): Promise<string> => {
    const run = await this.start(name, alert, who, new AbortController().signal);
    return `Started: ${run.title} on ${run.subject}.`;
  };

  /** The newest runs: of an alert, of the alerts of a case, or of all. */
  async all(asked: {
    readonly alert?: number;
    readonly case?: number;
    readonly running?: boolean;
  }): Promise<RunSummary[]> {
    const { rows } = await this.pool.query<RunRow>(READ_RUNS, [
      asked.alert ?? null,
      asked.case ?? null,
      asked.running ?? false,
    ]);
    return rows.map(toSummary);
  }

  private async row(id: number): Promise<RunRow> {
    const { rows } = await this.pool.query<RunRow>(READ_RUN, [id]);
    const [row] = rows;
    if (row === undefined) throw notFound(`run ${id}`);
    return row;
  }

  /** One run, with all steps. @throws Failure 404 */
  async one(id: number): Promise<RunDetail> {
    const run = await this.row(id);
    const { rows } = await this.pool.query<{
      step: string;
      began: number;
      ended: number | null;
      who: string | null;
      said: string | null;
      found: FoundRows | null;
    }>(STEPS_OF_RUN, [id]);
    const responses = await this.parts.responses.book.documents();
    const past = new Map(rows.map((row) => [row.step, row]));
    const at = run.document.steps.findIndex((step) => step.id === run.step);
    return {
      ...toSummary(run),
      steps: run.document.steps.map((step, i) => {
        const row = past.get(step.id);
        return {
          id: step.id,
          title: step.title,
          do: step.do,
          stands: i === at ? 'here' : row !== undefined ? 'done' : at >= 0 && i > at ? 'ahead' : 'passed',
          text: textOf(step, run.names, responses),
          answers: step.do === 'ask' ? step.answers.map(({ says }) => says) : [],
          began: row === undefined ? null : formatInstant(row.began),
          ended: row === undefined || row.ended === null ? null : formatInstant(row.ended),
          who: row?.who ?? null,
          said: row?.said ?? null,
          found: row?.found ?? null,
        };
      }),
    };
  }

  /** Answers the question that a run stands at. @throws Failure 404, 409 where it stands elsewhere, 422 */
  async answer(id: number, at: string, answer: number, who: string): Promise<RunDetail> {
    const run = await this.row(id);
    const step = run.document.steps.find((one) => one.id === at);
    if (step?.do !== 'ask' || run.step !== at || run.state !== 'running')
      throw new Failure('stands-elsewhere', 'The run does not stand at this question any more.');
    const said = step.answers[answer]?.says;
    if (said === undefined) throw invalid(`The question has ${step.answers.length} answers, from 0.`);
    await transaction(this.pool, async (client) => {
      await client.query(BEGIN_STEP, [id, at]);
      if (!(await endStep(client, run, step, { outcome: { step: 'ask', answer }, who, said })))
        throw new Failure('stands-elsewhere', 'Somebody else answered it meanwhile.');
    });
    return this.one(id);
  }

  /** Stops a run; what it did stays done. @throws Failure 404, 409 where it is over */
  async stop(id: number, reason: string | undefined, who: string): Promise<RunDetail> {
    const run = await this.row(id);
    await transaction(this.pool, async (client) => {
      const { rowCount } = await client.query(END_RUN, [id, 'stopped', who, reason ?? null]);
      if (rowCount === 0) throw new Failure('stands-elsewhere', `The run is ${run.state} already.`);
      await addChange(
        client,
        run.alert,
        who,
        `stopped the runbook "${run.document.title}"${reason === undefined ? '' : `, because ${reason}`}`,
      );
      await tellAlerts(client, [run.alert]);
    });
    return this.one(id);
  }
}
