import { addressOfQuestion, FIRST_HUNT, readHuntAddress, writeHuntAddress } from './hunt-address.js';

it('reads back what it writes, and leaves the Beam alone', () => {
  const hunt = {
    text: "ask who 'User'\nfrom signin\nwhere user = $who",
    blanks: { who: 'teo & co', days: '7d' },
    peek: 2,
    readId: 'a'.repeat(32),
    view: 'heat',
    columns: ['time', 'my, own'],
    split: 'dst_port',
    before: true,
    at: 12,
    guide: 3,
  };
  const written = writeHuntAddress(new URLSearchParams('last=7d&zone=UTC'), hunt);
  expect(readHuntAddress(new URLSearchParams(written.toString()))).toEqual(hunt);
  expect(written.get('last')).toBe('7d');
  const cleared = writeHuntAddress(written, { blanks: { who: '' }, peek: null, readId: null, view: null });
  expect(readHuntAddress(cleared)).toEqual({ ...hunt, blanks: {}, peek: null, readId: null, view: null });
  const bare = writeHuntAddress(written, { split: null, before: false, at: null, guide: null });
  expect([...bare.keys()].filter((name) => ['split', 'before', 'at', 'guide'].includes(name))).toEqual([]);
});

it('begins with a first hunt, and takes no nonsense for a step', () => {
  expect(readHuntAddress(new URLSearchParams('peek=x'))).toEqual({
    text: FIRST_HUNT,
    blanks: {},
    peek: null,
    readId: null,
    view: null,
    columns: null,
    split: null,
    before: false,
    at: null,
    guide: null,
  });
  expect(readHuntAddress(new URLSearchParams('columns=x')).columns).toEqual([]);
});

it('asks a question again under the Beam it was asked under', () => {
  const window = { from: '2026-11-13T00:00:00Z', to: '2026-11-14T00:00:00Z' };
  const known = new URLSearchParams('last=7d&zone=UTC&q=from+all&peek=2&carry=x');
  const asked = {
    text: 'from signin',
    window,
    parameters: { who: 'teo' },
    carried: ["user = 'a'", "host = 'b'"],
  };
  const exact = addressOfQuestion(known, asked);
  expect(Object.fromEntries(exact)).toEqual({
    zone: 'UTC',
    ...window,
    q: 'from signin',
    'p.who': 'teo',
    carry: "host = 'b'",
  });
  expect(exact.getAll('carry')).toEqual(asked.carried);
  expect(addressOfQuestion(known, { ...asked, last: '24h' }).get('last')).toBe('24h');
});
