import { fireEvent, screen } from '@testing-library/react';
import { WorkStateCard } from '../../boards/work-cards.js';
import { fakeApi, show, whereAmI } from '../../tests/page.js';
import { CoveragePage } from './CoveragePage.js';

const rule = (title: string, more: object = {}) => ({
  id: title.toLowerCase(),
  title,
  state: 'on',
  onMatch: 'alert',
  tests: 2,
  lastReal: null,
  blind: null,
  ...more,
});
const brute = { id: 'T1110', name: 'Brute force', standing: 'seen' };
const coverage = {
  tactics: [
    { tactic: 'reconnaissance', techniques: [{ ...brute, rules: [rule('Guessed at a gate')] }] },
    {
      tactic: 'credential_access',
      techniques: [
        { ...brute, rules: [rule('Many failures')] },
        {
          id: 'T1111',
          name: 'Asked for again',
          standing: 'blind',
          rules: [rule('Refused', { blind: 'no source' })],
        },
      ],
    },
    { tactic: 'impact', techniques: [] },
  ],
};

it('a technique opens the rules of its tactic, by a link that can be shared', async () => {
  fakeApi({ 'GET /coverage': coverage });
  show(<CoveragePage />, { at: '/coverage?last=7d' });
  expect(await screen.findByText('2 techniques, 1 looked for, 1 blind')).toBeTruthy();
  const [, second] = screen.getAllByRole('link', { name: 'T1110 Brute force: looked for, 1 rule' });
  fireEvent.click(second ?? document.body);
  expect(whereAmI()).toBe('/coverage?last=7d&tactic=credential_access&technique=T1110');
  expect(await screen.findByRole('link', { name: 'Many failures' })).toBeTruthy();
  expect(screen.queryByRole('link', { name: 'Guessed at a gate' })).toBeNull();
  fireEvent.click(screen.getByRole('button', { name: 'Close' }));
  expect(whereAmI()).toBe('/coverage?last=7d');
});

it('an address without a tactic opens the first of that technique; what is blind says why', async () => {
  fakeApi({ 'GET /coverage': coverage });
  const { unmount } = show(<CoveragePage />, { at: '/coverage?technique=T1110' });
  expect(await screen.findByRole('link', { name: 'Guessed at a gate' })).toBeTruthy();
  unmount();
  show(<CoveragePage />, { at: '/coverage?technique=T1111' });
  expect(await screen.findByText('Blind: no source')).toBeTruthy();
});

it('rules that name nothing say what to do', async () => {
  fakeApi({ 'GET /coverage': { tactics: [{ tactic: 'impact', techniques: [] }] } });
  show(<CoveragePage />);
  expect(await screen.findByText('No rule names a technique')).toBeTruthy();
});

it('as a card of a board each technique leads there, the Beam with it', async () => {
  fakeApi({ 'GET /coverage': coverage });
  show(<WorkStateCard shows="coverage" title="Techniques" search="?last=7d" />);
  const link = await screen.findByRole('link', { name: /^T1111/ });
  expect(link.getAttribute('href')).toBe('/coverage?last=7d&tactic=credential_access&technique=T1111');
  expect(screen.getByText('no rule looks for any')).toBeTruthy();
});
