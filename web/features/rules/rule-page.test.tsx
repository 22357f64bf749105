import { fireEvent, screen, waitFor } from '@testing-library/react';
import { rule } from '../../tests/examples.js';
import { fakeApi, refuse, show } from '../../tests/page.js';
import { answers, fine, one, page } from './rule-fixtures.js';
import { RulePage } from './RulePage.js';
import { changedLines } from './RuleVersionList.js';

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

it('changes are shown with a little of what stands beside them', () => {
  const before = ['a', 'b', 'c', 'd', 'e', 'f', 'g'].join('\n');
  expect(changedLines(before, before.replace('g', 'h')).map(({ sign, text }) => `${sign}${text}`)).toEqual([
    ' e',
    ' f',
    '-g',
    '+h',
  ]);
});
