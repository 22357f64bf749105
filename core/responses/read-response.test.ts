import { readResponse, sampleSubjects } from './read-response.js';
import { responses } from './shipped.js';

const lock = {
  title: 'Lock the desk',
  on: 'host',
  to: 'agent',
  path: '/hosts/{subject}/lock',
  body: { why: '{id}' },
  undo: { title: 'Unlock the desk', path: '/hosts/{subject}/unlock' },
  hours: 8,
  history: 'from all\nwhere host = {subject}',
  narrower: 'block-flow',
};
const watch = { ...responses['watch-address'], title: 'Watch it' };
const read = (document: unknown) =>
  readResponse(typeof document === 'string' ? document : JSON.stringify(document, null, 2), {
    known: responses,
    lists: [{ name: 'known-desks', columns: ['host'] } as never],
  });
const says = (document: unknown): string[] => read(document).mistakes.map(({ message }) => message);

it.each(Object.entries(responses))('%s, which ships, is a response', (_, document) => {
  expect(read(document)).toEqual({ response: document, mistakes: [] });
});

it('one that somebody wrote is read, with the lists its history names', () => {
  expect(read(lock).response).toEqual(lock);
  expect(says({ ...lock, history: 'from all\nwhere host = {subject} and host in list known-desks' })).toEqual(
    [],
  );
});

it('every mistake is told with its place', () => {
  const { mistakes } = read({ ...lock, path: '/hosts/{address}/lock', body: { x: '{constructor}' } });
  expect(mistakes).toEqual([
    expect.objectContaining({ line: 5, message: expect.stringContaining('knows no {address}') }),
    expect.objectContaining({
      line: 7,
      message: 'A response on a host knows no {constructor}. It knows {subject}, {id}.',
    }),
  ]);
  expect(says({ ...lock, history: 'from all\nwhere hosst = {subject}' })[0]).toMatch(/^Line 2 of the hunt: /);
  expect(says({ ...lock, narrower: 'block-flows' })).toEqual([
    '"block-flows" is no response. Did you mean "block-flow"?',
  ]);
  expect(says({ ...lock, undo: null })).toEqual([expect.stringContaining('"hours": null')]);
  expect(says({ ...lock, undo: null, hours: null })).toEqual([]);
});

it.each([
  ['a ship', { ...lock, on: 'ship' }],
  ['an address elsewhere', { ...lock, path: 'http://203.0.113.9/x' }],
  ['a question behind the path', { ...lock, path: '/hosts?x={subject}' }],
  ['a path of two lines', { ...lock, path: '/hosts\nHost: x' }],
  ['a body of objects', { ...lock, body: { a: { b: 'c' } } }],
  [
    'more than a body holds',
    { ...lock, body: Object.fromEntries(Array.from({ length: 21 }, (_, i) => [`k${i}`, ''])) },
  ],
  ['no title', { ...lock, title: '   ' }],
  ['a year and more', { ...lock, hours: 9000 }],
  ['words nobody asked for', { ...lock, program: '/bin/sh' }],
  ['a text too long', ' '.repeat(30_000)],
  ['no JSON', '{'],
  ['a list', '[]'],
])('%s is refused', (_, document) => {
  expect(read(document).response).toBeNull();
  expect(says(document).length).toBeGreaterThan(0);
});

it('what goes on a list names the list, has a row, and is taken off the same list', () => {
  expect(says(watch)).toEqual([]);
  expect(says({ ...watch, path: '/lists/../users' })[0]).toContain('such as "/lists/watched-addresses"');
  expect(says({ ...watch, body: {} })[0]).toContain('the row that goes on the list');
  expect(says({ ...watch, undo: { title: 'Off', path: '/lists/others' } })[0]).toContain(
    '"/lists/watched-addresses"',
  );
  expect(Object.keys(sampleSubjects)).toHaveLength(5);
});
