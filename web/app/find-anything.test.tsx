import { fireEvent, screen, waitFor } from '@testing-library/react';
import { fakeApi, show, whereAmI } from '../tests/page.js';
import { FindAnything, underBeam } from './FindAnything.js';

const found = [
  { kind: 'user', name: 'teo.marrash', why: 'user, last seen today', address: '/dossier/user/teo.marrash' },
  { kind: 'rule', name: '7', title: 'Sign-in after failures', why: 'rule, on', address: '/rules/7' },
  {
    kind: 'hunt',
    name: 'teo',
    title: 'Hunt for it in the Beam',
    why: 'anywhere in an event',
    address: "/hunt?q=from+all%0Awhere+has+'teo'",
  },
];
const at = { at: '/desk?zone=UTC&last=7d', pattern: '*' };

it('finds while typing, and opens what is chosen by keyboard, under the same Beam', async () => {
  const api = fakeApi({ 'GET /find': { found } });
  let closed = 0;
  show(<FindAnything onClose={() => closed++} />, at);
  const box = await screen.findByRole('combobox', { name: 'What to find' });
  expect(screen.getAllByRole('option').map(({ textContent }) => textContent)).toContain('placeDeskplace');
  fireEvent.change(box, { target: { value: 'teo' } });
  expect(await screen.findByRole('option', { name: /teo\.marrash/, selected: true })).toBeTruthy();
  expect(api.asked.at(-1)?.path).toContain('q=teo');
  fireEvent.keyDown(box, { key: 'ArrowDown' });
  fireEvent.keyDown(box, { key: 'ArrowDown' });
  expect(screen.getByRole('option', { selected: true }).textContent).toContain('Hunt for it in the Beam');
  fireEvent.keyDown(box, { key: 'ArrowDown' });
  expect(screen.getByRole('option', { selected: true }).textContent).toContain('teo.marrash');
  fireEvent.submit(box.closest('form') ?? box);
  await waitFor(() => expect(whereAmI()).toBe('/dossier/user/teo.marrash?last=7d&zone=UTC'));
  expect(closed).toBe(1);
});

it('what is found keeps its own address beside the Beam', () => {
  expect(underBeam('/hunt?q=x', '?zone=UTC')).toBe('/hunt?zone=UTC&q=x');
  expect(underBeam('/rules/7', '')).toBe('/rules/7');
});

it('Enter right after the last letter opens what was typed, not what stood there before', async () => {
  const api = fakeApi({ 'GET /find': { found } });
  show(<FindAnything onClose={() => undefined} />, at);
  const box = await screen.findByRole('combobox', { name: 'What to find' });
  fireEvent.change(box, { target: { value: 'teo' } });
  fireEvent.submit(box.closest('form') ?? box);
  await waitFor(() => expect(whereAmI()).toContain('/dossier/user/teo.marrash'));
  expect(api.asked.filter(({ path }) => path.startsWith('/find')).at(0)?.path).toContain('q=teo');
});
