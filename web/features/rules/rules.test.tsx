import { fireEvent, screen, waitFor } from '@testing-library/react';
import type { RuleCheck } from '../../../core/wire/rules.js';
import { rule } from '../../tests/examples.js';
import { findBy, fakeApi, lines, refuse, show, textFile } from '../../tests/page.js';
import { fieldsToText, LogSourcesPage, textToFields } from './LogSourcesPage.js';
import { keysAbove, optionsAt } from './rule-completion.js';
import { RulePage } from './RulePage.js';
import { RulesPage } from './RulesPage.js';
import { changedLines } from './RuleVersionList.js';

const one = rule();
const other = rule({
  id: '8d7f0a52-0000-4000-8000-000000000002',
  title: 'Log cleared',
  level: 'critical',
  type: 'detection',
  onMatch: 'mark',
  state: 'off',
  liveVersion: null,
  alerts: 0,
  recent: 0,
  problem: 'no source gives category log',
});
const fine: RuleCheck = {
  documents: [
    {
      title: one.title,
      type: 'correlation',
      line: 1,
      says: 'five failures of a user within an hour',
      then: 'raises an alert',
    },
  ],
  mistake: null,
  notes: [],
  tests: [{ name: 'five of them', must: 'match', passed: true, line: 9, said: 'it matches' }],
  sources: ['harbour-id'],
  lists: [],
  absent: null,
  replayed: null,
};
const nothing = {
  since: '2026-11-13T08:00:00Z',
  until: '2026-11-14T08:00:00Z',
  events: [],
  more: false,
  milliseconds: 3,
};
const answers = {
  'GET /rules': { rules: [one, other] },
  [`GET /rules/${one.id}`]: one,
  [`GET /rules/${other.id}`]: other,
  'POST /rules/check': fine,
  'POST /rules/preview': nothing,
  'GET /sources': { sources: [] },
};
const list = { at: '/rules?zone=UTC', pattern: '/rules' };
const page = (id: string) => ({ at: `/rules/${id}?zone=UTC`, pattern: '/rules/:id' });

const picture = (matches: number, alerts: number, complete = true) => ({
  done: complete ? 1 : 0.5,
  complete,
  read: 9,
  until: '2026-11-14T08:00:00Z',
  matches,
  alerts,
  subjects: [],
  days: [],
  examples: [],
  milliseconds: 4,
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

describe('one rule', () => {
  it('says what its text means, how its tests go and what it rests on', async () => {
    fakeApi(answers);
    show(<RulePage />, page(one.id));
    expect(await screen.findByText(/five failures of a user/)).toBeTruthy();
    expect(screen.getByText(/Version 2 · on/)).toBeTruthy();
    expect(screen.getByText('five of them: must match, it matches')).toBeTruthy();
    expect(screen.getByText('harbour-id')).toBeTruthy();
  });

  it('a mistake is told with its line, and nothing can be kept or replayed', async () => {
    fakeApi({
      ...answers,
      'POST /rules/check': {
        ...fine,
        documents: [],
        mistake: { line: 7, message: 'there is no modifier "contain"' },
      },
    });
    show(<RulePage />, page(one.id));
    expect(await screen.findByText(/Line 7: there is no modifier/)).toBeTruthy();
    for (const name of [/^Keep as version/, /^Replay ?Ctrl/])
      expect(screen.getByRole<HTMLButtonElement>('button', { name }).disabled).toBe(true);
    expect(screen.getByText('1 mistake')).toBeTruthy();
  });

  it('a version waits for its replay before it is switched on', async () => {
    const waiting = rule({ liveVersion: 1 });
    const api = fakeApi({ ...answers, [`GET /rules/${one.id}`]: waiting });
    const { unmount } = show(<RulePage />, page(one.id));
    await screen.findByText(/version 1 is on, this one waits for its replay/);
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Switch version 2 on' }).disabled).toBe(
      true,
    );
    unmount();
    api.answer('POST /rules/check', {
      ...fine,
      replayed: {
        at: '2026-11-14T08:00:00Z',
        who: 'ines.vaal',
        since: '2026-10-15T00:00:00Z',
        until: '2026-11-14T00:00:00Z',
        complete: true,
        matches: 12,
        alerts: 4,
      },
    });
    api.answer(`PATCH /rules/${one.id}`, rule());
    show(<RulePage />, page(one.id));
    await waitFor(() =>
      expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Switch version 2 on' }).disabled).toBe(
        false,
      ),
    );
    expect(screen.getByText(/12 matches, 4 alerts/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Switch version 2 on' }));
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Switch version 2 on' })).toBeNull());
    expect(api.changes().find(({ method }) => method === 'PATCH')?.body).toEqual({ state: 'on', version: 2 });
  });

  it('a failing test keeps it from being switched on', async () => {
    const tests = [{ name: 'odd', must: 'pass' as const, passed: false, line: 9, said: 'it matches' }];
    fakeApi({
      ...answers,
      [`GET /rules/${one.id}`]: rule({ liveVersion: 1 }),
      'POST /rules/check': { ...fine, tests },
    });
    show(<RulePage />, page(one.id));
    expect(await screen.findByText('Line 9: the test “odd” fails: it matches.')).toBeTruthy();
    expect(screen.getByText('A test fails.')).toBeTruthy();
  });

  it('one that is gone is told', async () => {
    fakeApi({ ...answers, 'GET /rules/gone': refuse(404, 'There is no such rule.') });
    show(<RulePage />, page('gone'));
    expect(await screen.findByText('There is no such rule.')).toBeTruthy();
  });

  it('is kept by Ctrl+S once its text was read, and not if that says it is wrong', async () => {
    const before = 'title: Before\n';
    const api = fakeApi({
      ...answers,
      [`GET /rules/${one.id}/versions`]: {
        versions: [
          { version: 2, author: 'ines.vaal', at: '2026-11-14T08:00:00Z', why: '', text: one.text },
          { version: 1, author: 'demo', at: '2026-11-13T08:00:00Z', why: '', text: before },
        ],
      },
      [`PATCH /rules/${one.id}`]: rule({ text: before, version: 3 }),
    });
    show(<RulePage />, page(one.id));
    fireEvent.click(await screen.findByRole('tab', { name: 'Versions' }));
    const save = (): boolean =>
      fireEvent.keyDown(document.querySelector('.cm-content') ?? document.body, { key: 's', ctrlKey: true });
    // Nothing was changed yet.
    save();
    fireEvent.click(await screen.findByRole('button', { name: 'Take up' }));
    save();
    expect(api.changes().some(({ method }) => method === 'PATCH')).toBe(false);
    await waitFor(() =>
      expect(api.changes().filter(({ method }) => method === 'PATCH')).toMatchObject([
        { body: { text: before, version: 2 } },
      ]),
    );
  });

  it('versions say who and why, and what changed', async () => {
    fakeApi({
      ...answers,
      [`GET /rules/${one.id}/versions`]: {
        versions: [
          {
            version: 2,
            author: 'ines.vaal',
            at: '2026-11-14T08:00:00Z',
            why: 'too loud at night',
            text: one.text,
          },
          { version: 1, author: 'demo', at: '2026-11-13T08:00:00Z', why: '', text: 'title: Before\n' },
        ],
      },
    });
    show(<RulePage />, page(one.id));
    fireEvent.click(await screen.findByRole('tab', { name: 'Versions' }));
    expect(await screen.findByText('too loud at night')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Changes' }));
    expect(screen.getByText('- title: Before')).toBeTruthy();
  });
});

describe('words offered while a rule is written', () => {
  const known = {
    fields: [{ name: 'user', meaning: 'who acted' }],
    logsources: { category: ['authentication'], product: [], service: [] },
    lists: ['watched'],
    rules: ['failed_sign_in'],
    techniques: { t1110: 'Brute force' },
    modifiers: { contains: 'anywhere in it' },
  };
  const lines =
    'title: x\nlogsource:\n  cat\ndetection:\n  s:\n    us\n  t:\n    - a: b\ntags:\n  - att'.split('\n');
  const labels = (above: readonly string[], before: string): string[] | undefined =>
    optionsAt(known, above, before)?.options.map(({ label }) => label);

  it('knows where a line stands', () => {
    expect(keysAbove(lines, 2)).toEqual(['logsource']);
    expect(keysAbove(lines, 5)).toEqual(['detection', 's']);
    expect(keysAbove(lines, 9)).toEqual(['tags']);
    expect(keysAbove(lines, 0)).toEqual([]);
  });

  it.each([
    [['detection', 's'], '    us', ['user']],
    [['detection', 's'], '    user|con', ['contains']],
    [['detection', 's'], "    user|expand: '%wa", ['%watched%']],
    [['logsource'], '  category: au', ['authentication']],
    [['correlation', 'rules'], '    - fai', ['failed_sign_in']],
    [['tags'], '  - att', ['attack.t1110']],
    [['lamp'], '  does: m', ['alert', 'mark', 'count']],
  ])('%j %s', (above, before, expected) => {
    expect(labels(above, before)).toEqual(expected);
  });

  it('values of a field are asked for by its name', () => {
    expect(optionsAt(known, ['detection', 's'], "    user|contains: 'te")).toMatchObject({ field: 'user' });
  });
});

it('changes are shown with a little of what stands beside them', () => {
  const before = ['a', 'b', 'c', 'd', 'e', 'f', 'g'].join('\n');
  expect(changedLines(before, before.replace('g', 'h')).map(({ sign, text }) => `${sign}${text}`)).toEqual([
    ' e',
    ' f',
    '-g',
    '+h',
  ]);
});

describe('log sources', () => {
  const entry = {
    id: 3,
    category: 'process_creation',
    product: null,
    service: null,
    kinds: ['process'],
    sources: [],
    fields: { Image: 'process_path' },
    note: 'programs that start',
    rules: 2,
    given: [],
  };
  const table = {
    entries: [entry],
    recipes: [{ source: 'mast-os', category: null, product: 'windows', service: null }],
  };

  it('fields are lines of text, and a line that is none is told', () => {
    const fields = { 'Some Field': 'original.x', Image: 'process_path' };
    expect(textToFields(fieldsToText(fields))).toEqual(fields);
    expect(textToFields('a = b\n\nnothing')).toBe(3);
  });

  it('a line says what it means, and is changed', async () => {
    const api = fakeApi({ 'GET /log-sources': table, 'PUT /log-sources/3': entry });
    show(<LogSourcesPage />, { at: '/rules/log-sources' });
    expect(await screen.findByText('no source')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'process_creation' }));
    fireEvent.click(screen.getByLabelText('mast-os'));
    fireEvent.click(screen.getByRole('button', { name: 'Keep the line' }));
    await waitFor(() => expect(api.changes()).toHaveLength(1));
    expect(api.changes()[0]?.body).toMatchObject({ sources: ['mast-os'], fields: { Image: 'process_path' } });
  });

  it('readers only read it', async () => {
    fakeApi({ 'GET /log-sources': table });
    show(<LogSourcesPage />, { at: '/rules/log-sources', role: 'reader' });
    await screen.findByText('no source');
    expect(screen.queryByRole('button', { name: 'New line' })).toBeNull();
  });
});
