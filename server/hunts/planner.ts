import type { Pool, QueryResultRow } from 'pg';
import { DAY, type Instant } from '../../core/base/instant.js';
import { EARLIEST, LATEST } from '../../core/recipes/record-time.js';
import { indexSubjects } from '../../core/subjects/subject.js';
import { subjectsAskedAbout } from '../../core/wick/about.js';
import { compileHunt, type CompileOptions } from '../../core/wick/compile.js';
import { compileFollowable, type Followable } from '../../core/wick/followable.js';
import type { ListRef, Plan } from '../../core/wick/plan.js';
import type { HuntRequest } from '../../core/wire/hunts.js';
import { Identities } from '../subjects/identities.js';
import { LISTS_WITH_COLUMNS, LISTS_TO_ASK } from './sql.js';
import { readWindow } from './window.js';

/** What a hunt is made of before it is planned. */
export type HuntQuestion = Pick<HuntRequest, 'text' | 'window' | 'parameters' | 'carried'>;

/** Subjects whose names are looked up for one hunt; further ones are found by their name alone. */
const MAX_SUBJECTS = 50;

/** Reads hunts against what exists now: lists, and the moment. */
export class HuntPlanner {
  constructor(
    private readonly pool: Pool,
    readonly now: () => Instant,
    private readonly identities = new Identities(pool, now),
  ) {}

  /** Checks a hunt. @throws HuntError, Failure */
  async plan({ text, window, parameters = {}, carried = [] }: HuntQuestion): Promise<Plan> {
    return compileHunt(
      text,
      await this.withSubjects(compileHunt, text, {
        window: readWindow(window),
        now: this.now(),
        lists: await this.listsFor([text, ...carried].join('\n')),
        parameters,
        carried,
      }),
    );
  }

  /** Checks a hunt while it is written: blanks that are not filled in are no mistake yet. @throws HuntError */
  async check(text: string): Promise<void> {
    const now = this.now();
    compileHunt(text, {
      window: { from: now - 30 * DAY, to: now },
      now,
      lists: await this.listsFor(text),
      writing: true,
    });
  }

  /** As much of a hunt as can be followed, whenever its events happened, and the lists it names. @throws HuntError */
  async followable({
    text,
    parameters = {},
    carried = [],
  }: Omit<HuntQuestion, 'window'>): Promise<Followable & { readonly lists: readonly string[] }> {
    const fullText = [text, ...carried].join('\n');
    const known = await this.listsFor(fullText);
    const found = compileFollowable(
      text,
      await this.withSubjects(compileFollowable, text, {
        window: { from: EARLIEST, to: LATEST },
        now: this.now(),
        lists: known,
        parameters,
        carried,
      }),
    );
    const lower = fullText.toLowerCase();
    return {
      ...found,
      lists: known.map(({ name }) => name).filter((name) => lower.includes(name.toLowerCase())),
    };
  }

  /** The same, with what the subjects are called that the hunt asks about. */
  private async withSubjects(
    compile: (text: string, options: CompileOptions) => unknown,
    text: string,
    options: CompileOptions,
  ): Promise<CompileOptions> {
    const asked = subjectsAskedAbout(compile, text, options).slice(0, MAX_SUBJECTS);
    if (asked.length === 0) return options;
    const subjects = await Promise.all(
      asked.map(async ({ kind, name }) => ({ kind, name, also: await this.identities.joined(kind, name) })),
    );
    return { ...options, subjects: indexSubjects(subjects) };
  }

  /** The lists there are; with their columns for a text that may look something up. */
  async listsFor(text: string): Promise<ListRef[]> {
    return /\blook\s+up\b/i.test(text)
      ? (await this.pool.query<ListRef & QueryResultRow>(LISTS_WITH_COLUMNS)).rows
      : (await this.pool.query<ListRef & QueryResultRow>(LISTS_TO_ASK)).rows;
  }
}
