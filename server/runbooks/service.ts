import type { Pool } from 'pg';
import type { Runbook } from '../../core/runbooks/document.js';
import { readRunbook, type ReadRunbook } from '../../core/runbooks/read-runbook.js';
import { shippedRunbooks } from '../../core/runbooks/shipped.js';
import type { RunbookSummary, StoredRunbook } from '../../core/wire/runbooks.js';
import type { ResponseBook } from '../deliver/response-book.js';
import { KeptDocuments, requireRead, type Standing } from '../documents/kept-documents.js';
import type { HuntPlanner } from '../hunts/planner.js';

const summaryOf = ({ head, document }: Standing<Runbook>): RunbookSummary => ({
  ...head,
  about: document.about ?? '',
  steps: document.steps.length,
});

/** Runbooks: those that ship, those that were changed here, and those that were written here. */
export class Runbooks {
  private readonly kept: KeptDocuments<Runbook>;

  constructor(
    pool: Pool,
    private readonly planner: HuntPlanner,
    private readonly responses: ResponseBook,
  ) {
    this.kept = new KeptDocuments(pool, 'runbook', shippedRunbooks);
  }

  /** All of them, by title. */
  async all(): Promise<RunbookSummary[]> {
    return (await this.kept.all()).map(summaryOf);
  }

  /** One as it is run now. @throws Failure 404 */
  async current(name: string): Promise<{ readonly document: Runbook; readonly version: number }> {
    const { head, document } = await this.kept.require(name);
    return { document, version: head.version };
  }

  /** One with its versions. @throws Failure 404 */
  async read(name: string): Promise<StoredRunbook> {
    const found = await this.kept.require(name);
    return {
      ...summaryOf(found),
      document: { ...found.document },
      versions: await this.kept.versions(name),
    };
  }

  /** Reads a text as a runbook, with the lists and responses there are. */
  async check(text: string): Promise<ReadRunbook> {
    return readRunbook(text, {
      lists: await this.planner.listsFor(text),
      responses: await this.responses.documents(),
    });
  }

  /** A text as a runbook. @throws Failure 422 with the first mistake and its place */
  async require(text: string): Promise<Runbook> {
    const { runbook, mistakes } = await this.check(text);
    return requireRead(runbook, mistakes, 'runbook');
  }

  /** Keeps a runbook, as a new version. @throws Failure 409 where it was changed meanwhile, 422 */
  async put(name: string, text: string, basedOn: number | undefined, who: string): Promise<StoredRunbook> {
    await this.kept.put(name, await this.require(text), basedOn, who);
    return this.read(name);
  }

  /** @throws Failure 404 for what was not written here */
  remove(name: string): Promise<void> {
    return this.kept.remove(name);
  }
}
