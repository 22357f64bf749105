import { listAlerts, readAlert } from '../../core/wire/endpoints/alerts.js';
import { openCase } from '../../core/wire/endpoints/cases.js';
import { runHunt } from '../../core/wire/endpoints/hunts.js';
import { readList } from '../../core/wire/endpoints/lists.js';
import { importArchive } from '../../core/wire/endpoints/rule-files.js';
import { fakeApi, lines, refuse } from '../tests/page.js';
import { about, addressOf, answerTo, call, keyOf, pieces, send } from './call.js';
import { ApiFailure } from './client.js';

const stopped = (): AbortSignal => AbortSignal.abort();

describe('where an endpoint is asked', () => {
  test('names go into the path as text, and nothing they hold is read as path or query', () => {
    expect(addressOf(readAlert, { params: { id: 4 } })).toBe('/alerts/4');
    expect(addressOf(readList, { params: { list: '../a?b=c&d#e' }, query: {} })).toBe(
      '/lists/..%2Fa%3Fb%3Dc%26d%23e',
    );
  });

  test('what is not said is left out, also where it is empty', () => {
    expect(addressOf(listAlerts, { query: { state: 'open', find: '', level: undefined } })).toBe(
      '/alerts?state=open',
    );
    expect(addressOf(listAlerts)).toBe('/alerts');
    expect(addressOf(readList, { params: { list: 'people' }, query: { search: 'a b&c', from: 0 } })).toBe(
      '/lists/people?search=a+b%26c&from=0',
    );
  });
});

describe('what was answered is kept', () => {
  test('under the subject, the endpoint, and what was said', () => {
    const { queryKey } = answerTo(readAlert, { params: { id: 4 } });
    expect(queryKey).toEqual(['alerts', 'get /alerts/:id', { params: { id: 4 } }]);
    expect(keyOf(readAlert)).toEqual(['alerts', 'get /alerts/:id']);
    expect(about('alerts')).toEqual({ queryKey: ['alerts'] });
    expect(answerTo(listAlerts).queryKey).not.toEqual(
      answerTo(listAlerts, { query: { state: 'mine' } }).queryKey,
    );
  });
});

describe('asking', () => {
  test('says the method of the endpoint, and the body as JSON', async () => {
    const api = fakeApi({ 'POST /cases': { id: 7 } });
    expect(await call(openCase, { body: { title: 'Spray' } })).toEqual({ id: 7 });
    expect(api.asked).toEqual([{ method: 'POST', path: '/cases', body: { title: 'Spray' } }]);
  });

  test('a refusal is thrown with the reason and its code', async () => {
    fakeApi({ 'GET /alerts/9': refuse(404, 'There is no alert 9.') });
    const failure = await call(readAlert, { params: { id: 9 } }).catch((error: unknown) => error);
    expect(failure).toBeInstanceOf(ApiFailure);
    expect((failure as ApiFailure).problem).toMatchObject({ status: 404, detail: 'There is no alert 9.' });
  });

  test('a server that does not answer is told in words', async () => {
    Object.assign(globalThis, { fetch: () => Promise.reject(new TypeError('fetch failed')) });
    await expect(call(listAlerts, {})).rejects.toThrow('The server does not answer.');
  });

  test('whoever stops asking is told nothing', async () => {
    const gone = new DOMException('', 'AbortError');
    Object.assign(globalThis, { fetch: () => Promise.reject(gone) });
    await expect(call(listAlerts, { signal: stopped() })).rejects.toBe(gone);
  });

  test('bytes go as they are', async () => {
    const sent: RequestInit[] = [];
    Object.assign(globalThis, {
      fetch: (_: string, init: RequestInit) => {
        sent.push(init);
        return Promise.resolve({ ok: true, json: () => Promise.resolve({ loaded: 1 }) });
      },
    });
    const file = new Blob(['x']);
    expect(await send(importArchive, file, {})).toEqual({ loaded: 1 });
    expect(sent[0]).toMatchObject({
      method: 'POST',
      body: file,
      headers: { 'Content-Type': 'application/octet-stream' },
    });
  });
});

describe('answers in lines', () => {
  const question = {
    text: 'from signin',
    window: { from: '2026-11-28T00:00:00Z', to: '2026-11-29T00:00:00Z' },
  };
  const all = async (): Promise<string[]> => {
    const found: string[] = [];
    for await (const piece of pieces(runHunt, { body: question }, new AbortController().signal))
      found.push(piece.piece);
    return found;
  };

  test('come piece by piece', async () => {
    fakeApi({
      'POST /hunts/run': lines(
        { piece: 'columns', columns: [], notes: [], how: [] },
        { piece: 'rows', rows: [], events: [] },
        { piece: 'end', complete: true, milliseconds: 3 },
      ),
    });
    expect(await all()).toEqual(['columns', 'rows', 'end']);
  });

  test('a failure on the way is thrown, after what came before it', async () => {
    fakeApi({
      'POST /hunts/run': lines(
        { piece: 'columns', columns: [], notes: [], how: [] },
        {
          piece: 'failure',
          problem: { type: '', title: '', status: 503, code: 'stopped', detail: 'It took too long.' },
        },
      ),
    });
    await expect(all()).rejects.toThrow('It took too long.');
  });
});
