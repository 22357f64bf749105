import fc from 'fast-check';
import { formatInstant, HOUR, parseInstant } from '../../core/base/instant.js';
import { answerInMemory } from '../../core/boards/answer-in-memory.js';
import type { Board, Card } from '../../core/boards/board.js';
import { addCard } from '../../core/boards/layout.js';
import { readyMade } from '../../core/boards/ready-made/index.js';
import type { Event } from '../../core/events/event.js';
import { jsonCells } from '../../core/output/json-lines.js';
import { noLists } from '../../core/wick/in-memory/environment.js';
import { makeEvents } from '../../core/wick/tests/events.js';
import { HuntRunner } from '../hunts/runner.js';
import { storeEvents } from '../tests/events.js';
import { Caller, send, signInRecord, testServer, type TestServer } from '../tests/server.js';

let server: TestServer;
let analyst: Caller;
let reader: Caller;
const window = { from: '2026-11-14T00:00:00Z', to: '2026-11-15T00:00:00Z' };
const random = (i: number, of: number): number => Math.abs(Math.imul(i + 1, 0x9e3779b1) >> 8) % of;

const stored: Event[] = makeEvents(
  Array.from({ length: 240 }, (_, i) => ({
    time: formatInstant((parseInstant(window.from) ?? 0) + random(i, 86_400) * 1_000_000),
    kind: i % 5 === 0 ? 'web' : 'signin',
    user: ['teo.marrash', 'runa.keel', 'ines.vaal'][random(i * 3, 3)] ?? null,
    host: ['gate-01', 'gate-02'][random(i * 7, 2)] ?? null,
    outcome: random(i * 11, 3) === 0 ? 'failure' : 'success',
    finding: i % 5 === 0 ? (['sql-injection', 'path-escape'][random(i, 2)] ?? null) : null,
    bytes_out: random(i * 13, 5000),
  })),
).map((event, i) => ({ ...event, source: 'harbour-id', id: String(i + 1).padStart(32, '0') }));

beforeAll(async () => {
  server = await testServer();
  await storeEvents(server.database.pool, stored);
  analyst = await new Caller(server).signIn('analyst');
  reader = await new Caller(server).signIn('reader');
});
afterAll(() => server.stop());

const card = (id: string, hunt: string, more: Partial<Card> = {}): Card => ({
  id,
  title: id,
  hunt,
  picture: { kind: 'ranked' },
  ...more,
});
const board = (...cards: Card[]): Board =>
  cards.reduce<Board>((sheet, one) => addCard(sheet, one), { title: 'Gates', cards: [], layout: [] });

interface Answered {
  readonly rows: unknown[][];
  readonly columns: string[];
  readonly problem?: {
    readonly code: string;
    readonly detail?: string;
    readonly place?: { readonly line: number };
  };
  readonly kept?: boolean;
  readonly usual?: { readonly by: string };
  readonly marked: unknown[];
}

/** The answers to a board by card, put together from their pieces. */
async function answer(body: object, caller = reader): Promise<{ cards: Map<string, Answered>; done: any }> {
  const response = await caller.fetch('POST', '/boards/answers', { window, ...body });
  const text = await response.text();
  if (response.status !== 200) throw new Error(text);
  const cards = new Map<string, any>();
  let done: unknown;
  for (const line of text.trim().split('\n')) {
    const piece = JSON.parse(line);
    if (piece.piece === 'done') done = piece;
    if (piece.card === undefined) continue;
    const known = cards.get(piece.card) ?? { rows: [], columns: [], marked: [] };
    cards.set(piece.card, known);
    switch (piece.piece) {
      case 'columns':
        known.columns = piece.columns.map(({ name }: { name: string }) => name);
        known.marked = piece.marked;
        break;
      case 'rows':
        known.rows.push(...piece.rows);
        break;
      case 'picture':
        known.rows = piece.rows;
        break;
      case 'usual':
        known.usual = piece;
        break;
      case 'end':
        known.kept = piece.kept;
        break;
      case 'mistake':
        known.problem = piece.problem;
    }
  }
  return { cards, done };
}

it('are one’s own until they are shared: with everyone, or by name', async () => {
  const { status, json } = await analyst.call('POST', '/boards', { board: board(card('a', 'from signin')) });
  expect([status, json]).toMatchObject([200, { owner: 'analyst', shared: 'me', version: 1 }]);
  const path = `/boards/${json.id}`;
  const seen = async (): Promise<boolean> =>
    (await reader.call('GET', '/boards')).json.boards.some(({ id }: { id: string }) => id === json.id);
  expect([await seen(), (await reader.call('GET', path)).status]).toEqual([false, 404]);
  expect(await analyst.call('PUT', path, { board: json.board, shared: ['nobody.here'] })).toMatchObject({
    status: 422,
    json: { code: 'unknown-person', detail: expect.stringContaining('nobody.here') },
  });
  await analyst.call('PUT', path, { board: json.board, shared: ['reader'] });
  expect([await seen(), (await reader.call('GET', path)).status]).toEqual([true, 200]);
  expect((await reader.call('PUT', path, { board: json.board })).status).toBe(404);
  expect((await reader.call('DELETE', path)).status).toBe(404);
});

it('every change is a version; what changed meanwhile is not written over', async () => {
  const { json } = await analyst.call('POST', '/boards', { board: board(card('a', 'from signin')) });
  const path = `/boards/${json.id}`;
  const next = { ...json.board, title: 'Other' };
  expect((await analyst.call('PUT', path, { board: next, basedOn: 1 })).json.version).toBe(2);
  expect(await analyst.call('PUT', path, { board: next, basedOn: 1 })).toMatchObject({
    status: 409,
    json: { code: 'changed-meanwhile' },
  });
  const { versions } = (await analyst.call('GET', `${path}/versions`)).json;
  expect(versions.map(({ version, board: one }: any) => [version, one.title])).toEqual([
    [2, 'Other'],
    [1, 'Gates'],
  ]);
});

it('what is removed can be taken back', async () => {
  const { json } = await analyst.call('POST', '/boards', { board: board() });
  const path = `/boards/${json.id}`;
  expect((await analyst.call('DELETE', path)).status).toBe(200);
  expect((await analyst.call('GET', path)).status).toBe(404);
  expect((await reader.call('POST', `${path}/restore`)).status).toBe(404);
  expect((await analyst.call('POST', `${path}/restore`)).status).toBe(200);
  expect((await analyst.call('GET', path)).status).toBe(200);
});

it('a Desk is the one that ships until somebody changes it, each their own', async () => {
  expect((await reader.call('GET', '/boards/desk')).json).toMatchObject({ owner: null, version: 0 });
  const own = board(card('mine', 'from signin\ntally count()', { picture: { kind: 'number' } }));
  expect((await reader.call('PUT', '/boards/desk', { board: own })).json).toMatchObject({
    id: 'desk',
    owner: 'reader',
  });
  expect((await reader.call('GET', '/boards/desk')).json.board.title).toBe('Gates');
  expect((await analyst.call('GET', '/boards/desk')).json.owner).toBeNull();
  await reader.call('DELETE', '/boards/desk');
  expect((await reader.call('GET', '/boards/desk')).json.owner).toBeNull();
  expect(await reader.call('PUT', '/boards/sign-ins', { board: own })).toMatchObject({
    status: 403,
    json: { code: 'not-yours' },
  });
});

it('one that cannot be shown is refused with its place', async () => {
  const text = JSON.stringify(board(card('a', 'from signin')), null, 1).replace('ranked', 'rankd');
  const { json } = await reader.call('POST', '/boards/check', { text });
  expect(json).toEqual({
    board: null,
    mistakes: [expect.objectContaining({ line: 9, message: expect.stringContaining('"ranked"') })],
  });
  const twice = { ...board(card('a', 'from all')), cards: [card('a', 'from all'), card('a', 'from all')] };
  expect(await reader.call('POST', '/boards', { board: twice })).toMatchObject({
    status: 400,
    json: { detail: expect.stringContaining('Two cards') },
  });
});

describe('answers', () => {
  it('come card by card; one that fails says where and why, and the others go on', async () => {
    const { cards, done } = await answer({
      board: board(
        card('good', 'from signin\ntally count() as n per outcome'),
        card('bad', "from signin\nwhere outcom = 'failure'"),
        card('saved', '', { hunt: { saved: 999, version: 1 } }),
      ),
    });
    expect(cards.get('good')?.rows.length).toBe(2);
    expect(cards.get('bad')?.problem).toMatchObject({
      code: 'unknown-field',
      place: { line: 2, suggestion: 'outcome' },
    });
    expect(cards.get('saved')?.problem).toMatchObject({ code: 'not-found' });
    expect(done).toMatchObject({ cards: 3, failed: 2 });
  });

  it('whose rows would fill the memory say so, and how to have less', async () => {
    const long = 'x'.repeat(15_000);
    const set = Array.from({ length: 6 }, (_, i) => `set c${i} = concat(message, '${long}')`).join('\n');
    const { cards, done } = await answer({
      board: board(card('wide', `from all\n${set}`), card('small', 'from all\ntally count()')),
    });
    expect(cards.get('wide')?.problem).toMatchObject({
      code: 'result-too-large',
      detail: expect.stringContaining('first 100'),
    });
    expect(done).toMatchObject({ cards: 2, failed: 1 });
  });

  it('inputs go where they are asked for; a carried value that is counted by is marked, others narrow', async () => {
    const { cards } = await answer({
      board: board(
        card('per', "ask gate 'Gate' any\nfrom web\nwhere host = $gate\ntally count() as n per finding"),
        card('all', 'from web\ntally count() as n'),
      ),
      inputs: { gate: 'gate-01' },
      carried: ["finding = 'sql-injection'"],
    });
    const per = new Map(cards.get('per')?.rows.map(([name, n]) => [name, n]));
    const expected = (fits: (event: Event) => boolean): number => stored.filter(fits).length;
    expect(per.get('path-escape')).toBe(expected((e) => e.finding === 'path-escape' && e.host === 'gate-01'));
    expect(cards.get('per')?.marked).toEqual([{ field: 'finding', value: 'sql-injection' }]);
    expect(cards.get('all')?.rows).toEqual([[expected((e) => e.finding === 'sql-injection')]]);
  });

  it('what is usual comes with a card that wants it, and says what it rests on', async () => {
    const { cards } = await answer({
      board: board(
        card('line', 'from signin\ntally count() as n, every 1h', { picture: { kind: 'line', usual: 4 } }),
      ),
      window: { from: '2026-11-14T12:00:00Z', to: window.to },
    });
    expect(cards.get('line')?.usual).toMatchObject({ by: 'none' });
  });

  const hunts = [
    'from signin\ntally count() as n per user, outcome',
    'from all\ntally count() as n, max(bytes_out) as most per host\nsort n desc\nfirst 1',
    'from all\ntally sum(bytes_out) as bytes, every 1h\nfill',
    "from web\nwhere finding like '%escape'\nsort time, id\nshow time, user, finding",
    "ask who 'User' any\nfrom signin\nwhere user = $who\ntally count(distinct host) as hosts per outcome",
    'from all\nwhere bytes_out > nothing',
    'from signin\nsort time desc, id\nonce per user\nshow user, time',
  ];
  it('over HTTP are those of the same board over the same events in memory', async () => {
    const hour = fc.integer({ min: 0, max: 23 });
    await fc.assert(
      fc.asyncProperty(
        fc.uniqueArray(fc.constantFrom(...hunts.keys()), { minLength: 1, maxLength: 4 }),
        hour,
        fc.integer({ min: 1, max: 24 }),
        fc.constantFrom('', 'teo.marrash', 'nobody'),
        fc.constantFrom([], ["outcome = 'failure'"], ["host != 'gate-01'"]),
        async (chosen, start, length, who, carried) => {
          const of = board(...chosen.map((i) => card(`c${i}`, hunts[i] ?? '')));
          const from = (parseInstant(window.from) ?? 0) + start * HOUR;
          const over = { from, to: from + length * HOUR };
          const wire = { from: formatInstant(over.from), to: formatInstant(over.to) };
          const { cards } = await answer({ board: of, window: wire, inputs: { who }, carried });
          const expected = answerInMemory(
            of,
            stored,
            { window: over, zone: 'UTC', carried, inputs: { who } },
            { now: over.to, lists: [], environment: noLists, parse: parseInstant },
          );
          for (const {
            card: { id },
            columns,
            rows,
            error,
          } of expected) {
            const found = cards.get(id);
            if (error !== null) {
              expect(found?.problem?.place?.line).toBe(error.line);
              continue;
            }
            expect(found?.columns).toEqual(columns.map(({ name }) => name));
            expect(found?.rows).toEqual(rows.map((row) => jsonCells(columns, row)));
          }
        },
      ),
      { numRuns: 40, endOnFailure: true },
    );
  });

  it.each(Object.keys(readyMade))('%s, which ships, answers without a mistake', async (id) => {
    const { cards, done } = await answer({ board: id });
    expect([...cards.values()].flatMap(({ problem }) => problem ?? [])).toEqual([]);
    expect(done.failed).toBe(0);
  });

  it('fifty who look at one board cost as much as one; a closed window holds until something comes into it', async () => {
    const ended = { from: window.from, to: '2026-11-14T11:00:00Z' };
    const asked = jest.spyOn(HuntRunner.prototype, 'answer');
    const of = board(
      card('a', 'from signin\ntally count() as n per user'),
      card('b', 'from signin\ntally count() as n per host'),
      card('again', 'from signin\ntally count() as n per user'),
    );
    const all = await Promise.all(
      Array.from({ length: 50 }, (_, i) =>
        answer({ board: of, window: ended }, i % 2 === 0 ? reader : analyst),
      ),
    );
    expect(asked).toHaveBeenCalledTimes(2);
    expect(new Set(all.map(({ cards }) => JSON.stringify(cards.get('a')?.rows))).size).toBe(1);
    expect((await answer({ board: of, window: ended })).cards.get('a')?.kept).toBe(true);
    await send(server, 'harbour-id', signInRecord({ at: '2026-11-14T10:00:00Z', user: 'new.name' }));
    const after = await answer({ board: of, window: ended });
    expect(after.cards.get('a')).toMatchObject({
      kept: false,
      rows: expect.arrayContaining([['new.name', 1]]),
    });
    expect(asked).toHaveBeenCalledTimes(4);
    asked.mockRestore();
  });

  it('a board that is not there, a window or zone that cannot be read, is refused', async () => {
    const refused = async (body: object): Promise<number> =>
      (await reader.call('POST', '/boards/answers', { board: 'desk', window, ...body })).status;
    expect(await refused({ board: 'no-such' })).toBe(404);
    expect(await refused({ zone: 'Moon/Base' })).toBe(400);
    expect(await refused({ window: { from: window.to, to: window.from } })).toBe(400);
    expect(await refused({ board: { title: 'T' } })).toBe(400);
    const wrong = { title: 'T', cards: [{ ...card('a', 'from all'), picture: { kind: 'rankd' } }] };
    expect(await reader.call('POST', '/boards/answers', { board: wrong, window })).toMatchObject({
      status: 400,
      json: { detail: expect.stringContaining('Did you mean "ranked"?') },
    });
    expect((await new Caller(server).call('POST', '/boards/answers', { board: 'desk', window })).status).toBe(
      401,
    );
  });
});

it('the lede says what stands out, from figures, and answers once for all', async () => {
  const { status, json } = await reader.call('POST', '/boards/lede', { window, zone: 'Europe/Lisbon' });
  expect(status).toBe(200);
  expect(json.sentences.length).toBeGreaterThan(0);
  expect(json.sentences[0].words.length).toBeGreaterThan(0);
  expect((await reader.call('POST', '/boards/lede', { window, zone: 'Moon' })).status).toBe(400);
});
