import { fireEvent, screen, waitFor } from '@testing-library/react';
import { source, tried } from '../../tests/examples.js';
import { fakeApi, lines, refuse, show, textFile } from '../../tests/page.js';
import { WorkbenchPage } from './WorkbenchPage.js';

const recipe = {
  name: 'dock-auth',
  title: 'Dock sign-ins',
  version: 3,
  format: 'syslog',
  time: { from: 'time' },
};
const answers = (more: Record<string, unknown> = {}): Record<string, unknown> => ({
  'GET /sources': { sources: [source()] },
  'GET /recipes/dock-auth': {
    recipe,
    versions: [
      { version: 3, created: '2026-11-14T08:00:00Z' },
      { version: 2, created: '2026-11-13T08:00:00Z' },
    ],
    usedBy: ['dock-auth', 'gate-04'],
  },
  'GET /sources/dock-auth/sample': { sample: 'Nov 14 08:03:12 gate-04 sshd[1]: Accepted\n' },
  'GET /sources/dock-auth/rereads': { rereads: [] },
  'POST /recipes/try': tried(),
  ...more,
});
const page = (
  role: 'admin' | 'analyst' | 'reader' = 'admin',
  more: Record<string, unknown> = {},
): ReturnType<typeof fakeApi> => {
  const api = fakeApi(answers(more));
  show(<WorkbenchPage />, {
    role,
    at: '/sources/dock-auth/recipe?zone=UTC',
    pattern: '/sources/:source/recipe',
  });
  return api;
};
const tries = (api: ReturnType<typeof fakeApi>): unknown[] =>
  api.asked.filter(({ path }) => path === '/recipes/try').map(({ body }) => body);
/** Puts a whole recipe in the place of what is there. */
const takeIn = async (text: string): Promise<void> => {
  fireEvent.change(await screen.findByLabelText('File of a recipe'), {
    target: { files: [textFile('recipe.json', text)] },
  });
};

test('the recipe and records of its source are there, and tried at once', async () => {
  const api = page();
  expect(await screen.findByRole('heading', { name: 'Recipe of Dock sign-ins' })).toBeTruthy();
  expect(screen.getByText(/read by dock-auth, gate-04/)).toBeTruthy();
  expect(screen.getByLabelText<HTMLTextAreaElement>('Sample records').value).toContain('sshd[1]: Accepted');
  await waitFor(() => expect(tries(api)).toHaveLength(1));
  expect(tries(api)[0]).toMatchObject({ recipe, sample: expect.stringContaining('Accepted') as unknown });
});

test('other records are tried as they are pasted', async () => {
  const api = page();
  await waitFor(() => expect(tries(api)).toHaveLength(1));
  fireEvent.change(screen.getByLabelText('Sample records'), { target: { value: 'another record\n' } });
  await waitFor(() => expect(tries(api)).toHaveLength(2));
  expect(tries(api)[1]).toMatchObject({ sample: 'another record\n' });
});

test('one from a file is kept as the next version, under the name of this one', async () => {
  const api = page('admin', { 'POST /recipes': { version: 4 } });
  await takeIn(JSON.stringify({ ...recipe, name: 'elsewhere', constants: { kind: 'signin' } }));
  expect(await screen.findByText(/draft of version 4/)).toBeTruthy();
  await waitFor(() => expect(tries(api).at(-1)).toMatchObject({ recipe: { constants: { kind: 'signin' } } }));
  const keep = screen.getByRole<HTMLButtonElement>('button', { name: /Keep as version 4/ });
  await waitFor(() => expect(keep.disabled).toBe(false));
  fireEvent.click(keep);
  await screen.findByText('Kept; new records are read by it.');
  expect(api.changes().find(({ path }) => path === '/recipes')?.body).toMatchObject({
    name: 'dock-auth',
    constants: { kind: 'signin' },
  });
});

test('a recipe that is none is told, and cannot be kept', async () => {
  page('admin', { 'POST /recipes/try': tried({ mistake: '"map" must be an object.' }) });
  await takeIn(JSON.stringify({ ...recipe, map: 3 }));
  expect((await screen.findByRole('alert')).textContent).toContain('"map" must be an object.');
  expect(screen.getByRole<HTMLButtonElement>('button', { name: /Keep as version/ }).disabled).toBe(true);
});

test('a text that is no JSON says in which line, and is not sent', async () => {
  const api = page();
  await waitFor(() => expect(tries(api)).toHaveLength(1));
  await takeIn('{\n  "name": }');
  expect((await screen.findByRole('alert')).textContent).toContain('Line 2');
  expect(tries(api)).toHaveLength(1);
});

test('what was changed can be taken back', async () => {
  page();
  await takeIn(JSON.stringify({ ...recipe, constants: { kind: 'signin' } }));
  fireEvent.click(await screen.findByRole('button', { name: 'Take back' }));
  expect(screen.queryByText(/draft of version/)).toBeNull();
});

test('a server that cannot try says why', async () => {
  page('admin', { 'POST /recipes/try': refuse(503, 'It took too long.') });
  expect((await screen.findByRole('alert')).textContent).toContain('It took too long.');
});

test('analysts try and keep nothing; readers only read', async () => {
  const api = page('analyst');
  await waitFor(() => expect(tries(api)).toHaveLength(1));
  expect(screen.queryByRole('button', { name: /Keep as version/ })).toBeNull();
});

test('a source that is not there is told', async () => {
  page('admin', { 'GET /sources': { sources: [] } });
  expect(await screen.findByText(/dock-auth/)).toBeTruthy();
  expect(screen.queryByLabelText('Sample records')).toBeNull();
});

test('an older version is compared with what is written', async () => {
  page('admin', {
    'GET /recipes/dock-auth?version=2': {
      recipe: { ...recipe, version: 2 },
      versions: [],
      usedBy: [],
    },
    'POST /hunts/run': lines(),
  });
  await screen.findByRole('heading', { name: 'Recipe of Dock sign-ins' });
  fireEvent.change(screen.getByLabelText('compare with'), { target: { value: '2' } });
  expect(await screen.findByText(/2 lines differ from version 2/)).toBeTruthy();
});
