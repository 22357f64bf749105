import type { Problem } from '../../core/wire/common.js';
import { ApiFailure, ask } from './client.js';

interface FailurePiece {
  readonly piece: 'failure';
  readonly problem: Problem;
}

const isFailure = (piece: unknown): piece is FailurePiece =>
  typeof piece === 'object' && piece !== null && (piece as { piece?: unknown }).piece === 'failure';

/** Asks for an answer that comes in lines of JSON. Aborting stops the work on the server. @throws ApiFailure */
export async function* jsonLines<T>(path: string, body: unknown, signal: AbortSignal): AsyncGenerator<T> {
  const response = await ask(path, { method: 'post', body, signal, accept: 'application/x-ndjson' });
  const reader = response.body?.pipeThrough(new TextDecoderStream()).getReader();
  if (reader === undefined) return;
  let rest = '';
  for (;;) {
    const { done, value } = await reader.read();
    rest += value ?? '';
    const lines = rest.split('\n');
    rest = done ? '' : (lines.pop() ?? '');
    for (const line of lines) {
      if (line === '') continue;
      const piece = JSON.parse(line) as unknown;
      if (isFailure(piece)) throw new ApiFailure(piece.problem);
      yield piece as T;
    }
    if (done) return;
  }
}
