import { formatInstant, HOUR, parseInstant } from '../../core/base/instant.js';
import { subjectKinds } from '../../core/subjects/kinds.js';
import { makeEvents } from '../../core/wick/tests/events.js';
import { type AlertContext, contentOf } from '../deliver/content.js';
import { storeEvents } from '../tests/events.js';
import { Caller, testServer, type TestServer } from '../tests/server.js';

let server: TestServer;
let analyst: Caller;
let reader: Caller;

const window = { from: '2026-11-14T00:00:00Z', to: '2026-11-15T00:00:00Z' };
const start = parseInstant(window.from) ?? 0;
const at = (day: number, hour: number): string => formatInstant(start + (day * 24 + hour) * HOUR);

/** Nine days of office work, then a day on which much is different. */
const records = [
  ...Array.from({ length: 9 }, (_, i) => i - 9).flatMap((day) => [
    {
      time: at(day, 8),
      user: 'teo.marrash',
      user_id: 'u-1002',
      src_ip: '10.20.4.11',
      country: 'Norway',
      city: 'Stavik',
      lat: 58.6,
      lon: 5.4,
      outcome: 'success',
      operation: 'session.start',
      application: 'booking',
    },
    {
      time: at(day, 9),
      kind: 'query',
      user: 'teo.marrash',
      application: 'booking',
      entity: 'fares',
      records: 200,
      operation: 'query.run',
      outcome: 'success',
    },
    {
      time: at(day, 8),
      user: 'runa.keel',
      src_ip: '10.20.4.12',
      country: 'Norway',
      outcome: 'success',
      operation: 'session.start',
    },
  ]),
  // Renamed on the way: the same id under another name, long before.
  { time: at(-10, 8), user: 'teo.marash', user_id: 'u-1002', outcome: 'success', operation: 'session.start' },
  ...Array.from({ length: 6 }, (_, i) => ({
    time: at(0, i),
    user: 'teo.marrash',
    user_id: 'u-1002',
    src_ip: '198.18.40.77',
    country: 'Canada',
    city: 'Pell Harbour',
    outcome: 'failure',
    operation: 'session.start',
  })),
  {
    time: at(0, 7),
    user: 'teo.marrash',
    user_id: 'u-1002',
    src_ip: '198.18.40.77',
    country: 'Canada',
    city: 'Pell Harbour',
    lat: 47.5,
    lon: -52.7,
    outcome: 'success',
    operation: 'session.start',
  },
  {
    time: at(0, 8),
    kind: 'acting',
    user: 'teo.marrash',
    acting_as: 'ottilie.brandt',
    application: 'booking',
    operation: 'acting.start',
  },
  {
    time: at(0, 8),
    kind: 'query',
    user: 'teo.marrash',
    application: 'booking',
    entity: 'passengers',
    records: 184_000,
    operation: 'report.export',
    outcome: 'success',
  },
  {
    time: at(0, 9),
    kind: 'account',
    user: 'ottilie.brandt',
    target_user: '0ttilie.brandt',
    operation: 'account.create',
    account: 'ticketing-prod',
    outcome: 'success',
  },
  {
    time: at(0, 10),
    kind: 'cloud',
    user: 'ottilie.brandt',
    account: 'ticketing-prod',
    resource: 'fares-archive',
    resource_type: 'database',
    operation: 'database.create',
    outcome: 'success',
    changes: [{ field: 'public', before: 'no', after: 'yes' }],
  },
  // An address that went from one host to another.
  { time: at(-3, 1), kind: 'network', src_host: 'quay-tk-01', src_ip: '10.20.4.201', dst_ip: '10.0.0.9' },
  { time: at(-2, 1), kind: 'network', src_host: 'quay-tk-02', src_ip: '10.20.4.201', dst_ip: '10.0.0.9' },
  { time: at(-1, 1), kind: 'network', src_ip: '10.20.4.201', dst_ip: '10.0.0.9' },
  { time: at(0, 11), user: `${'x'.repeat(300)}`, outcome: 'success', operation: 'session.start' },
  // No pair of values, so no sighting.
  { time: at(0, 11), kind: 'system', host: 'pier-lamp-90' },
];

beforeAll(async () => {
  server = await testServer();
  const stored = makeEvents(records).map((event, i) => ({
    ...event,
    source: 'harbour-id',
    id: String(i + 1).padStart(32, '0'),
  }));
  await storeEvents(server.database.pool, stored);
  analyst = await new Caller(server).signIn('analyst');
  reader = await new Caller(server).signIn('reader');
});
afterAll(() => server.stop());

const dossierOf = async (kind: string, name: string, over = window, caller = reader): Promise<any> => {
  const query = new URLSearchParams({ ...over, zone: 'UTC' });
  return (await caller.call('GET', `/dossiers/${kind}/${encodeURIComponent(name)}?${query.toString()}`)).json;
};
const find = async (q: string, limit = 20): Promise<{ kind: string; name: string; address: string }[]> =>
  (await reader.call('GET', `/find?${new URLSearchParams({ q, limit: String(limit) }).toString()}`)).json
    .found;
const read = (words: (string | { name: string })[]): string =>
  words.map((word) => (typeof word === 'string' ? word : word.name)).join('');

describe('the dossier of a user', () => {
  it('tells the story in a sentence, what is usual, and what is new with who else ever did it', async () => {
    const dossier = await dossierOf('user', ' TEO.Marrash ');
    expect(dossier.subject).toEqual({ kind: 'user', name: 'teo.marrash' });
    expect(read(dossier.sentence)).toBe(
      'First time ever from Canada; 6 failed sign-ins; acted as ottilie.brandt; read 184,000 records at once, usually 200.',
    );
    expect(read(dossier.normal)).toMatch(
      /^Usually .*08:00 – 10:00, from 1 address at Stavik, in booking, reads some 200 records at a time, acts as nobody\.$/,
    );
    const firsts = dossier.firsts.map(({ what, value, before, ever }: any) => [what, value, before, ever]);
    expect(firsts).toEqual(
      expect.arrayContaining([
        ['country', 'Canada', 0, 0],
        ['address', '198.18.40.77', 0, 0],
        ['operation', 'report.export', 0, 0],
      ]),
    );
    expect(firsts.map(([, value]: string[]) => value)).not.toContain('booking');
    expect(dossier.usual).toContainEqual({ lane: 'data', usual: 200, hours: [9] });
    expect(dossier.known).toEqual({ first: at(-10, 8), last: at(0, 8) });
  });

  it('joins names by their id, and covers them in every hunt about it', async () => {
    const dossier = await dossierOf('user', 'teo.marrash');
    expect(dossier.names.map(({ value, by }: any) => [value, by])).toEqual([
      ['u-1002', 'events'],
      ['teo.marash', 'events'],
    ]);
    const hunt = async (name: string): Promise<number> =>
      (
        await reader.call('POST', '/hunts/run', {
          text: `from all\nwhere about user '${name}'\ntally count()`,
          window: { from: at(-30, 0), to: window.to },
        })
      ).json.rows[0][0];
    // Eighteen of the office days, one under the former name, nine of the last day.
    expect(await hunt('teo.marrash')).toBe(28);
    // What came after the last sighting of the id is not theirs by the former name.
    expect(await hunt('teo.marash')).toBe(28 - 2);
    expect(await hunt('runa.keel')).toBe(9);
  });

  it('tells names that look alike, and joins none of them', async () => {
    const dossier = await dossierOf('user', 'ottilie.brandt');
    expect(dossier.looksLike).toEqual([
      { name: '0ttilie.brandt', distance: 1, confused: [{ written: '0', takenFor: 'o' }] },
    ]);
    expect(dossier.names).toEqual([]);
  });

  it('of a twin says who created it', async () => {
    const dossier = await dossierOf('user', '0ttilie.brandt');
    expect(dossier.makers).toMatchObject([{ by: 'ottilie.brandt', operation: 'account.create' }]);
  });

  it('can be joined and split by hand, with a reason; a reader cannot', async () => {
    const path = '/dossiers/user/runa.keel/names';
    const body = { other: 'adm-keel', joined: true, reason: 'her admin account' };
    expect(await reader.call('POST', path, body)).toMatchObject({ status: 403 });
    expect(await analyst.call('POST', path, { ...body, reason: ' ' })).toMatchObject({ status: 400 });
    expect((await analyst.call('POST', path, body)).json.names).toMatchObject([
      { value: 'adm-keel', by: 'person', where: expect.stringContaining('her admin account') },
    ]);
    expect((await dossierOf('user', 'adm-keel')).names).toMatchObject([{ value: 'runa.keel', by: 'person' }]);
    expect(
      (await analyst.call('POST', path, { ...body, joined: false, reason: 'not hers' })).json,
    ).toMatchObject({ names: [], told: [] });
    const gone = `${path}?other=adm-keel`;
    expect(await analyst.call('DELETE', gone)).toMatchObject({ status: 200 });
    expect(await analyst.call('DELETE', gone)).toMatchObject({ status: 404 });
    const { json } = await analyst.call('GET', '/changes?kind=subject');
    expect(json.changes.map(({ what }: { what: string }) => what)).toEqual([
      'took back what was said of adm-keel',
      'split from adm-keel: not hers',
      'joined to adm-keel: her admin account',
    ]);
  });
});

it('ids have names beside them, by a list before what was seen; unknown ones are left out', async () => {
  const ask = async (...ids: string[]): Promise<unknown> =>
    (await reader.call('POST', '/names', { kind: 'user', ids })).json.names;
  expect(await ask('u-1002', 'u-9999')).toEqual({ 'u-1002': 'teo.marrash' });
  const list = {
    match: 'exact',
    key: 'login',
    rows: [{ login: 'Runa.Keel', sid: 'S-1-5-21-77-1117' }],
  };
  expect(await analyst.call('PUT', '/lists/people', list)).toMatchObject({ status: 200 });
  expect(await ask('S-1-5-21-77-1117', 'u-1002')).toEqual({
    'S-1-5-21-77-1117': 'runa.keel',
    'u-1002': 'teo.marrash',
  });
  // Asked by the id, the dossier is that of its owner.
  expect((await dossierOf('user', 'S-1-5-21-77-1117')).subject.name).toBe('runa.keel');
  expect((await find('S-1-5-21-77-1117'))[0]).toMatchObject({ kind: 'user', name: 'runa.keel' });
  const context: AlertContext = {
    alert: 1,
    rule: 'r',
    title: 'Software installed',
    level: 'low',
    subject: 'quay-tk-07',
    subjectFields: { host: 'quay-tk-07' },
    matches: 1,
    first: start,
    last: start,
    event: { user_id: 'S-1-5-21-77-1117' },
    names: { user_id: 'runa.keel' },
  };
  const mail = {
    do: 'mail',
    to: 'desk',
    subject: '{title}',
    text: '{event.user_id} ({name.user_id})',
  } as const;
  expect(contentOf(mail, context, 'https://lamp.example')).toMatchObject({
    text: 'S-1-5-21-77-1117 (runa.keel)',
  });
  expect(contentOf(mail, { ...context, names: {} }, '')).toMatchObject({ text: 'S-1-5-21-77-1117 ()' });
});

it('nobody takes a dossier over by sending its name as an id, and lists that name each other end', async () => {
  await storeEvents(
    server.database.pool,
    makeEvents([
      {
        time: at(0, 12),
        user: 'evil',
        user_id: 'ottilie.brandt',
        outcome: 'success',
        operation: 'session.start',
      },
    ]).map((event) => ({ ...event, source: 'harbour-id', id: 'e'.repeat(32) })),
  );
  expect((await dossierOf('user', 'ottilie.brandt')).subject.name).toBe('ottilie.brandt');
  const crossed = {
    match: 'exact',
    key: 'login',
    rows: [
      { login: 'left.one', id: 'right.one' },
      { login: 'right.one', id: 'left.one' },
    ],
  };
  expect(await analyst.call('PUT', '/lists/crossed', crossed)).toMatchObject({ status: 200 });
  expect((await dossierOf('user', 'left.one')).subject.name).toBe('right.one');
});

it('everyone may change the dossiers of a kind for themselves, and give them back', async () => {
  const path = '/boards/dossier-user';
  const { json: shipped } = await analyst.call('GET', path);
  expect(shipped).toMatchObject({ id: 'dossier-user', owner: null });
  const board = { ...shipped.board, title: 'Mine' };
  expect(await analyst.call('PUT', path, { board })).toMatchObject({ status: 200 });
  expect((await dossierOf('user', 'runa.keel', window, analyst)).board.title).toBe('Mine');
  expect((await dossierOf('user', 'runa.keel')).board.title).toBe(shipped.board.title);
  expect((await dossierOf('host', 'quay-tk-01', window, analyst)).board.title).not.toBe('Mine');
  const listed = (await analyst.call('GET', '/boards')).json.boards.map(({ id }: { id: string }) => id);
  expect(listed.filter((id: string) => id.startsWith('dossier'))).toEqual([]);
  expect(await analyst.call('DELETE', path)).toMatchObject({ status: 200 });
  expect((await dossierOf('user', 'runa.keel', window, analyst)).board.title).toBe(shipped.board.title);
});

it('an address that moved belongs to each host while it was seen there', async () => {
  const first = await dossierOf('host', 'quay-tk-01');
  expect(first.names).toMatchObject([{ value: '10.20.4.201', from: at(-3, 1), to: at(-3, 1) }]);
  expect(first.told).toMatchObject([{ value: 'quay-tk-02', why: 'moved' }]);
});

it('a resource tells its newest state and who made it', async () => {
  const dossier = await dossierOf('resource', 'fares-archive');
  expect(dossier.state).toEqual([{ field: 'public', value: 'yes', time: at(0, 10) }]);
  expect(dossier.makers).toMatchObject([{ by: 'ottilie.brandt', operation: 'database.create' }]);
});

it.each(subjectKinds)('an unknown %s has an empty dossier, and says so', async (kind) => {
  const dossier = await dossierOf(kind, kind === 'address' ? '192.0.2.250' : "x' or 1=1 --");
  expect(dossier).toMatchObject({ known: null, names: [], firsts: [], neighbours: [], alerts: [] });
  expect(read(dossier.sentence)).toBe('Nothing of it in this Beam.');
});

it('a host that no sighting names is known by the events of the window', async () => {
  expect((await dossierOf('host', 'pier-lamp-90')).known).toEqual({ first: at(0, 11), last: at(0, 11) });
  const before = { from: at(-9, 0), to: at(-8, 0) };
  expect((await dossierOf('host', 'pier-lamp-90', before)).known).toBeNull();
});

it('long names, unknown kinds, wrong zones and addresses', async () => {
  expect((await dossierOf('user', 'x'.repeat(300))).known).not.toBeNull();
  const status = async (path: string): Promise<number> => (await reader.call('GET', path)).status;
  const query = new URLSearchParams(window).toString();
  expect(await status(`/dossiers/ship/x?${query}`)).toBe(400);
  expect(await status(`/dossiers/user/${'x'.repeat(1001)}?${query}`)).toBe(400);
  expect(await status(`/dossiers/user/x?${query}&zone=Mars`)).toBe(400);
  expect(await status(`/dossiers/address/x?${query}`)).toBe(422);
});

describe('find anything', () => {
  it('subjects by a part of their name, the exact one first, and how to hunt for it last', async () => {
    const found = await find('teo.marrash');
    expect(found[0]).toMatchObject({
      kind: 'user',
      name: 'teo.marrash',
      address: '/dossier/user/teo.marrash',
    });
    expect(found.at(-1)).toMatchObject({ kind: 'hunt', title: 'Hunt for it in the Beam' });
    expect((await find('MARR')).map(({ name }) => name)).toContain('teo.marrash');
    expect((await find('a', 3)).length).toBe(3);
    expect(await find('teo.marrash', 1)).toMatchObject([{ kind: 'user' }]);
  });

  it('one or two characters where names begin, and within them; a sign of a pattern stands for itself', async () => {
    const hosts = async (q: string): Promise<string[]> =>
      (await find(q)).flatMap(({ kind, name }) => (kind === 'host' ? [name] : []));
    expect(await hosts('qu')).toContain('quay-tk-02');
    expect(await hosts('tk')).toContain('quay-tk-02');
    expect(await hosts('y-tk-0')).toContain('quay-tk-02');
    for (const word of ['q%y', 'quay_tk', '%tk%', '___']) expect(await hosts(word)).toEqual([]);
  });

  it('by an id, and by an address in any form', async () => {
    expect((await find('u-1002'))[0]).toMatchObject({ kind: 'user', name: 'teo.marrash' });
    const found = await find('10.20.4.201');
    expect(found.map(({ kind, name }) => `${kind} ${name}`)).toEqual(
      expect.arrayContaining(['address 10.20.4.201', 'host quay-tk-02']),
    );
    expect((await find('192.0.2.199'))[0]).toMatchObject({ kind: 'address', name: '192.0.2.199' });
    expect((await find('198.18.40.0/24')).at(-1)?.address).toContain('within');
  });

  it('what people keep, only to those who may see it, and places', async () => {
    await analyst.call('POST', '/hunts/saved', { name: 'Night reads', text: 'from query', shared: false });
    expect(
      (await find('night reads')).some(({ kind, name }) => kind === 'hunt' && name !== 'night reads'),
    ).toBe(false);
    expect((await find('sources')).map(({ address }) => address)).toContain('/sources');
  });

  it('what is typed is only ever text', async () => {
    for (const word of ["'; DROP TABLE subjects; --", '%', '_', '\\', '\u202e', 'x'.repeat(1000)])
      expect((await find(word)).at(-1)?.kind).toBe('hunt');
  });
});
