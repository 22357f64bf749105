import { MINUTE } from '../core/base/instant.js';
import { settledBy, type OpenAlert } from './settled.js';

const alert = (more: Partial<OpenAlert> = {}): OpenAlert => ({
  title: 'Storage deleted',
  subject: 'ines.vaal',
  last: 1_796_000_000_000_000,
  happenings: [],
  ...more,
});

it('the people of the demo know noise, and what is real', () => {
  expect(settledBy(alert({ happenings: ['sandbox-noise'] }), 7)).toMatchObject({
    verdict: 'harmless',
    reason: expect.stringContaining('sandbox'),
  });
  // Something real among noise is real.
  expect(settledBy(alert({ happenings: ['backup-noise', 'streak'] }), 7)?.verdict).toBe('real');
});

it('the same world gives the same verdicts, in time that follows the alert', () => {
  expect(settledBy(alert(), 7)).toEqual(settledBy(alert(), 7));
  const all = Array.from({ length: 400 }, (_, i) => settledBy(alert({ subject: `person${i}` }), 7));
  const counts = new Map<string, number>();
  for (const one of all) counts.set(one?.verdict ?? 'left', (counts.get(one?.verdict ?? 'left') ?? 0) + 1);
  // Most is harmless, some wrong; a few are left over to the next day, and none is real.
  expect(counts.get('harmless')).toBeGreaterThan(240);
  expect(counts.get('wrong')).toBeGreaterThan(20);
  expect(counts.get('left')).toBeGreaterThan(5);
  expect(counts.has('real')).toBe(false);
  for (const one of all)
    if (one !== null) {
      expect(one.taken).toBeGreaterThan(alert().last + 3 * MINUTE);
      expect(one.at).toBeGreaterThan(one.taken);
    }
});
