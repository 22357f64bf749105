import { DateTime } from 'luxon';
import { beamSearch, readBeam, writeBeam } from './beam.js';

const now = DateTime.fromISO('2026-11-14T12:00:00Z', { zone: 'utc' });
const read = (search: string) => readBeam(new URLSearchParams(search), now);

it('is the last 24 hours where an address says nothing, or nonsense', () => {
  const usual = {
    window: { from: '2026-11-13T12:00:00Z', to: '2026-11-14T12:00:00Z' },
    last: '24h',
    live: false,
    carried: [],
  };
  expect(read('zone=UTC')).toEqual({ ...usual, zone: 'UTC' });
  expect(read('last=5y&zone=Mars/Base')).toEqual({ ...usual, zone: 'UTC' });
  expect(read('from=2026-11-14T12:00:00Z&to=2026-11-14T11:00:00Z&zone=UTC')).toMatchObject(usual);
});

it('is exact where both ends are given, and says so over a preset', () => {
  expect(read('last=7d&from=2026-11-14T06:00:00%2B01:00&to=2026-11-14T09:00:00.5Z&zone=Europe/Oslo')).toEqual(
    {
      window: { from: '2026-11-14T05:00:00Z', to: '2026-11-14T09:00:00.500Z' },
      last: null,
      zone: 'Europe/Oslo',
      live: false,
      carried: [],
    },
  );
});

it('changes in the address without touching the rest of it', () => {
  const before = new URLSearchParams('q=from+all&last=7d&zone=UTC');
  expect(writeBeam(before, { from: 'a', to: 'b' }).toString()).toBe('q=from+all&zone=UTC&from=a&to=b');
  expect(writeBeam(writeBeam(before, { from: 'a', to: 'b' }), { last: '1h' }).toString()).toBe(
    'q=from+all&zone=UTC&last=1h',
  );
  expect(writeBeam(before, { zone: 'Europe/Oslo' }).toString()).toBe('q=from+all&last=7d&zone=Europe%2FOslo');
  expect(writeBeam(before, { live: true }).toString()).toBe('q=from+all&last=7d&zone=UTC&live=1');
  expect(read(writeBeam(before, { live: true }).toString()).live).toBe(true);
  expect(writeBeam(writeBeam(before, { live: true }), { live: false }).toString()).toBe(before.toString());
  expect(before.toString()).toBe('q=from+all&last=7d&zone=UTC');
});

it('carries conditions, each once and not too many, and takes them along', () => {
  const carried = ["user = 'teo & co'", "host != 'x'"];
  const written = writeBeam(new URLSearchParams('q=x&last=7d&zone=UTC'), {
    carried: [...carried, ...carried],
  });
  expect(read(written.toString()).carried).toEqual(carried);
  expect(new URLSearchParams(beamSearch(written)).getAll('carry')).toEqual([...carried, ...carried]);
  expect(writeBeam(written, { carried: [] }).has('carry')).toBe(false);
  const many = Array.from({ length: 30 }, (_, i) => `carry=${i}`).join('&');
  expect(read(many).carried).toHaveLength(20);
});

it('goes along to other places alone', () => {
  expect(beamSearch(new URLSearchParams('q=x&last=7d&event=1'))).toBe('?last=7d');
  expect(beamSearch(new URLSearchParams('q=x'))).toBe('');
});
