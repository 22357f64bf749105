import { fireEvent, screen } from '@testing-library/react';
import { useState, type JSX } from 'react';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import { fakeApi, show } from '../../tests/page.js';
import { Result } from './Result.js';
import { StepsSheet } from './StepsSheet.js';
import type { HuntRun } from '../../results/use-hunt-run.js';

const run = (more: Partial<HuntRun> = {}): HuntRun => ({
  text: 'from all',
  status: 'done',
  coverage: null,
  columns: [],
  rows: [],
  events: [],
  notes: [],
  how: [],
  steps: [],
  complete: true,
  before: 0,
  milliseconds: 120,
  problem: null,
  ...more,
});
const column = (
  name: string,
  type: HuntColumn['type'] = 'text',
  field: string | null = null,
): HuntColumn => ({
  name,
  type,
  field,
});

describe('the sheet of steps', () => {
  const help = {
    options: { window: { from: 0, to: 86_400_000_000 }, now: 86_400_000_000 },
    catalogue: { lists: [], sources: [] },
  };
  const told: unknown[] = [];
  beforeEach(() => void told.splice(0));

  /** The sheet as the page holds it: what it changes is given back to it. */
  function Sheet({ text: first, run: ran = run() }: { text: string; run?: HuntRun }): JSX.Element {
    const [text, setText] = useState(first);
    return (
      <>
        <StepsSheet
          text={text}
          blanks={{}}
          run={ran}
          notes={['Line 4 (tally) needs all rows.']}
          counts={[]}
          help={help}
          stale={false}
          onChange={setText}
          onRun={(asked, blanks) => told.push(['run', asked, blanks])}
          onOpen={(chosen) => told.push(['open', chosen])}
          onTime={() => told.push('time')}
          onGuide={() => told.push('guide')}
          guide={null}
          path={<p>where it has been</p>}
          snapshots={<p>what is kept</p>}
          onPeek={(line) => told.push(['peek', line])}
          onStop={() => told.push('stop')}
          onPutRight={(problem) => told.push(['put right', problem.place?.suggestion])}
        />
        <pre data-testid="text">{text}</pre>
      </>
    );
  }
  const textNow = (): string => screen.getByTestId('text').textContent ?? '';
  const press = (name: string | RegExp): boolean => fireEvent.click(screen.getByRole('button', { name }));

  beforeEach(() => void fakeApi({ 'GET /saved-hunts': { hunts: [] } }));

  it('adds a step, puts the text in order, and runs it', () => {
    show(<Sheet text={'FROM signin\n'} />);
    press('tally');
    expect(textNow()).toBe('FROM signin\ntally ');
    press('Tidy');
    expect(textNow()).toBe('from signin\ntally');
    press(/^Run/);
    expect(told).toEqual([['run', 'from signin\ntally', undefined]]);
  });

  it('changes the step that the cursor stands on, again and again', () => {
    show(<Sheet text={"from signin\nwhere user = 'a'\nsort user"} />);
    // A step that is added takes the cursor to the end.
    press('show');
    press('up');
    expect(textNow().split('\n')).toEqual(['from signin', "where user = 'a'", 'show ', 'sort user']);
    press('up');
    expect(textNow().split('\n')).toEqual(['from signin', 'show ', "where user = 'a'", 'sort user']);
    press('peek');
    press('off or on');
    expect(textNow().split('\n')[1]).toBe('-- show ');
    press('off or on');
    press('down');
    press('down');
    expect(textNow().split('\n')).toEqual(['from signin', "where user = 'a'", 'sort user', 'show ']);
    expect(told).toEqual([['peek', 2]]);
  });

  it('makes the value at the cursor a blank that the form asks for', () => {
    show(<Sheet text={"from signin\nwhere user = 'teo.marrash'\n"} />);
    expect(screen.queryByRole('button', { name: /^make / })).toBeNull();
    press('show');
    press('up');
    press('down');
    press('up');
    // Moving puts the cursor on the step, whose line holds no value; the one that moved down does.
    press('down');
    press('Time the steps');
    // It stands by itself: beside Run it would break that row in two.
    const besideRun = screen.getByRole('button', { name: /^Run/ }).parentElement;
    expect(besideRun?.textContent).not.toContain('Time the steps');
    press('First hunt');
    expect(told).toEqual(['time', 'guide']);
  });

  it('shows the path and what is kept beside the saved hunts', () => {
    show(<Sheet text="from signin" />);
    fireEvent.click(screen.getByRole('tab', { name: 'Path' }));
    expect(screen.getByText('where it has been')).toBeTruthy();
    fireEvent.click(screen.getByRole('tab', { name: 'Snapshots' }));
    expect(screen.getByText('what is kept')).toBeTruthy();
    expect(screen.queryByLabelText('Find a hunt')).toBeNull();
  });

  it('tells notes, how the hunt was answered, and puts a mistake right', () => {
    const problem = {
      type: '',
      title: 'Refused',
      status: 422,
      code: 'unknown-field',
      detail: 'No field "usr". Did you mean "user"?',
      place: { line: 2, column: 7, end: 10, suggestion: 'user' },
    };
    show(
      <Sheet
        text={'from all\nwhere usr = 1'}
        run={run({ notes: ['a note'], how: ['Answered from counts.'], problem, status: 'running' })}
      />,
    );
    expect(screen.getByText('a note')).toBeTruthy();
    expect(screen.getByText('Line 4 (tally) needs all rows.')).toBeTruthy();
    expect(screen.getByText('Answered from counts.')).toBeTruthy();
    expect(screen.getByText('Line 2 cannot be run')).toBeTruthy();
    press('Write user');
    press('Stop');
    expect(told).toEqual([['put right', 'user'], 'stop']);
  });

  it('a hunt with blanks is a form above its steps', () => {
    show(<Sheet text={"ask n 'How many' default 5\nfrom all\nfirst $n"} />);
    fireEvent.change(screen.getByLabelText('How many'), { target: { value: '7' } });
    press('Run with these');
    expect(told).toEqual([['run', "ask n 'How many' default 5\nfrom all\nfirst $n", { n: '7' }]]);
  });
});

describe('the result', () => {
  const told: unknown[] = [];
  beforeEach(() => void told.splice(0));
  const result = (
    ran: HuntRun,
    more: { view?: string; peek?: number; stale?: boolean } = {},
  ): JSX.Element => (
    <Result
      run={ran}
      reading={null}
      zone="UTC"
      brush={null}
      stale={more.stale ?? false}
      timeline={<div />}
      peek={more.peek === undefined ? null : { line: more.peek, onWhole: () => told.push('whole') }}
      follow={null}
      live={[]}
      held={null}
      curl={<span />}
      view={more.view ?? null}
      onView={(view) => told.push(view)}
      exports={{ address: (format) => `/export.${format}`, request: () => ({ path: '', body: {} }) }}
      onOver={() => undefined}
      onColumn={() => undefined}
      chosen={null}
      onChoose={(names) => told.push(['columns', names])}
      onTally={(names) => told.push(['tally', names])}
      onMore={() => told.push('more')}
      question={{ text: ran.text, window: { from: '', to: '' } }}
      onPick={() => undefined}
      onRead={() => undefined}
      onStop={() => undefined}
      onRunAgain={() => told.push('again')}
      onNarrow={() => undefined}
      onClearBrush={() => undefined}
    />
  );
  const tallied = run({
    columns: [column('user'), column('count', 'number')],
    rows: [
      ['a', 3],
      ['b', 1],
    ],
    events: [null, null],
    steps: [
      { line: 1, keyword: 'from', rows: 4, share: null },
      { line: 2, keyword: 'tally', rows: 2, share: null },
    ],
  });

  it('says how much was found and read, and offers the views that suit it', () => {
    show(result(tallied));
    expect(screen.getByText('2 rows')).toBeTruthy();
    expect(screen.getByText(/4 events read/)).toBeTruthy();
    expect(screen.getAllByRole('tab').map((tab) => tab.textContent)).toEqual([
      'table',
      'bars',
      'ranked',
      'words',
      'sentences',
    ]);
    fireEvent.click(screen.getByRole('tab', { name: 'bars' }));
    expect(told).toEqual(['bars']);
    expect(screen.getByRole('link', { name: 'CSV' }).getAttribute('href')).toBe('/export.spreadsheet');
    expect(screen.getByRole('link', { name: 'JSON lines' }).getAttribute('href')).toBe('/export.jsonl');
  });

  it('draws what is asked for, and says it in words; a view that does not suit it says why', async () => {
    const { unmount } = show(result(tallied, { view: 'bars' }));
    // Charts are fetched when the first is looked at.
    expect(
      await screen.findByText('count by user, 2 rows. The largest is 3 for a.', {}, { timeout: 60_000 }),
    ).toBeTruthy();
    expect(screen.queryByRole('grid')).toBeNull();
    unmount();
    show(result(tallied, { view: 'flow' }));
    expect(await screen.findByText(/It needs two to four things to count by/)).toBeTruthy();
  });

  it('says how much of the window its figures rest on, and stops', () => {
    const coverage = { days: 3, of: 30, since: '2026-11-12T00:00:00Z' };
    const { unmount } = show(result({ ...tallied, status: 'running', coverage }));
    expect(screen.getByText(/^3 of 30 days read/)).toBeTruthy();
    unmount();
    show(result({ ...tallied, status: 'stopped', coverage }));
    expect(screen.getByText(/It ended after 3 of 30 days/)).toBeTruthy();
  });

  it('asks for more rows where there are more', () => {
    show(result({ ...tallied, complete: false }));
    fireEvent.click(screen.getByRole('button', { name: 'Up to 100,000' }));
    expect(told).toEqual(['more']);
  });

  it('says that it is a peek, or of another text, and leads back', () => {
    show(result(tallied, { peek: 2, stale: true }));
    fireEvent.click(screen.getByRole('button', { name: 'Back to the whole hunt' }));
    fireEvent.click(screen.getByRole('button', { name: 'Run again' }));
    expect(told).toEqual(['whole', 'again']);
  });

  it('names the step after which nothing was left', () => {
    show(
      result(
        run({
          steps: [
            { line: 1, keyword: 'from', rows: 12, share: null },
            { line: 3, keyword: 'where', rows: 0, share: null },
          ],
        }),
      ),
    );
    expect(screen.getByText('No rows at step 2')).toBeTruthy();
    expect(screen.getByText(/Step 1 still had 12. Loosen the condition on line 3/)).toBeTruthy();
    expect(screen.queryByRole('link', { name: 'CSV' })).toBeNull();
  });
});
