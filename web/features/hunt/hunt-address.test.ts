import { FIRST_HUNT, readHuntAddress, writeHuntAddress } from './hunt-address.js';

it('reads back what it writes, and leaves the Beam alone', () => {
  const hunt = {
    text: "ask who 'User'\nfrom signin\nwhere user = $who",
    blanks: { who: 'teo & co', days: '7d' },
    peek: 2,
    readId: 'a'.repeat(32),
    view: 'heat',
  };
  const written = writeHuntAddress(new URLSearchParams('last=7d&zone=UTC'), hunt);
  expect(readHuntAddress(new URLSearchParams(written.toString()))).toEqual(hunt);
  expect(written.get('last')).toBe('7d');
  const cleared = writeHuntAddress(written, { blanks: { who: '' }, peek: null, readId: null, view: null });
  expect(readHuntAddress(cleared)).toEqual({ ...hunt, blanks: {}, peek: null, readId: null, view: null });
});

it('begins with a first hunt, and takes no nonsense for a step', () => {
  expect(readHuntAddress(new URLSearchParams('peek=x'))).toEqual({
    text: FIRST_HUNT,
    blanks: {},
    peek: null,
    readId: null,
    view: null,
  });
});
