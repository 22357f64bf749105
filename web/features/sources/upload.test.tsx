import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import { source, tried } from '../../tests/examples.js';
import { fakeApi, refuse, show, textFile } from '../../tests/page.js';
import { Upload } from './Upload.js';

/** Stands in for the one request that tells its progress. */
class FakeRequest {
  static made: FakeRequest[] = [];
  readonly upload = new EventTarget();
  private readonly own = new EventTarget();
  method = '';
  address = '';
  status = 0;
  responseText = '';

  constructor() {
    FakeRequest.made.push(this);
  }
  addEventListener(name: string, listener: () => void): void {
    this.own.addEventListener(name, listener);
  }
  open(method: string, address: string): void {
    [this.method, this.address] = [method, address];
  }
  setRequestHeader(): void {}
  send(): void {}
  abort(): void {
    this.own.dispatchEvent(new Event('abort'));
  }
  progress(loaded: number): void {
    act(() => void this.upload.dispatchEvent(Object.assign(new Event('progress'), { loaded })));
  }
  answer(status: number, body: unknown): void {
    [this.status, this.responseText] = [status, JSON.stringify(body)];
    act(() => void this.own.dispatchEvent(new Event('load')));
  }
  break(): void {
    act(() => void this.own.dispatchEvent(new Event('error')));
  }
}
const only = async (): Promise<FakeRequest> => {
  await waitFor(() => expect(FakeRequest.made).toHaveLength(1));
  return FakeRequest.made[0] as FakeRequest;
};

const good = tried({
  records: ['a', 'b', 'c'].map((raw) => ({
    raw,
    became: 'event' as const,
    fields: {},
    event: {},
    unread: [],
    reason: null,
  })),
});
const recipes = { recipes: ['dock-auth', 'cumulus'].map((name) => ({ name, title: `The ${name}` })) };
const answers = {
  'GET /recipes': recipes,
  'GET /recipes/dock-auth': { recipe: { name: 'dock-auth', format: 'syslog' } },
  'GET /recipes/cumulus': { recipe: { name: 'cumulus', format: 'json' } },
};
const choose = (file = textFile('auth.log', 'a\nb\nc\n')): void => {
  fireEvent.change(screen.getByLabelText('File of records'), { target: { files: [file] } });
};

beforeEach(() => {
  FakeRequest.made = [];
  Object.assign(globalThis, { XMLHttpRequest: FakeRequest });
});

test('a file that its source reads is sent at once, with progress, and told of', async () => {
  fakeApi({ ...answers, 'POST /recipes/try': good });
  show(<Upload source={source()} />);
  choose();
  const request = await only();
  expect([request.method, request.address]).toEqual(['POST', '/api/v1/sources/dock-auth/upload']);
  request.progress(3);
  screen.getByText(/auth\.log: 0\.0 MB of 0\.0 MB, .* a second, .* left/);
  request.answer(200, { records: 3, stored: 2, known: 1, setAside: 0, discarded: 4 });
  expect(screen.getByTestId('upload-result').textContent).toBe(
    'auth.log: 3 records, 2 stored, 1 already known, 0 set aside, 4 discarded.',
  );
});

test('one that it does not read is shown first, and sent as it was told to', async () => {
  const seen: unknown[] = [];
  fakeApi({
    ...answers,
    'POST /recipes/try': (body: { recipe: { name: string; format: string } }) => {
      seen.push(body.recipe);
      return body.recipe.name === 'cumulus' ? good : tried();
    },
  });
  show(<Upload source={source()} />);
  choose();
  await screen.findByText(/Of its first 2 records 1 become events, 1 would be set aside/);
  expect(FakeRequest.made).toEqual([]);
  screen.getByText('no syslog line');
  fireEvent.change(screen.getByLabelText('Read by the recipe'), { target: { value: 'cumulus' } });
  fireEvent.change(screen.getByLabelText('Written as'), { target: { value: 'csv' } });
  await screen.findByText(/Of its first 2 records 2 become events/);
  expect(seen.at(-1)).toEqual({ name: 'cumulus', format: 'csv' });
  fireEvent.click(screen.getByRole('button', { name: 'Send it so' }));
  expect((await only()).address).toBe('/api/v1/sources/dock-auth/upload?recipe=cumulus&format=csv');
});

test('it can be left, stopped, and says what went wrong', async () => {
  fakeApi({
    ...answers,
    'POST /recipes/try': tried({ mistake: 'recipe/columns: the recipe must name them.' }),
  });
  show(<Upload source={source()} />);
  choose();
  await screen.findByText('recipe/columns: the recipe must name them.');
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Send it so' }).disabled).toBe(true);
  fireEvent.click(screen.getByRole('button', { name: 'Cancel' }));
  expect(screen.queryByText('Send it so')).toBeNull();

  fakeApi({ ...answers, 'POST /recipes/try': good });
  choose();
  const request = await only();
  fireEvent.click(screen.getByRole('button', { name: 'Stop' }));
  screen.getByText(/stopped\. What had been read by then is stored/);
  FakeRequest.made = [];
  choose();
  (await only()).answer(422, { detail: 'The file is no whole gzip stream.' });
  screen.getByText(/The file is no whole gzip stream/);
  FakeRequest.made = [];
  choose();
  (await only()).break();
  screen.getByText(/The connection broke\. What had arrived is stored/);
  expect(request.method).toBe('POST');
});

test('a file that cannot be looked at is not sent blindly', async () => {
  fakeApi({ ...answers, 'POST /recipes/try': refuse(503, 'Intake is behind.') });
  show(<Upload source={source()} />);
  choose();
  await screen.findByText('Intake is behind.');
  expect(FakeRequest.made).toEqual([]);
});
