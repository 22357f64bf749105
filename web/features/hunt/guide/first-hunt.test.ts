import { firstHunt, type BenchNow } from './first-hunt.js';

const start: BenchNow = {
  text: 'from signin',
  hours: 24,
  split: null,
  reading: false,
  peeking: false,
  view: null,
  rows: 100,
};
const port = 'from network\nwhere dst_port = 53';

/** The bench after each step was done. */
const walked: readonly Partial<BenchNow>[] = [
  { hours: 168 },
  { hours: 168, text: 'from network' },
  { hours: 168, text: 'from network', split: 'dst_port' },
  { hours: 168, text: port, split: 'dst_port' },
  { hours: 2, text: port },
  { hours: 2, text: `${port}\ntally count() per src_ip\nsort count desc` },
  { hours: 2, text: `${port}\nwhere src_ip = '10.20.0.9'` },
  { hours: 2, text: `${port}\nwhere src_ip = '10.20.0.9'`, reading: true },
  { hours: 2, text: `${port}\nwhere src_ip = '10.20.0.9'`, peeking: true },
];

it('has ten steps; each is done when it was followed, and not before', () => {
  expect(firstHunt).toHaveLength(10);
  walked.forEach((after, i) => {
    const before = { ...start, ...(walked[i - 1] ?? {}) };
    expect([firstHunt[i]?.title, firstHunt[i]?.done(before)]).toEqual([firstHunt[i]?.title, false]);
    expect([firstHunt[i]?.title, firstHunt[i]?.done({ ...start, ...after })]).toEqual([
      firstHunt[i]?.title,
      true,
    ]);
  });
});
