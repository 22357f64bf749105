import fc from 'fast-check';
import { lowerAscii } from '../base/code-points.js';
import { SEARCH_SEPARATOR, searchExtra } from './search-extra.js';
import type { Event } from './event.js';

const event = (more: Partial<Event>): Event => ({
  id: '1',
  time: 1,
  received: 1,
  source: 's',
  kind: 'signin',
  original: {},
  raw: '',
  ...more,
});

it.each([
  ['what stands in the record is left out, in whatever case', { user: 'teo', raw: 'login TEO' }, []],
  [
    'named values and escaped texts are kept',
    { reason: 'wrong password', raw: '{"why":"bad"}', original: { why: 'bad', path: 'a"b' } },
    ['wrong password', 'a"b'],
  ],
  [
    'numbers as they are spelled, truth as a word',
    { bytes_out: 1000, raw: '1e3', original: { on: true } },
    ['1000', 'true'],
  ],
  [
    'nested values and lists, each once',
    { raw: '', tags: ['a', 'b'], original: { x: [{ y: 'b' }], z: null } },
    ['a', 'b'],
  ],
  ['what is searched by itself is left out', { raw: '', country: 'Norway', outcome: 'failure' }, []],
  ['nothing', { raw: '' }, []],
] as const)('%s', (_what, more, texts) =>
  expect(
    searchExtra(event(more as Partial<Event>))
      .split(SEARCH_SEPARATOR)
      .filter((text) => text !== '')
      .sort(),
  ).toEqual([...texts].sort()),
);

it('whatever stands in a value is found in the record or beyond it', () => {
  const text = fc.string({ unit: fc.constantFrom('a', 'A', 'b', ' ', '1', 'é'), maxLength: 6 });
  fc.assert(
    fc.property(text, text, fc.array(text, { maxLength: 3 }), text, (raw, user, tags, x) => {
      const extra = lowerAscii(searchExtra(event({ raw, user, tags, original: { x } })));
      const everywhere = `${lowerAscii(raw)}${SEARCH_SEPARATOR}${extra}`;
      for (const value of [user, ...tags, x]) {
        const needle = lowerAscii(value).slice(1, 4);
        expect(everywhere).toContain(needle);
      }
    }),
  );
});
