import { fireEvent, screen, waitFor } from '@testing-library/react';
import { source, tried } from '../../tests/examples.js';
import { fakeApi, refuse, show } from '../../tests/page.js';
import { CoverageTable } from './CoverageTable.js';
import { NewSource } from './NewSource.js';
import { SetUp } from './SetUp.js';
import { SourceSettings } from './SourceSettings.js';
import { SourcesPage } from './SourcesPage.js';
import { TriedRecords } from './TriedRecords.js';

const ways = { bytes: 16_777_216, records: 50_000, syslog: { host: '127.0.0.1', port: 5514, tlsPort: null } };
const recipes = {
  recipes: [
    { name: 'dock-auth', title: 'Dock' },
    { name: 'cumulus', title: 'Cumulus' },
  ],
};
const type = (label: string, text: string): void => {
  fireEvent.change(screen.getByLabelText(label), { target: { value: text } });
};

describe('the checklist', () => {
  const items = (): (string | null)[] =>
    screen.getAllByText(/^(done|to do):$/).map((mark) => mark.parentElement?.textContent ?? null);

  test('shows what is done and what is to do', async () => {
    fakeApi({ 'GET /intake': ways });
    const { unmount } = show(<SetUp source={source()} />);
    await screen.findByText(/at most 50,000 records and 16 MiB a request/);
    expect(items()).toEqual([
      'done: a recipe reads it: dock-auth',
      'done: a key opens it: …wxyz (a lost key is rotated under Settings)',
      'done: the first record came in; 12,345 events stored',
      'done: nothing had to be set aside',
    ]);
    unmount();
    show(<SetUp source={source({ state: 'waiting', setAside: 4 })} />);
    expect(items().slice(2)).toEqual([
      'to do: no record has come in yet',
      'to do: 4 records could not be read; see Set aside',
    ]);
  });

  test('gives commands for the ways that there are', async () => {
    const api = fakeApi({ 'GET /intake': ways });
    const { container, unmount } = show(<SetUp source={source({ syslog: { programs: ['sshd'] } })} />);
    await screen.findByText('Over syslog');
    const commands = (): string[] =>
      [...container.querySelectorAll('pre')].map((one) => one.textContent ?? '');
    expect(commands()[0]).toContain('/api/v1/intake/dock-auth');
    expect(commands()[1]).toContain('--server 127.0.0.1 --port 5514 --tag sshd');
    unmount();
    api.answer('GET /intake', { ...ways, syslog: { host: '127.0.0.1', port: null, tlsPort: null } });
    show(<SetUp source={source()} />);
    await screen.findByText(/at most 50,000/);
    expect(screen.queryByText('Over syslog')).toBeNull();
  });
});

describe('a new source', () => {
  test('is added, its key shown once, and opened', async () => {
    const api = fakeApi({ 'GET /recipes': recipes, 'POST /sources': { key: 'ul_secret' } });
    const onMade = jest.fn();
    show(<NewSource onMade={onMade} />);
    fireEvent.click(screen.getByRole('button', { name: 'Add a source' }));
    await screen.findByRole('option', { name: 'Cumulus' });
    type('Name', 'tide-gate');
    type('Title', 'Tide gate');
    type('Recipe', 'cumulus');
    fireEvent.click(screen.getByRole('button', { name: 'Add it' }));
    await screen.findByText('ul_secret');
    expect(api.changes()[0]?.body).toEqual({ name: 'tide-gate', title: 'Tide gate', recipe: 'cumulus' });
    fireEvent.click(screen.getByRole('button', { name: 'Close' }));
    expect(onMade).toHaveBeenCalledWith('tide-gate');
  });

  test('from a pasted sample: the recipe that fits is chosen, and the sample is sent', async () => {
    const api = fakeApi({
      'GET /recipes': recipes,
      'POST /recipes/try': tried({ fitting: [{ name: 'cumulus', title: 'Cumulus', fit: 0.9 }] }),
      'POST /sources': { key: 'ul_secret' },
      'POST /sources/quay/upload': { records: 1, stored: 1, known: 0, setAside: 0, discarded: 0 },
    });
    show(<NewSource onMade={jest.fn()} />);
    fireEvent.click(screen.getByRole('button', { name: 'Add a source' }));
    await screen.findByLabelText('Name');
    // What was typed before the sample stays.
    type('Name', 'quay');
    fireEvent.change(await screen.findByLabelText(/A sample of its records/), {
      target: { value: '{"a":1}' },
    });
    await screen.findByText(/Cumulus reads them/);
    type('Title', 'Quay');
    fireEvent.click(screen.getByRole('button', { name: 'Add it' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Send the sample as its first records' }));
    await screen.findByText('1 event stored');
    expect(api.changes().map(({ path }) => path)).toEqual([
      '/recipes/try',
      '/sources',
      '/sources/quay/upload',
    ]);
    expect(api.changes()[1]?.body).toMatchObject({ recipe: 'cumulus' });
  });

  test('one that no recipe reads gets one of its own', async () => {
    const api = fakeApi({
      'GET /recipes': recipes,
      'POST /recipes/try': tried(),
      'POST /recipes': { version: 1 },
      'POST /sources': { key: 'ul_secret' },
    });
    show(<NewSource onMade={jest.fn()} />);
    fireEvent.click(screen.getByRole('button', { name: 'Add a source' }));
    fireEvent.change(await screen.findByLabelText(/A sample of its records/), { target: { value: 'x' } });
    await screen.findByText(/No recipe that ships reads them/);
    type('Name', 'cumulus');
    type('Title', 'Quay');
    fireEvent.click(screen.getByRole('button', { name: 'Add it' }));
    await screen.findByText('ul_secret');
    expect(api.changes().slice(1)).toMatchObject([
      // Another source reads by the recipe of that name: it is left alone.
      { path: '/recipes', body: { name: 'cumulus-2', title: 'Quay' } },
      { path: '/sources', body: { name: 'cumulus', recipe: 'cumulus-2' } },
    ]);
  });

  test('is refused with the reason, and what was typed stays', async () => {
    fakeApi({ 'GET /recipes': recipes, 'POST /sources': refuse(409, 'There is a source "x" already.') });
    show(<NewSource onMade={jest.fn()} />);
    fireEvent.click(screen.getByRole('button', { name: 'Add a source' }));
    await screen.findByLabelText('Name');
    type('Name', 'x');
    type('Title', 'X');
    fireEvent.click(screen.getByRole('button', { name: 'Add it' }));
    await screen.findByText('There is a source "x" already.');
    expect(screen.getByLabelText<HTMLInputElement>('Name').value).toBe('x');
  });

  test('is no matter for others', () => {
    fakeApi({});
    show(<NewSource onMade={jest.fn()} />, { role: 'analyst' });
    expect(screen.queryByRole('button')).toBeNull();
  });
});

describe('settings', () => {
  test('are saved whole: empty days keep for ever, an empty claim is none', async () => {
    const api = fakeApi({ 'GET /recipes': recipes, 'PATCH /sources/dock-auth': {} });
    show(<SourceSettings source={source({ retentionDays: 90, syslog: { hosts: ['gate-*'] } })} />);
    await screen.findByRole('option', { name: 'Cumulus' });
    type('Days its events are kept (empty: for ever)', '');
    type('Host names, * for any run of characters', ' gate-*, hold-fs-01 ');
    type('Programs', 'sshd sudo');
    fireEvent.click(screen.getByRole('button', { name: 'Save' }));
    await screen.findByText('Saved');
    type('Host names, * for any run of characters', '');
    type('Programs', ' ');
    fireEvent.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(api.changes()).toHaveLength(2));
    expect(api.changes().map(({ body }) => body)).toMatchObject([
      {
        retentionDays: null,
        recipe: 'dock-auth',
        syslog: { hosts: ['gate-*', 'hold-fs-01'], programs: ['sshd', 'sudo'] },
      },
      { syslog: null },
    ]);
  });

  test('a new key is shown in the moment it is made', async () => {
    const api = fakeApi({ 'GET /recipes': recipes, 'POST /sources/dock-auth/key': { key: 'ul_fresh' } });
    show(<SourceSettings source={source()} />);
    fireEvent.click(screen.getByRole('button', { name: 'Rotate' }));
    await screen.findByText('ul_fresh');
    fireEvent.click(screen.getByRole('button', { name: 'I have kept it' }));
    await waitFor(() => expect(screen.queryByText('ul_fresh')).toBeNull());
    expect(api.changes()).toHaveLength(1);
  });

  test('can be seen but not changed by others', async () => {
    fakeApi({ 'GET /recipes': recipes });
    const { container } = show(<SourceSettings source={source()} />, { role: 'analyst' });
    await screen.findByText('Only an admin may change this.');
    expect(container.querySelector('fieldset')?.disabled).toBe(true);
    expect(screen.queryByRole('button', { name: 'Rotate' })).toBeNull();
  });
});

describe('what a recipe makes of a sample', () => {
  test('records are walked one by one, each with what it becomes', () => {
    show(<TriedRecords tried={tried()} sample="first" />);
    screen.getByText(/3 records: 1 events, 1 set aside, 1 left out · it looks like syslog/);
    screen.getByText('teo.marrash');
    fireEvent.click(screen.getByRole('button', { name: '2 set aside' }));
    screen.getByText('no syslog line');
    fireEvent.click(screen.getByRole('button', { name: '3 left out' }));
    screen.getByText('a heading');
  });

  test.each([
    ['a recipe with a mistake', tried({ mistake: 'recipe/map: no.' }), 'x', 'The recipe has a mistake'],
    ['no sample', tried({ records: [] }), ' ', 'Paste some as the source writes them.'],
    ['no records in it', tried({ records: [] }), 'x', 'Nothing in the sample is a record.'],
    ['nothing yet', null, 'x', 'Trying the recipe'],
  ])('%s says so', (_name, result, sample, told) => {
    show(<TriedRecords tried={result} sample={sample} />);
    screen.getByText(told);
  });

  test('fields are mapped, looked at or left, and a column is offered', () => {
    const onMap = jest.fn();
    const unread = tried().records.map((record) => ({ ...record, unread: ['src_ip'] }));
    const { unmount } = show(<CoverageTable tried={tried({ records: unread })} onMap={onMap} />);
    expect(document.body.textContent).toContain(
      '3 fields: 1 mapped, 1 only looked at, 1 left under original',
    );
    expect(document.body.textContent).toContain('not readable: src_ip (3)');
    fireEvent.click(screen.getByRole('button', { name: 'map to process_id' }));
    expect(onMap).toHaveBeenCalledWith('process_id', 'pid');
    unmount();
    show(<CoverageTable tried={tried()} onMap={null} />);
    expect(screen.queryByRole('button')).toBeNull();
    screen.getByText('left');
  });
});

describe('all sources', () => {
  const page = (at: string) => show(<SourcesPage />, { at, pattern: '/sources/:source?', role: 'reader' });

  test('stand with their state, lag and what waits, and one is opened by its row or its name', async () => {
    fakeApi({
      'GET /sources': {
        sources: [
          source({
            state: 'quiet',
            silentSeconds: 18_000,
            gaps: [{ from: '2026-11-13T01:00:00Z', to: '2026-11-13T06:00:00Z' }],
          }),
          source({ name: 'cumulus', title: 'Cloud', setAside: 1200, lag: null, lastEvent: null }),
        ],
      },
      'GET /sources/dock-auth/rereads': { rereads: [] },
      'GET /sources/cumulus/rereads': { rereads: [] },
    });
    page('/sources?last=7d');
    await screen.findByText('silent for 5 h, usually one every 40 s');
    screen.getByText('13 Nov 01:00 to 13 Nov 06:00');
    screen.getByText('1,200');
    fireEvent.click(screen.getByRole('link', { name: 'Cloud' }));
    expect(screen.getByTestId('address').textContent).toBe('/sources/cumulus?last=7d');
    expect(screen.getByRole('link', { name: 'Hunt its events' }).getAttribute('href')).toBe(
      '/hunt?last=7d&q=from+source+cumulus',
    );
    fireEvent.click(screen.getByText('dock-auth', { selector: '.queue-subject' }));
    expect(screen.getByTestId('address').textContent).toBe('/sources/dock-auth?last=7d');
  });

  test('none, an unknown one, and a failure say what to do', async () => {
    const api = fakeApi({ 'GET /sources': { sources: [] } });
    const first = page('/sources');
    await screen.findByText('No sources yet');
    first.unmount();
    const second = page('/sources/nobody');
    await screen.findByText('There is no source "nobody"');
    second.unmount();
    api.answer('GET /sources', refuse(503, 'The database is starting.'));
    page('/sources');
    await screen.findByText('The database is starting.');
  });
});
