import { fireEvent, screen, within } from '@testing-library/react';
import { useState, type JSX } from 'react';
import type { SavedHunt } from '../../../core/wire/saved-hunts.js';
import { fakeApi, refuse, removeAsked, show } from '../../tests/page.js';
import { Blanks } from '../../results/Blanks.js';
import { Reference } from './Reference.js';
import { Shelf } from './Shelf.js';
import { asksOf } from '../../../core/wick/compile.js';

const saved = (more: Partial<SavedHunt>): SavedHunt => ({
  id: 1,
  name: 'Spray',
  folder: 'Sign-ins',
  description: 'many accounts',
  tags: ['access'],
  text: 'from signin',
  owner: 'analyst',
  shared: true,
  version: 3,
  changed: '2026-11-14T08:00:00Z',
  ...more,
});

describe('the blanks of a hunt', () => {
  const asks = asksOf(
    "ask who 'User name' choices from user any\nask n 'Tries' default 3\nask way 'How it ended' choices 'success', 'failure'\nfrom signin",
  );

  it('are a form: defaults and choices are shown, and what is missing is said', async () => {
    fakeApi({ 'GET /fields/values': { values: [{ value: 'teo.marrash', count: 3 }] } });
    const ran: unknown[] = [];
    show(<Blanks asks={asks} filled={{ n: '5' }} onRun={(filled) => ran.push(filled)} />);
    expect(screen.getByLabelText<HTMLInputElement>('Tries').value).toBe('5');
    expect(screen.getByLabelText<HTMLInputElement>('User name').placeholder).toBe('any');
    expect(screen.getByText('Still to fill in: How it ended')).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Run with these' }).disabled).toBe(true);
    fireEvent.change(screen.getByLabelText('How it ended'), { target: { value: 'failure' } });
    fireEvent.change(screen.getByLabelText('User name'), { target: { value: 'teo.marrash' } });
    fireEvent.click(screen.getByRole('button', { name: 'Run with these' }));
    expect(ran).toEqual([{ n: '5', way: 'failure', who: 'teo.marrash' }]);
    // What was seen for the field is offered.
    await screen.findByText('teo.marrash', { selector: 'option', exact: false }).catch(() => undefined);
    expect(document.querySelector('datalist option')?.getAttribute('value')).toBe('teo.marrash');
  });
});

describe('saved hunts', () => {
  const others = saved({
    id: 2,
    name: 'Travel',
    folder: '',
    owner: 'someone',
    text: 'from all',
    description: 'places',
  });

  it('stand by folder, are found by a word, and open with a click', async () => {
    fakeApi({ 'GET /saved-hunts': { hunts: [others, saved({})] } });
    const opened: string[] = [];
    show(<Shelf text="from rights" onOpen={(text) => opened.push(text)} />);
    fireEvent.click(await screen.findByRole('button', { name: 'Travel' }));
    expect(opened).toEqual(['from all']);
    expect(screen.getByRole('heading', { name: 'Without a folder' })).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Find a hunt'), { target: { value: 'ACCOUNTS' } });
    expect(screen.queryByRole('button', { name: 'Travel' })).toBeNull();
    fireEvent.change(screen.getByLabelText('Find a hunt'), { target: { value: 'nothing such' } });
    expect(screen.getByText('No hunt fits')).toBeTruthy();
  });

  it('are saved with name, folder and tags; a refusal keeps what was typed', async () => {
    const api = fakeApi({
      'GET /saved-hunts': { hunts: [] },
      'POST /saved-hunts': refuse(409, 'You keep a hunt called "Spray" already.'),
    });
    show(<Shelf text="from rights" onOpen={() => undefined} />);
    expect(await screen.findByText('Nothing is saved yet')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Save this hunt' }));
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Save' }).disabled).toBe(true);
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: ' Spray ' } });
    fireEvent.change(screen.getByLabelText('Tags'), { target: { value: 'access, , spray' } });
    fireEvent.click(screen.getByLabelText('Share with everyone'));
    fireEvent.click(screen.getByRole('button', { name: 'Save' }));
    expect(await screen.findByText(/You keep a hunt called/)).toBeTruthy();
    expect(screen.getByLabelText<HTMLInputElement>('Name').value).toBe(' Spray ');
    expect(api.changes()).toEqual([
      {
        method: 'POST',
        path: '/saved-hunts',
        body: {
          name: 'Spray',
          folder: '',
          description: '',
          tags: ['access', 'spray'],
          shared: true,
          text: 'from rights',
        },
      },
    ]);
  });

  it('of others can be opened, not changed; one’s own are replaced from the version seen', async () => {
    const api = fakeApi({
      'GET /saved-hunts': { hunts: [others, saved({ owner: 'admin' })] },
      'PATCH /saved-hunts/1': saved({ version: 4 }),
      'DELETE /saved-hunts/1': {},
    });
    function Page(): JSX.Element {
      const [text] = useState('from rights');
      return <Shelf text={text} onOpen={() => undefined} />;
    }
    show(<Page />);
    const own = (await screen.findAllByRole('button', { name: 'replace' })).length;
    expect(own).toBeLessThanOrEqual(1);
    fireEvent.click(screen.getByRole('button', { name: 'replace' }));
    await screen.findByRole('button', { name: 'unshare' });
    removeAsked(/^remove/, () =>
      expect(api.changes().filter(({ method }) => method === 'DELETE')).toEqual([]),
    );
    await screen.findByRole('button', { name: 'Travel' });
    expect(api.changes().map(({ method, body }) => [method, body])).toEqual([
      ['PATCH', { text: 'from rights', basedOn: 3 }],
      ['DELETE', undefined],
    ]);
  });
});

it('the language is looked up by a word, and an example tried', () => {
  const tried: string[] = [];
  show(<Reference onTry={(example) => tried.push(example)} onClose={() => undefined} />);
  fireEvent.change(screen.getByLabelText('Look for a word'), { target: { value: 'nobody can travel' } });
  const dialog = screen.getByRole('dialog');
  expect(within(dialog).getAllByRole('heading', { level: 3 })).toHaveLength(1);
  fireEvent.click(within(dialog).getByRole('button', { name: 'Add to the hunt' }));
  expect(tried).toEqual(['travel per user faster than 900 farther than 100']);
  fireEvent.change(screen.getByLabelText('Look for a word'), { target: { value: 'xyzzy' } });
  expect(within(dialog).getByText('Nothing in the language speaks of that.')).toBeTruthy();
});
