import { fireEvent, screen, waitFor } from '@testing-library/react';
import { type JSX, useState } from 'react';
import { listChanges } from '../../core/wire/endpoints/changes.js';
import { More } from '../kit/More.js';
import { fakeApi, refuse, show } from '../tests/page.js';
import { usePages } from './pages.js';

const change = (what: string): object => ({ at: '2026-11-28T10:00:00Z', who: 'x', name: 'people', what });

/** The first press shows what is asked for, further ones ask for something else. */
function List({ enabled: begin = true }: { enabled?: boolean }): JSX.Element {
  const [kind, setKind] = useState<'list' | 'rule'>('list');
  const [enabled, setEnabled] = useState(begin);
  const found = usePages(listChanges, { query: { kind } }, { enabled });
  return (
    <>
      <p data-testid="shown">
        {found.pages.flatMap((page) => page.changes.map(({ what }) => what)).join(' ')}
      </p>
      {found.isError && <p role="alert">{found.error?.message}</p>}
      <button type="button" onClick={() => (enabled ? setKind('rule') : setEnabled(true))}>
        other
      </button>
      <More onMore={found.more} label="Show earlier ones" />
    </>
  );
}
const shown = (): string => screen.getByTestId('shown').textContent;

test('pages follow each other by their cursors, and there is no more at the end', async () => {
  const api = fakeApi({
    'GET /changes?kind=list': { changes: [change('three'), change('two')], next: 'abc' },
    'GET /changes?kind=list&cursor=abc': { changes: [change('one')], next: null },
  });
  show(<List />);
  await waitFor(() => expect(shown()).toBe('three two'));
  fireEvent.click(screen.getByRole('button', { name: 'Show earlier ones' }));
  await waitFor(() => expect(shown()).toBe('three two one'));
  expect(screen.queryByRole('button', { name: 'Show earlier ones' })).toBeNull();
  expect(api.asked.map(({ path }) => path)).toEqual(['/changes?kind=list', '/changes?kind=list&cursor=abc']);
});

test('while something else is asked for, what was there stays', async () => {
  const api = fakeApi({ 'GET /changes?kind=list': { changes: [change('one')], next: null } });
  show(<List />);
  await waitFor(() => expect(shown()).toBe('one'));
  api.answer('GET /changes?kind=rule', new Promise(() => undefined));
  fireEvent.click(screen.getByText('other'));
  expect(shown()).toBe('one');
});

test('nothing is asked before somebody looks; a refusal is told', async () => {
  const api = fakeApi({ 'GET /changes?kind=list': refuse(403, 'What changed is for administrators.') });
  show(<List enabled={false} />);
  expect(api.asked).toEqual([]);
  fireEvent.click(screen.getByText('other'));
  expect((await screen.findByRole('alert')).textContent).toBe('What changed is for administrators.');
});
