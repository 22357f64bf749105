import type { Pool, PoolClient } from 'pg';
import type { ResponseDocument, ResponseDocuments } from '../../core/responses/document.js';
import { readResponse, type ReadResponse } from '../../core/responses/read-response.js';
import { responses as shipped } from '../../core/responses/shipped.js';
import type { ListRef } from '../../core/wick/plan.js';
import type { StoredResponse } from '../../core/wire/responses.js';
import { KeptDocuments, requireRead, type Standing } from '../documents/kept-documents.js';

/** The responses there are: those that ship, those that were changed here, and those that were written here. */
export class ResponseBook {
  private readonly kept: KeptDocuments<ResponseDocument>;

  /** @param listsFor the lists that a hunt may name */
  constructor(
    pool: Pool,
    private readonly listsFor: (hunt: string) => Promise<readonly ListRef[]> = () => Promise.resolve([]),
  ) {
    this.kept = new KeptDocuments<ResponseDocument>(pool, 'response', shipped);
  }

  /** All of them, by title. */
  all(): Promise<Standing<ResponseDocument>[]> {
    return this.kept.all();
  }

  /** All documents, by name. */
  async documents(on?: Pool | PoolClient): Promise<ResponseDocuments> {
    return Object.fromEntries((await this.kept.all(on)).map(({ head, document }) => [head.name, document]));
  }

  /** One as it is now; null where there is none. */
  async find(does: string, on?: Pool | PoolClient): Promise<ResponseDocument | null> {
    return (await this.kept.find(does, on))?.document ?? null;
  }

  /** One with its versions. @throws Failure 404 */
  async read(does: string): Promise<StoredResponse> {
    const { head, document } = await this.kept.require(does);
    return { ...head, document: { ...document }, versions: await this.kept.versions(does) };
  }

  /** Reads a text as a response. */
  async check(text: string): Promise<ReadResponse> {
    return readResponse(text, { known: await this.documents(), lists: await this.listsFor(text) });
  }

  /** Keeps a response, as a new version. @throws Failure 409 where it was changed meanwhile, 400 */
  async put(does: string, text: string, basedOn: number | undefined, who: string): Promise<StoredResponse> {
    const { response, mistakes } = await this.check(text);
    await this.kept.put(does, requireRead(response, mistakes, 'response'), basedOn, who);
    return this.read(does);
  }

  /** @throws Failure 404 for what was not written here */
  remove(does: string): Promise<void> {
    return this.kept.remove(does);
  }
}
