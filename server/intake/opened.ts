import type { Request } from 'express';
import { Failure } from '../failure.js';
import { keyOpens } from '../sources/service.js';
import type { IntakeSource, SourceCatalogue } from './catalogue.js';

const shownKey = (request: Request): string =>
  /^Bearer (.{1,200})$/.exec(request.get('authorization') ?? '')?.[1] ?? '';

/** The source that a request's key opens. @throws Failure 401 */
export async function sourceOpened(
  catalogue: SourceCatalogue,
  name: string,
  request: Request,
): Promise<IntakeSource> {
  const source = await catalogue.find(name);
  // The same answer for a wrong key and a source that is not there: senders learn nothing of others.
  if (!keyOpens(source, shownKey(request)) || source === undefined)
    throw new Failure(
      'wrong-key',
      'The key does not open this source. Send it as: Authorization: Bearer KEY',
    );
  return source;
}
