import { workerData } from 'node:worker_threads';
import { Failure } from '../failure.js';
import { openPlaces } from '../mmdb/places.js';
import { makePool } from '../db/pool.js';
import { checksHere } from './check-here.js';
import type { CheckAnswer, CheckSettings, CheckTask } from './checks.js';

const settings = workerData as CheckSettings;
const pool = makePool(settings.databaseUrl, { max: 2 });
const checks = checksHere(
  pool,
  () => Date.now() * 1000,
  settings.places.length === 0 ? null : openPlaces(settings.places),
);

function outcomeOf(task: CheckTask): Promise<unknown> {
  switch (task.task) {
    case 'rule':
      return checks.rule(task.text, task.id);
    case 'rules':
      return checks.rules(task.files);
    case 'recipe':
      return checks.recipe(task.sample, task.document);
  }
}

/** Does one piece of work. */
export default async function check(task: CheckTask): Promise<CheckAnswer> {
  try {
    return { outcome: await outcomeOf(task) };
  } catch (error) {
    if (!(error instanceof Failure)) throw error;
    const { code, message } = error;
    return { failure: { code, message } };
  }
}
