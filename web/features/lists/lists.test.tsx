import { fireEvent, screen, waitFor } from '@testing-library/react';
import { list, listPage } from '../../tests/examples.js';
import { fakeApi, refuse, removeAsked, show, textFile } from '../../tests/page.js';
import { ImportRows } from './ImportRows.js';
import { ListsPage } from './ListsPage.js';
import { RowForm } from './RowForm.js';

const type = (label: string, text: string): void => {
  fireEvent.change(screen.getByLabelText(label), { target: { value: text } });
};
const press = (name: string): void => {
  fireEvent.click(screen.getByRole('button', { name }));
};
const rowsPath = '/lists/people/rows';

describe('a row', () => {
  const form = (row: Parameters<typeof RowForm>[0]['row'], onDone = jest.fn()) => (
    <RowForm list={list()} columns={['login', 'floor']} row={row} onDone={onDone} onCancel={jest.fn()} />
  );

  test('is added: empty cells are left out, the key is not', async () => {
    const api = fakeApi({ [`PATCH ${rowsPath}`]: {} });
    const onDone = jest.fn();
    show(form(null, onDone));
    expect(screen.getByLabelText<HTMLInputElement>('login').required).toBe(true);
    type('login', 'teo.marrash');
    type('holds until (empty: always)', ' 2027-01-31 ');
    press('Add it');
    await waitFor(() => expect(onDone).toHaveBeenCalled());
    expect(api.changes()[0]?.body).toEqual({ add: [{ login: 'teo.marrash', expires: '2027-01-31' }] });
  });

  test('takes the place of another; what was no text and was not touched stays what it was', async () => {
    const api = fakeApi({ [`PATCH ${rowsPath}`]: {} });
    show(form({ position: 7, cells: { login: 'teo.marrash', floor: 3 }, expires: null }));
    type('login', 'teo.m');
    press('Save');
    await waitFor(() => expect(api.changes()).toHaveLength(1));
    expect(api.changes()[0]?.body).toEqual({ add: [{ login: 'teo.m', floor: 3 }], remove: [7] });
    type('floor', '4');
    press('Save');
    await waitFor(() => expect(api.changes()).toHaveLength(2));
    expect(api.changes()[1]?.body).toEqual({ add: [{ login: 'teo.m', floor: '4' }], remove: [7] });
  });

  test('is removed, or refused with the reason', async () => {
    const api = fakeApi({ [`PATCH ${rowsPath}`]: refuse(422, 'Row 1 has no "login".') });
    show(form({ position: 7, cells: { login: 'x' }, expires: null }));
    press('Save');
    await screen.findByText('Row 1 has no "login".');
    api.answer(`PATCH ${rowsPath}`, {});
    removeAsked('Remove the row');
    await waitFor(() => expect(api.changes().at(-1)?.body).toEqual({ remove: [7] }));
  });
});

describe('taking rows in', () => {
  const preview = {
    shape: 'csv',
    columns: ['place', 'network'],
    rows: [],
    total: 1200,
    mistakes: ['row 3: "expires" is no time'],
    key: 'network',
    match: 'network',
    notes: ['2 comment lines were left out'],
    headed: true,
    kinds: [],
    mixed: null,
  };

  test('a new list: shown as it will be read, with a key that suits', async () => {
    const api = fakeApi({
      'POST /lists/preview': preview,
      'POST /lists/harbours/import': { rows: 1200, mistakes: [], lists: ['harbours'] },
    });
    const onDone = jest.fn();
    show(<ImportRows label="New list" onDone={onDone} />);
    press('New list');
    type('Name', 'harbours');
    type('Rows: CSV, JSON, one value a line, or a STIX 2.1 bundle', 'network,place\n10.0.0.0/8,inside');
    await screen.findByText(/things could not be taken/);
    screen.getByText('row 3: "expires" is no time');
    screen.getByText('2 comment lines were left out');
    // Whoever knows better says whether the first row is a heading.
    fireEvent.click(screen.getByLabelText(/The first row names the columns/));
    await waitFor(() => expect(api.asked.at(-1)?.body).toMatchObject({ heading: false }));
    await screen.findByLabelText('Key');
    // What suits is proposed, wherever its column stands.
    expect(screen.getByLabelText<HTMLSelectElement>('Key').value).toBe('network');
    expect(screen.getByLabelText<HTMLSelectElement>('Match').value).toBe('network');
    press('Take them in');
    await screen.findByText('Taken in: the list has 1,200 rows.');
    expect(api.changes().at(-1)?.body).toMatchObject({ key: 'network', match: 'network', how: 'replace' });
    press('Done');
    expect(onDone).toHaveBeenCalledWith('harbours');
  });

  test('into a list that is there: its key and match stay, a file will do', async () => {
    const api = fakeApi({
      'POST /lists/preview': { ...preview, mistakes: [] },
      'POST /lists/people/import': refuse(422, 'Row 2 has no "login".'),
    });
    show(<ImportRows label="Import" list={list()} onDone={jest.fn()} />, { role: 'analyst' });
    press('Import');
    fireEvent.change(screen.getByLabelText('Or a file'), {
      target: { files: [textFile('a.csv', 'login\nx')] },
    });
    await screen.findByLabelText('What is there');
    expect(screen.queryByLabelText('Key')).toBeNull();
    screen.getByText('Rows are known by login, and match exact, ignoring case.');
    type('What is there', 'replace');
    press('Take them in');
    await screen.findByText('Row 2 has no "login".');
    expect(api.changes().at(-1)?.body).toEqual({
      text: 'login\nx',
      heading: true,
      key: 'login',
      match: 'exact',
      how: 'replace',
    });
  });

  test('indicators of several kinds become a list each, unless somebody wants one', async () => {
    const api = fakeApi({
      'POST /lists/preview': {
        ...preview,
        mixed: 'value',
        kinds: [
          { kind: 'addresses', match: 'network', rows: 3 },
          { kind: 'domains', match: 'wildcard', rows: 2 },
        ],
      },
      'POST /lists/warned/import': { rows: 5, mistakes: [], lists: ['warned-addresses', 'warned-domains'] },
    });
    show(<ImportRows label="New list" onDone={jest.fn()} />);
    press('New list');
    type('Name', 'warned');
    type('Rows: CSV, JSON, one value a line, or a STIX 2.1 bundle', 'x');
    await screen.findByLabelText('A list for each kind: 3 addresses, 2 domains');
    press('Take them in');
    await screen.findByText(/warned-addresses, warned-domains have 5 rows/);
    expect(api.changes().at(-1)?.body).toMatchObject({ split: true, key: 'value' });
  });

  test('a text that cannot be read says so, and cannot be taken in', async () => {
    fakeApi({ 'POST /lists/preview': refuse(422, 'It holds no rows.') });
    show(<ImportRows label="New list" onDone={jest.fn()} />);
    press('New list');
    type('Rows: CSV, JSON, one value a line, or a STIX 2.1 bundle', '[]');
    await screen.findByText('It holds no rows.');
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Take them in' }).disabled).toBe(true);
  });

  test('is no matter for readers', () => {
    fakeApi({});
    show(<ImportRows label="New list" onDone={jest.fn()} />, { role: 'reader' });
    expect(screen.queryByRole('button')).toBeNull();
  });
});

describe('the page', () => {
  const page = (at: string, role: 'admin' | 'reader' = 'admin') =>
    show(<ListsPage />, { at, pattern: '/lists/:list?', role });
  const answers = {
    'GET /lists': {
      lists: [
        list({ usedBy: [{ what: 'recipe', name: 'cumulus' }], expired: 1 }),
        list({ name: 'networks', description: '', match: 'network', key: 'network' }),
      ],
    },
    'GET /lists/people': listPage(),
    'GET /lists/networks': listPage({ found: 450, rows: [] }),
    'GET /pulls/list/people': { pull: null },
    'GET /pulls/list/networks': { pull: null },
  };

  test('shows rows, searches them, opens one to change it', async () => {
    const api = fakeApi(answers);
    page('/lists/people?last=7d');
    await screen.findByRole('button', { name: 'teo.marrash' });
    expect(document.body.textContent).toContain('used by recipe cumulus');
    expect(document.body.textContent).toContain('1 row has expired');
    type('Search the rows', 'runa');
    await waitFor(() => expect(api.asked.at(-1)?.path).toBe('/lists/people?search=runa&from=0'));
    fireEvent.click(await screen.findByRole('button', { name: 'runa.keel' }));
    expect(screen.getByLabelText<HTMLInputElement>('login').value).toBe('runa.keel');
    press('Cancel');
    expect(screen.getByRole('link', { name: 'Hunt with it' }).getAttribute('href')).toBe(
      '/hunt?last=7d&q=from+all%0Awhere+user+in+list+people',
    );
  });

  test('another list is opened by its name; one that is used is not removed', async () => {
    fakeApi({ ...answers, 'DELETE /lists/networks': refuse(409, '"networks" is used by the recipe "x".') });
    page('/lists');
    fireEvent.click(await screen.findByRole('link', { name: 'networks' }));
    expect(screen.getByTestId('address').textContent).toBe('/lists/networks');
    await screen.findByText('No rows yet');
    removeAsked('Remove the list');
    await screen.findByText('"networks" is used by the recipe "x".');
  });

  test('readers look only', async () => {
    fakeApi(answers);
    page('/lists/people', 'reader');
    await screen.findByText('teo.marrash');
    for (const name of ['Add a row', 'Import', 'Remove the list', 'New list'])
      expect(screen.queryByRole('button', { name })).toBeNull();
  });

  test('no lists, an unknown one, and a failure say what to do', async () => {
    const api = fakeApi({ 'GET /lists': { lists: [] } });
    const first = page('/lists');
    await screen.findByText('No lists yet');
    first.unmount();
    const second = page('/lists/nothing');
    await screen.findByText('There is no list "nothing"');
    second.unmount();
    api.answer('GET /lists', refuse(503, 'The database is starting.'));
    page('/lists');
    await screen.findByText('The database is starting.');
  });
});
