import { formatInstant, HOUR, MINUTE, parseInstant } from '../../core/base/instant.js';
import type { Board, BoardSchedule, Card } from '../../core/boards/board.js';
import { makeEvents } from '../../core/wick/tests/events.js';
import { deliver, type DeliverParts } from '../deliver/deliver.js';
import { HuntPlanner } from '../hunts/planner.js';
import { HuntRunner } from '../hunts/runner.js';
import { makeSeal } from '../seal.js';
import { Identities } from '../subjects/identities.js';
import { onePool } from '../db/pools.js';
import { storeEvents } from '../tests/events.js';
import { type Mailbox, openMailbox } from '../tests/mailbox.js';
import { Caller, SECRET, testServer, type TestServer } from '../tests/server.js';
import { BoardAnswers } from './answers.js';
import { makeDueSheets, MAX_SHEETS, type SheetParts } from './make-sheets.js';
import { Boards, MAX_SCHEDULED } from './service.js';

let server: TestServer;
let analyst: Caller;
let reader: Caller;
let admin: Caller;
let parts: SheetParts;
const running = new AbortController().signal;
const at = (text: string): number => parseInstant(text) ?? NaN;

beforeEach(async () => {
  server = await testServer();
  server.clock.now = at('2026-11-14T12:00:00Z');
  const { pool } = server.database;
  const now = (): number => server.clock.now;
  await storeEvents(
    pool,
    makeEvents([
      { time: '2026-11-13T09:00:00Z', kind: 'signin', user: 'teo.marrash', outcome: 'failure' },
      { time: '2026-11-14T09:00:00Z', kind: 'signin', user: 'runa.keel', outcome: 'failure' },
      { time: '2026-11-14T16:00:00Z', kind: 'signin', user: '<b>ines</b>', outcome: 'failure' },
    ]).map((event, i) => ({ ...event, source: 'harbour-id', id: String(i + 1).padStart(32, '0') })),
  );
  const planner = new HuntPlanner(pool, now, new Identities(pool, now));
  const runner = new HuntRunner(onePool(pool));
  parts = { pool, answers: new BoardAnswers(pool, planner, runner, new Boards(pool), now), now };
  analyst = await new Caller(server).signIn('analyst');
  reader = await new Caller(server).signIn('reader');
  admin = await new Caller(server).signIn('admin');
});
afterEach(() => server.stop());

const who: Card = {
  id: 'who',
  title: 'Who is refused',
  hunt: "from signin\nwhere outcome = 'failure'\ntally count() as times per user",
  picture: { kind: 'rows' },
};
const board = (schedule: Partial<BoardSchedule> | null, ...cards: Card[]): Board => ({
  title: 'Refusals',
  cards: cards.length === 0 ? [who] : cards,
  layout: [],
  ...(schedule !== null && { schedule: { cron: '0 7 * * *', zone: 'UTC', last: '24h', ...schedule } }),
});
async function add(document: Board, caller = analyst, shared: unknown = 'me'): Promise<string> {
  const { status, json } = await caller.call('POST', '/boards', { board: document, shared });
  if (status !== 200) throw new Error(JSON.stringify(json));
  return json.id;
}
const sheetsOf = async (id: string, caller = analyst): Promise<any> =>
  (await caller.call('GET', `/boards/${id}/sheets`)).json;
const goTo = (text: string): Promise<number> => {
  server.clock.now = at(text);
  return makeDueSheets(parts, running);
};

it('at its time a board is answered over its window, and what it showed is kept as a page', async () => {
  const id = await add(board({ cron: '0 17 * * *', zone: 'Europe/Lisbon' }), analyst, 'everyone');
  expect(await sheetsOf(id)).toEqual({ next: '2026-11-14T17:00:00Z', sheets: [] });
  expect(await goTo('2026-11-14T16:59:59Z')).toBe(0);
  expect(await goTo('2026-11-14T17:00:03Z')).toBe(1);
  expect(await makeDueSheets(parts, running)).toBe(0);
  const { next, sheets } = await sheetsOf(id, reader);
  expect(next).toBe('2026-11-15T17:00:00Z');
  expect(sheets).toMatchObject([
    {
      due: '2026-11-14T17:00:00Z',
      made: '2026-11-14T17:00:03Z',
      version: 1,
      cards: 1,
      failed: 0,
      page: true,
      mailed: [],
    },
  ]);
  const response = await reader.fetch('GET', `/boards/${id}/sheets/${sheets[0].id}`);
  expect(response.headers.get('content-type')).toContain('text/html');
  expect(response.headers.get('content-security-policy')).toContain("default-src 'none'");
  expect(response.headers.get('content-security-policy')).toContain('sandbox');
  const page = await response.text();
  expect(page).toContain('Who is refused');
  expect(page).toContain('runa.keel');
  expect(page).toContain('&lt;b&gt;ines&lt;/b&gt;');
  expect(page).not.toContain('<b>ines');
  // Of the day before the window.
  expect(page).not.toContain('teo.marrash');
  expect(page).toContain('2026-11-13 17:00 to 2026-11-14 17:00 · Europe/Lisbon');
});

it('a sheet stays what it was: neither later events nor another form of the board change it', async () => {
  const id = await add(board({}));
  await goTo('2026-11-15T07:00:00Z');
  const [{ id: sheet }] = (await sheetsOf(id)).sheets;
  const before = await (await analyst.fetch('GET', `/boards/${id}/sheets/${sheet}`)).text();
  await server.database.pool.query('DELETE FROM events');
  await analyst.call('PUT', `/boards/${id}`, { board: { ...board({ last: '1h' }), title: 'Another' } });
  expect(await (await analyst.fetch('GET', `/boards/${id}/sheets/${sheet}`)).text()).toBe(before);
});

it('by the clock of its zone, over both changes of the clock', async () => {
  server.clock.now = at('2026-03-28T12:00:00Z');
  const id = await add(board({ cron: '30 1 * * *', zone: 'Europe/Lisbon' }));
  for (const [now, made] of [
    ['2026-03-29T00:59:00Z', 0],
    ['2026-03-29T01:30:00Z', 1],
    ['2026-03-30T00:29:00Z', 0],
    ['2026-03-30T00:30:00Z', 1],
    ['2026-10-25T00:30:00Z', 1],
    ['2026-10-25T01:30:00Z', 0],
    ['2026-10-26T01:30:00Z', 1],
  ] as const)
    expect([now, await goTo(now)]).toEqual([now, made]);
  expect((await sheetsOf(id)).sheets.map(({ due }: { due: string }) => due)).toEqual([
    '2026-10-26T01:30:00Z',
    '2026-10-25T00:30:00Z',
    '2026-03-30T00:30:00Z',
    '2026-03-29T01:30:00Z',
  ]);
});

it('what was missed while nobody ran is made once, for the last time that was missed', async () => {
  const id = await add(board({}));
  expect(await goTo('2026-11-20T09:00:00Z')).toBe(1);
  expect(await sheetsOf(id)).toMatchObject({
    next: '2026-11-21T07:00:00Z',
    sheets: [{ due: '2026-11-20T07:00:00Z' }],
  });
});

it('two servers make each sheet once; one that is left in the middle is taken up, and given up in the end', async () => {
  const ids = await Promise.all(Array.from({ length: 6 }, () => add(board({}))));
  server.clock.now = at('2026-11-15T07:00:00Z');
  const made = await Promise.all([makeDueSheets(parts, running), makeDueSheets(parts, running)]);
  expect(made[0] + made[1]).toBe(6);
  for (const id of ids) expect((await sheetsOf(id)).sheets).toHaveLength(1);

  const stopped = new AbortController();
  server.clock.now = at('2026-11-16T07:00:00Z');
  const answers = {
    answer: () => {
      stopped.abort();
      throw new Error('killed');
    },
  } as unknown as BoardAnswers;
  await makeDueSheets({ ...parts, answers }, stopped.signal);
  const left = async (): Promise<number> =>
    (await server.database.pool.query('SELECT FROM board_sheets WHERE made IS NULL')).rowCount ?? 0;
  expect(await left()).toBe(1);
  // The others are made at once; that one when whoever began it is surely gone.
  expect(await makeDueSheets(parts, running)).toBe(5);
  expect(await left()).toBe(1);
  server.clock.now += 6 * MINUTE;
  expect(await makeDueSheets(parts, running)).toBe(1);
  expect(await left()).toBe(0);

  server.clock.now = at('2026-11-17T07:00:00Z');
  for (let i = 0; i < 4; i++) {
    const again = new AbortController();
    const killed = {
      answer: () => {
        again.abort();
        throw new Error('killed');
      },
    } as never;
    await makeDueSheets({ ...parts, answers: killed }, again.signal);
    server.clock.now += 6 * MINUTE;
  }
  await makeDueSheets(parts, running);
  const { rows } = await server.database.pool.query(
    'SELECT problem FROM board_sheets WHERE problem IS NOT NULL',
  );
  expect(rows).toEqual([{ problem: expect.stringContaining('It was begun, and could not be made') }]);
});

it('cards that fail or are not counted in time say so, and the rest is kept', async () => {
  const broken: Card = { ...who, id: 'broken', title: 'Broken', hunt: 'from signin\nwhere usr = 1' };
  const work: Card = { id: 'work', title: 'Alerts', shows: 'alerts' };
  const id = await add(board({}, who, broken, work));
  await goTo('2026-11-15T07:00:00Z');
  const [sheet] = (await sheetsOf(id)).sheets;
  expect(sheet).toMatchObject({ cards: 3, failed: 1 });
  const page = await (await analyst.fetch('GET', `/boards/${id}/sheets/${sheet.id}`)).text();
  expect(page).toContain('Line 2, column 7');
  expect(page).toContain('open the board');
  expect(page).toContain('runa.keel');

  const never = {
    // eslint-disable-next-line require-yield
    async *answer(_request: unknown, _person: string, signal: AbortSignal) {
      await new Promise((over) => signal.addEventListener('abort', over));
    },
  } as unknown as BoardAnswers;
  server.clock.now = at('2026-11-16T07:00:00Z');
  await makeDueSheets({ ...parts, answers: never, milliseconds: 1 }, running);
  const [late] = (await sheetsOf(id)).sheets;
  expect(late).toMatchObject({ failed: 2, page: true });
  expect(await (await analyst.fetch('GET', `/boards/${id}/sheets/${late.id}`)).text()).toContain(
    'not counted in time',
  );
});

it('inputs go along, and blanks without them are told', async () => {
  const asks: Card = {
    ...who,
    hunt: "ask name 'Who'\nfrom signin\nwhere user = $name\ntally count() as times per user",
  };
  const filled = await add(board({ inputs: { name: 'runa.keel' } }, asks));
  const empty = await add(board({}, asks));
  await goTo('2026-11-15T07:00:00Z');
  expect((await sheetsOf(filled)).sheets).toMatchObject([{ failed: 0 }]);
  expect((await sheetsOf(empty)).sheets).toMatchObject([{ failed: 1, page: true }]);
});

it('the newest sheets are kept', async () => {
  const id = await add(board({ cron: '0 * * * *' }));
  for (let hour = 0; hour < MAX_SHEETS + 3; hour++)
    await goTo(formatInstant(at('2026-11-15T00:00:00Z') + hour * HOUR));
  const { sheets } = await sheetsOf(id);
  expect(sheets).toHaveLength(MAX_SHEETS);
  expect(sheets[0].due).toBe(formatInstant(at('2026-11-15T00:00:00Z') + (MAX_SHEETS + 2) * HOUR));
});

it('who has many boards holds nobody up, and has no more than so many on a schedule', async () => {
  for (let i = 0; i < MAX_SCHEDULED; i++) await add(board({}));
  const { status, json } = await analyst.call('POST', '/boards', { board: board({}) });
  expect([status, json.code]).toEqual([429, 'too-many']);
  // Without a schedule there is room.
  expect((await analyst.call('POST', '/boards', { board: board(null) })).status).toBe(200);
  const other = await add(board({ cron: '5 7 * * *' }), reader);
  server.clock.now = at('2026-11-15T07:10:00Z');
  const order: string[] = [];
  const answers = {
    async *answer(_request: unknown, person: string) {
      order.push(await Promise.resolve(person));
      yield { piece: 'done', cards: 0, failed: 0, milliseconds: 0 };
    },
  } as unknown as BoardAnswers;
  await makeDueSheets({ ...parts, answers }, running);
  expect(order).toHaveLength(MAX_SCHEDULED + 1);
  // Due last of all, and yet the second: nobody waits for all boards of somebody else.
  expect(order.indexOf('reader')).toBeLessThanOrEqual(1);
  expect((await sheetsOf(other, reader)).sheets).toHaveLength(1);
});

it('only who sees a board sees its sheets; removed boards and people who are gone make none', async () => {
  const id = await add(board({}));
  await goTo('2026-11-15T07:00:00Z');
  const [{ id: sheet }] = (await sheetsOf(id)).sheets;
  expect((await reader.call('GET', `/boards/${id}/sheets`)).status).toBe(404);
  expect((await reader.call('GET', `/boards/${id}/sheets/${sheet}`)).status).toBe(404);
  const mine = await add(board(null), reader);
  // A sheet of another board is not found by way of one's own.
  expect((await reader.call('GET', `/boards/${mine}/sheets/${sheet}`)).status).toBe(404);
  expect((await reader.call('GET', '/boards/sign-ins/sheets')).json).toEqual({ next: null, sheets: [] });
  await analyst.call('DELETE', `/boards/${id}`);
  expect(await goTo('2026-11-16T07:00:00Z')).toBe(0);
  await analyst.call('POST', `/boards/${id}/restore`);
  await admin.call('PATCH', '/people/analyst', { disabled: true });
  await server.database.pool.query(`UPDATE users SET disabled = true WHERE name = 'analyst'`);
  expect(await makeDueSheets(parts, running)).toBe(0);
  await server.database.pool.query(`UPDATE users SET disabled = false WHERE name = 'analyst'`);
  expect(await makeDueSheets(parts, running)).toBe(1);
});

it('off its schedule nothing is made, and a Desk has none', async () => {
  const id = await add(board({}));
  await analyst.call('PUT', `/boards/${id}`, { board: board(null) });
  expect((await sheetsOf(id)).next).toBeNull();
  expect(await goTo('2026-11-15T08:00:00Z')).toBe(0);
  const desk = await analyst.call('PUT', '/boards/desk', { board: { ...board({}), for: 'desk' } });
  expect([desk.status, desk.json.detail]).toEqual([400, expect.stringContaining('stands by itself')]);
});

describe('by mail', () => {
  let mailbox: Mailbox;
  beforeEach(async () => {
    mailbox = await openMailbox();
    const put = await admin.call('PUT', '/destinations/desk', {
      kind: 'mail',
      address: mailbox.address,
      settings: { to: 'desk@skerry-line.example' },
      allowPrivate: true,
    });
    expect(put.status).toBe(200);
  });
  afterEach(() => mailbox.stop());

  const deliverAll = async (): Promise<void> => {
    const out: DeliverParts = {
      pool: server.database.pool,
      seal: makeSeal(SECRET),
      base: () => 'http://workbench.example',
      programs: null,
    };
    const { rows } = await server.database.pool.query<{ id: number }>(
      'SELECT id::int FROM deliveries ORDER BY id',
    );
    for (const { id } of rows) await deliver(out, id);
  };

  it('a sheet goes out as a page, once, and the log says so', async () => {
    const id = await add(board({ mail: ['desk'] }));
    await goTo('2026-11-15T07:00:00Z');
    expect((await sheetsOf(id)).sheets).toMatchObject([
      { mailed: [{ to: 'desk', state: 'waiting', said: null }] },
    ]);
    await deliverAll();
    await deliverAll();
    expect(mailbox.mails).toHaveLength(1);
    expect(mailbox.mails[0]).toContain('Subject: Refusals, 2026-11-15 07:00 UTC');
    expect(mailbox.mails[0]).toContain(`http://workbench.example/dashboards/${id}?sheets=1`);
    expect(mailbox.mails[0]).toContain('filename=sheet-2026-11-15-0700.html');
    expect((await sheetsOf(id)).sheets).toMatchObject([{ mailed: [{ state: 'sent' }] }]);
    expect((await analyst.call('GET', '/deliveries')).json.deliveries).toMatchObject([
      {
        alert: null,
        board: Number(id),
        title: 'Refusals',
        subject: '',
        state: 'sent',
        does: 'a sheet mailed to desk',
      },
    ]);
  });

  it('readers send nothing, mailboxes must be there, and who became a reader sends no more', async () => {
    const refused = await reader.call('POST', '/boards', { board: board({ mail: ['desk'] }) });
    expect([refused.status, refused.json.code]).toEqual([403, 'role']);
    const missing = await analyst.call('POST', '/boards', { board: board({ mail: ['attic'] }) });
    expect([missing.status, missing.json.detail]).toEqual([400, expect.stringContaining('"attic"')]);
    const id = await add(board({ mail: ['desk'] }));
    // A mailbox that went meanwhile does not keep its board from being changed.
    await admin.call('DELETE', '/destinations/desk');
    expect(
      (await analyst.call('PUT', `/boards/${id}`, { board: board({ mail: ['desk'], last: '1h' }) })).status,
    ).toBe(200);
    await server.database.pool.query(`UPDATE users SET role = 'reader' WHERE name = 'analyst'`);
    await goTo('2026-11-15T07:00:00Z');
    expect((await sheetsOf(id)).sheets).toMatchObject([{ page: true, mailed: [] }]);
  });

  it('a mailbox that is gone gives the mail up, which is told', async () => {
    const id = await add(board({ mail: ['desk'] }));
    await goTo('2026-11-15T07:00:00Z');
    await admin.call('DELETE', '/destinations/desk');
    await deliverAll();
    expect((await sheetsOf(id)).sheets).toMatchObject([
      { mailed: [{ state: 'dead', said: expect.stringContaining('no destination "desk"') }] },
    ]);
  });
});
