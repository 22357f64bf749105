import { completeAt } from './complete.js';

const options = {
  window: { from: 0, to: 30 * 86_400_000_000 },
  now: 30 * 86_400_000_000,
  lists: [{ name: 'people', match: 'exact' as const, columns: ['login', 'department'] }],
};
const catalogue = { lists: ['people', 'networks'], sources: ['harbour-id', 'dock-auth'] };
const labels = (text: string): string[] =>
  completeAt(text, catalogue, options)?.suggestions.map(({ label }) => label) ?? [];

it('offers steps at the edge of a line, the new ones and "ask" too', () => {
  expect(labels('from signin\n')).toEqual(
    expect.arrayContaining(['where', 'streak', 'debut', 'sequence', 'travel', 'join', 'back', 'ask']),
  );
  expect(labels('from signin\nstr')).toContain('streak');
});

it('offers kinds, sources and lists where they are named', () => {
  expect(labels('from ')).toEqual(expect.arrayContaining(['signin', 'all', 'source']));
  expect(labels('from source ')).toEqual(catalogue.sources);
  expect(labels('from signin\nwhere user in list ')).toEqual(catalogue.lists);
});

it('offers fields of events, the columns of tables, and the rows they were made of', () => {
  expect(labels('from signin\nwhere us')).toContain('user');
  const after = labels(
    "from signin\nstreak outcome = 'failure' until outcome = 'success' per user as tries\nwhere ",
  );
  expect(after).toEqual(expect.arrayContaining(['user', 'tries', 'began', 'ended', 'closing.']));
  expect(after).not.toContain('src_ip');
  expect(labels('from signin\nlook up user in list people\nshow ')).toContain('people.department');
});

it('knows what can be named although a blank is not filled in yet', () => {
  expect(
    labels("ask who 'User'\nfrom signin\nwhere user = $who\ntally count() as tries per user\nsort "),
  ).toContain('tries');
});

it('offers aggregates where they stand, and functions everywhere', () => {
  for (const step of ['tally ', 'swing ', "streak user = 'a' until user = 'b' per user as n, "])
    expect(labels(`from signin\n${step}`)).toContain('percentile');
  expect(labels('from signin\nwhere ')).not.toContain('percentile');
  expect(labels('from signin\nwhere ')).toContain('lower');
});

it('asks for the values of a field within quotes, and for none elsewhere', () => {
  expect(completeAt("from signin\nwhere user = 'te", catalogue, options)).toMatchObject({
    valuesOf: 'user',
    prefix: 'te',
  });
  expect(labels("from signin\nwhere outcome = '")).toContain('failure');
  expect(completeAt("from signin\nwhere user = 'teo' and ", catalogue, options)).not.toHaveProperty(
    'valuesOf',
  );
  expect(completeAt('from signin -- a note', catalogue, options)).toBeNull();
});
