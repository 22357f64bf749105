import { DAY } from '../base/instant.js';
import { childrenOf, computedBy, walkPlan } from './children.js';
import { compileHunt } from './compile.js';
import type { Plan } from './plan.js';

const compile = (text: string): Plan => compileHunt(text, { window: { from: 0, to: DAY }, now: DAY });
/** What a hunt is made of, from the top: steps by their name, expressions and conditions by their sign. */
const walked = (text: string): string[] =>
  [...walkPlan(compile(text).steps)].map((node) =>
    'step' in node ? node.step : 'op' in node ? node.op : 'aggregate',
  );

test('a plan is walked whole: steps, what they read, and what stands inside', () => {
  const found = walked(
    "from signin\nwhere outcome = 'failure' and lower(user) = 'adm'\ntally count() per user",
  );
  expect(found.slice(0, 2)).toEqual(['from', 'where']);
  expect(found).toEqual(expect.arrayContaining(['tally', 'aggregate', 'column', 'literal']));
});

test('steps inside a step are walked, too', () => {
  const found = walked('from signin\njoin (\n  from network\n  where dst_port = 53\n) as o on user');
  expect(found.filter((name) => name === 'from')).toHaveLength(2);
  expect(found).toContain('compare');
});

test('a leaf holds nothing; every other node holds only nodes that are walked', () => {
  const { steps } = compile(
    "from signin\nset x = if(user = 'a', 1, 2) + 3\nwhere x > 2\nsort x desc\nfirst 5",
  );
  const all = [...walkPlan(steps)];
  for (const node of all) for (const child of childrenOf(node)) expect(all).toContain(child);
  const leaves = all.filter((node) => childrenOf(node).length === 0);
  expect(leaves.length).toBeGreaterThan(4);
});

test('what a step computes is told by it alone', () => {
  const { steps } = compile('from signin\nset x = lower(user)\nshow user, upper(host) as h\nfirst 3');
  expect(steps.map((step) => computedBy(step).length)).toEqual([0, 1, 2, 0]);
});
