import type { RuleCheck } from '../../core/wire/rules.js';
import type { RecipeTried } from '../../core/wire/sources.js';
import { Failure, type FailureCode } from '../failure.js';
import type { RuleFile } from '../../core/sigma/pack.js';
import { BoundedWork } from './bounded-work.js';

/** What is asked of a thread. */
export type CheckTask =
  | { readonly task: 'rule'; readonly text: string; readonly id: string | null }
  | { readonly task: 'rules'; readonly files: readonly RuleFile[] }
  | { readonly task: 'recipe'; readonly sample: string; readonly document: unknown };

/** What a thread is told when it begins. */
export interface CheckSettings {
  readonly databaseUrl: string;
  readonly places: readonly string[];
}

/** What a thread answers: the outcome, or a failure as plain data, since classes do not cross. */
export type CheckAnswer =
  | { readonly outcome: unknown }
  | { readonly failure: { readonly code: FailureCode; readonly message: string } };

/** Reads what somebody wrote, wherever that is done. */
export interface Checks {
  /** What a rule text says, or its first mistake. @throws Failure 422 where reading it takes too much */
  rule(text: string, id: string | null): Promise<RuleCheck>;
  /** Reads files of rules, to see that they can be. @throws Failure 422 */
  rules(files: readonly RuleFile[]): Promise<void>;
  /** What a recipe makes of a sample. @throws Failure 422 */
  recipe(sample: string, document: unknown): Promise<RecipeTried>;
}

/** A text or a sample takes so long at most; many files may take longer. */
const BOUNDS = { milliseconds: 8000, megabytes: 384, waiting: 20 } as const;
const FILES_BOUNDS = { milliseconds: 60_000, megabytes: 1024, waiting: 2 } as const;

/** Checks in threads of their own. */
export class ThreadedChecks implements Checks {
  private readonly work: BoundedWork<CheckTask, CheckAnswer>;
  private readonly files: BoundedWork<CheckTask, CheckAnswer>;

  constructor(file: string, settings: CheckSettings) {
    this.work = new BoundedWork(file, settings, BOUNDS);
    this.files = new BoundedWork(file, settings, FILES_BOUNDS);
  }

  private async ask(work: BoundedWork<CheckTask, CheckAnswer>, task: CheckTask): Promise<unknown> {
    const answer = await work.run(task);
    if ('outcome' in answer) return answer.outcome;
    const { code, message } = answer.failure;
    throw new Failure(code, message);
  }

  rule = async (text: string, id: string | null): Promise<RuleCheck> =>
    (await this.ask(this.work, { task: 'rule', text, id })) as RuleCheck;

  rules = async (files: readonly RuleFile[]): Promise<void> => {
    await this.ask(this.files, { task: 'rules', files });
  };

  recipe = async (sample: string, document: unknown): Promise<RecipeTried> =>
    (await this.ask(this.work, { task: 'recipe', sample, document })) as RecipeTried;

  async stop(): Promise<void> {
    await Promise.all([this.work.stop(), this.files.stop()]);
  }
}
