import { fireEvent, screen } from '@testing-library/react';
import { rule } from '../../tests/examples.js';
import { fakeApi, findBy, lines, refuse, show, textFile } from '../../tests/page.js';
import { answers, list, one, other, picture } from './rule-fixtures.js';
import { RulesPage } from './RulesPage.js';

describe('the list', () => {
  it('tells what a match does, what runs, and what cannot', async () => {
    fakeApi(answers);
    show(<RulesPage />, list);
    expect(await screen.findByText('raises an alert')).toBeTruthy();
    expect(screen.getByText('only marks')).toBeTruthy();
    expect(screen.getByText(/2 in all, 1 on, 1 that cannot run/)).toBeTruthy();
    expect(screen.getByTitle('no source gives category log')).toBeTruthy();
    expect(screen.getAllByText('T1110.001')).toBeTruthy();
  });

  it('is sorted, found in and narrowed, and the address keeps it', async () => {
    fakeApi(answers);
    show(<RulesPage />, list);
    await screen.findByText('Log cleared');
    const titles = (): (string | null)[] =>
      [...document.querySelectorAll('tbody .queue-title')].map((cell) => cell.textContent);
    expect(titles()).toEqual(['Log cleared', one.title]);
    fireEvent.click(screen.getByRole('button', { name: 'matches, 7 d' }));
    expect(titles()).toEqual([one.title, 'Log cleared']);
    findBy('Find a rule', 'CLEARED');
    expect(titles()).toEqual(['Log cleared']);
    fireEvent.click(screen.getByRole('tab', { name: 'on' }));
    expect(screen.getByText('No rule fits')).toBeTruthy();
    expect(screen.getByTestId('address').textContent).toBe(
      '/rules?zone=UTC&by=-matches&find=CLEARED&only=on',
    );
  });

  it('readers read: nothing is offered that changes', async () => {
    fakeApi(answers);
    show(<RulesPage />, { ...list, role: 'reader' });
    await screen.findByText('Log cleared');
    for (const name of ['New rule', 'Import']) expect(screen.queryByRole('button', { name })).toBeNull();
  });

  it('without rules it says what to do', async () => {
    fakeApi({ ...answers, 'GET /rules': { rules: [] } });
    show(<RulesPage />, list);
    expect(await screen.findByText('No rules yet')).toBeTruthy();
  });

  it('files that are taken in tell what was refused and where', async () => {
    const api = fakeApi({
      ...answers,
      'POST /rules/import': {
        loaded: 812,
        added: 810,
        changed: 2,
        unchanged: 0,
        refused: [{ file: 'a/b.yml', rule: 'B', line: 7, reason: 'there is no modifier "contain"' }],
      },
    });
    show(<RulesPage />, list);
    fireEvent.click(await screen.findByRole('button', { name: 'Import' }));
    fireEvent.change(screen.getByLabelText('Rule files'), {
      target: { files: [textFile('b.yml', 'title: B')] },
    });
    expect(await screen.findByText('812 rules loaded, 1 refused:')).toBeTruthy();
    expect(screen.getByText('a/b.yml, line 7')).toBeTruthy();
    expect(api.changes()[0]?.body).toEqual({ files: [{ name: 'b.yml', text: 'title: B' }] });
  });
});

describe('many rules at once', () => {
  const draft = rule({
    id: '8d7f0a52-0000-4000-8000-000000000003',
    title: 'New from a pack',
    state: 'draft',
    version: 1,
    liveVersion: null,
    text: 'title: New from a pack\n',
  });
  const three = {
    ...answers,
    'GET /rules': { rules: [one, other, draft] },
    [`GET /rules/${draft.id}`]: draft,
  };
  const stateOf = (title: string): string =>
    screen.getByRole('link', { name: title }).closest('tr')?.cells[4]?.textContent ?? '';

  it('says of those that are not on what a replay of them said', async () => {
    const replayed = {
      at: '2026-11-14T08:00:00Z',
      who: 'joris.penhale',
      since: '2026-10-15T08:00:00Z',
      until: '2026-11-14T08:00:00Z',
      complete: true,
      matches: 41,
      alerts: 1,
    };
    fakeApi({ ...three, 'GET /rules': { rules: [one, { ...other, replayed }, draft] } });
    show(<RulesPage />, list);
    await screen.findByText('New from a pack');
    expect([one, other, draft].map(({ title }) => stateOf(title))).toEqual([
      'on version 2',
      'off version 2 · 1 alert in 30 d',
      'draft version 1 · never replayed',
    ]);
  });

  it('are replayed one after the other; one that fails is told, and the next goes on', async () => {
    const api = fakeApi({
      ...three,
      'POST /rules/replay': (body: { id: string }) =>
        body.id === other.id
          ? refuse(422, 'Line 3: no such field.')
          : lines(picture(2, 1, false), picture(12, 4)),
    });
    show(<RulesPage />, list);
    fireEvent.click(await screen.findByLabelText('Choose all that are shown'));
    expect(screen.getByText('3 rules chosen')).toBeTruthy();
    fireEvent.change(screen.getByLabelText('How far back'), { target: { value: '30' } });
    fireEvent.click(screen.getByRole('button', { name: 'Replay' }));
    expect(await screen.findByText(/Replaying is over: 2 done, 1 could not be/)).toBeTruthy();
    expect([one, other, draft].map(({ title }) => stateOf(title))).toEqual([
      'on 12 matches, 4 alerts',
      'off Line 3: no such field.',
      'draft 12 matches, 4 alerts',
    ]);
    const [asked] = api.changes();
    const { from, to } = (asked?.body as { window: { from: string; to: string } }).window;
    expect(Date.parse(to) - Date.parse(from)).toBe(30 * 86_400_000);
  });

  it('are switched on where they are not, by the version that is seen; why one is not is told', async () => {
    const api = fakeApi({
      ...three,
      [`PATCH /rules/${draft.id}`]: draft,
      [`PATCH /rules/${other.id}`]: refuse(409, 'This version was never replayed.'),
    });
    show(<RulesPage />, list);
    fireEvent.click(await screen.findByLabelText('Choose all that are shown'));
    fireEvent.click(screen.getByRole('button', { name: 'Switch 2 rules on' }));
    expect(await screen.findByText(/1 done, 1 could not be/)).toBeTruthy();
    expect(stateOf(other.title)).toContain('never replayed');
    expect(api.changes().map(({ path, body }) => [path, body])).toEqual([
      [`/rules/${other.id}`, { state: 'on', version: 2 }],
      [`/rules/${draft.id}`, { state: 'on', version: 1 }],
    ]);
  });

  it('are stopped: what was done stays, what waited is left', async () => {
    let running: (() => void) | undefined;
    fakeApi({
      ...three,
      'POST /rules/replay': () =>
        new Promise((done) => (running = () => done(refuse(503, 'It was stopped.')))),
    });
    show(<RulesPage />, list);
    fireEvent.click(await screen.findByLabelText('Choose all that are shown'));
    fireEvent.click(screen.getByRole('button', { name: 'Replay' }));
    await screen.findByText('at it, 0%');
    expect(screen.getAllByText('waits its turn')).toHaveLength(2);
    fireEvent.click(screen.getByRole('button', { name: 'Stop' }));
    running?.();
    expect(await screen.findByText(/Replaying is over: 0 done/)).toBeTruthy();
    expect(screen.queryByText('waits its turn')).toBeNull();
  });

  it('are chosen by X; what a search leaves out is not; readers choose nothing', async () => {
    fakeApi(three);
    const { unmount } = show(<RulesPage />, list);
    await screen.findByText('New from a pack');
    fireEvent.keyDown(document.body, { key: 'x' });
    expect(screen.getByText('1 rule chosen')).toBeTruthy();
    findBy('Find a rule', 'pack');
    expect(screen.queryByText(/chosen/)).toBeNull();
    unmount();
    show(<RulesPage />, { ...list, role: 'reader' });
    await screen.findByText('New from a pack');
    expect(screen.queryByLabelText('Choose all that are shown')).toBeNull();
  });
});
