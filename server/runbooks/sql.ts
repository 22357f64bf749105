import type { Instant } from '../../core/base/instant.js';
import type { Runbook } from '../../core/runbooks/document.js';

export interface RunRow {
  readonly id: number;
  readonly runbook: string;
  readonly version: number;
  readonly document: Runbook;
  readonly alert: number;
  readonly names: Readonly<Record<string, string>>;
  readonly state: 'running' | 'done' | 'stopped' | 'failed';
  readonly started_by: string;
  readonly started: Instant;
  readonly ended_by: string | null;
  readonly ended: Instant | null;
  readonly said: string | null;
  readonly step: string | null;
  readonly waits: 'answer' | 'response' | 'time' | null;
  readonly wake: Instant | null;
  readonly response: number | null;
}

const RUN = `r.id, r.runbook, r.version, r.document, r.alert, r.names, r.state, r.started_by, r.started, r.ended_by, r.ended,
  r.said, r.step, r.waits, r.wake, r.response`;

export const COUNT_RUNNING = `SELECT count(*) AS n FROM runbook_runs WHERE started_by = $1 AND state = 'running'`;
/** One that runs already on the same is no other. */
export const START_RUN = `INSERT INTO runbook_runs (runbook, version, document, alert, names, started_by, step)
  VALUES ($1, $2, $3, $4, $5, $6, $7) ON CONFLICT (runbook, alert) WHERE state = 'running' DO NOTHING RETURNING id`;
export const READ_RUN = `SELECT ${RUN} FROM runbook_runs r WHERE r.id = $1`;
/** $1 alert, $2 case: the runs on alerts that it holds; $3 only those that run */
export const READ_RUNS = `SELECT ${RUN} FROM runbook_runs r
  WHERE ($1::bigint IS NULL OR r.alert = $1)
    AND ($2::bigint IS NULL OR r.alert IN (SELECT p.ref::bigint FROM case_pins p WHERE p."case" = $2 AND p.kind = 'alert' AND p.ref ~ '^[0-9]+$'))
    AND (NOT $3 OR r.state = 'running') ORDER BY r.id DESC LIMIT 200`;
export const STEPS_OF_RUN =
  'SELECT step, began, ended, who, said, found FROM runbook_steps WHERE run = $1 ORDER BY began, step';

/** Runs that can go on now. $1 at most so many */
export const DUE_RUNS = `SELECT ${RUN} FROM runbook_runs r WHERE r.state = 'running'
    AND (r.waits IS NULL OR r.waits = 'time' AND r.wake <= now()
      OR r.waits = 'response' AND NOT EXISTS (SELECT 1 FROM responses p WHERE p.id = r.response AND p.state IN ('asked', 'approved')))
  ORDER BY r.id LIMIT $1`;
/** Holds a run where it still stands at the step, waiting for what it is said to. */
export const HOLD_RUN_AT = `SELECT id FROM runbook_runs WHERE id = $1 AND state = 'running' AND step = $2
  AND waits IS NOT DISTINCT FROM $3 FOR UPDATE`;
export const BEGIN_STEP = 'INSERT INTO runbook_steps (run, step) VALUES ($1, $2) ON CONFLICT DO NOTHING';
export const END_STEP = `INSERT INTO runbook_steps (run, step, ended, who, said, found) VALUES ($1, $2, now(), $3, $4, $5)
  ON CONFLICT (run, step) DO UPDATE SET ended = now(), who = excluded.who, said = excluded.said, found = excluded.found`;
export const WAIT_FOR =
  'UPDATE runbook_runs SET waits = $2, wake = now() + make_interval(mins => $3), response = $4 WHERE id = $1';
export const GO_ON = `UPDATE runbook_runs SET step = $2, waits = NULL, wake = NULL, response = NULL,
    state = CASE WHEN $2::text IS NULL THEN 'done' ELSE state END, ended = CASE WHEN $2::text IS NULL THEN now() END WHERE id = $1`;
export const END_RUN = `UPDATE runbook_runs SET state = $2, ended = now(), ended_by = $3, said = $4, step = NULL, waits = NULL,
    wake = NULL, response = NULL WHERE id = $1 AND state = 'running' RETURNING alert`;
export const STATE_OF_RESPONSE = 'SELECT state, said, decided_by, reason FROM responses WHERE id = $1';
export const KIND_OF_RECEIVER = 'SELECT kind FROM destinations WHERE name = $1';
