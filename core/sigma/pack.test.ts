import { loadPack } from './pack.js';

const detection = (title: string, more = '', body = 's: {a: 1}'): string =>
  `title: ${title}\n${more}logsource: {}\ndetection: {${body}, condition: s}\n`;
const counting = (title: string, rules: string, more = ''): string =>
  `title: ${title}\n${more}correlation: {type: event_count, rules: [${rules}], group-by: [user], timespan: 5m, condition: {gte: 2}}\n`;

it('one broken rule leaves the others alone, and is told with its file, line and reason', () => {
  const { rules, refused } = loadPack([
    {
      name: 'one.yml',
      text: `${detection('A')}---\n${detection('B', 'level: huge\n')}---\n${detection('C')}`,
    },
    { name: 'two.yml', text: 'title: [' },
    { name: 'empty.yml', text: '# nothing\n' },
    { name: 'three.yml', text: detection('D', '', 's: {a|contain: 1}') },
    { name: 'four.yml', text: 'title: E\nlogsource: {}\ndetection:\n  s: *nothing\n  condition: s\n' },
  ]);
  expect(rules.map(({ title }) => title)).toEqual(['A', 'C']);
  expect(refused.map(({ file, rule, line }) => [file, rule, line])).toEqual([
    ['two.yml', null, 1],
    ['four.yml', 'E', 4],
    ['one.yml', 'B', 6],
    ['three.yml', 'D', 3],
  ]);
});

it('aliases that would write out too much are refused', () => {
  const ten = (of: string): string => `[${Array<string>(10).fill(of).join(', ')}]`;
  const text = `title: Much\nlogsource: {}\ndetection:\n  a: &a ${ten('x')}\n  b: &b ${ten('*a')}\n  c: ${ten('*b')}\n  condition: a\n`;
  expect(loadPack([{ name: 'a.yml', text }]).refused).toEqual([
    { file: 'a.yml', rule: 'Much', line: 1, reason: 'aliases expand too far' },
  ]);
});

it('correlations name rules of other files, and their positions are those of the whole', () => {
  const { rules, refused } = loadPack([
    { name: 'a.yml', text: `${detection('Broken', 'status: no\n')}---\n${counting('Many', 'base')}` },
    { name: 'b.yml', text: detection('Base', 'name: base\n') },
    { name: 'c.yml', text: counting('More', 'outer', 'name: more\n') },
    { name: 'd.yml', text: counting('Outer', 'base', 'name: outer\n') },
  ]);
  expect(refused.map(({ rule }) => rule)).toEqual(['Broken']);
  expect(rules.map(({ title }) => title)).toEqual(['Many', 'Base', 'More', 'Outer']);
  expect(rules.flatMap((rule) => (rule.type === 'correlation' ? [rule.refers] : []))).toEqual([
    [1],
    [3],
    [1],
  ]);
});

it('a refused rule refuses those that rest on it, and nothing else', () => {
  const { rules, refused } = loadPack([
    { name: 'a.yml', text: detection('Base', 'name: base\nlevel: huge\n') },
    { name: 'b.yml', text: counting('Many', 'base', 'name: many\n') },
    { name: 'c.yml', text: counting('More', 'many') },
    { name: 'd.yml', text: detection('Good') },
    { name: 'e.yml', text: 'title: F\nfilter: {rules: [base], s: {a: 1}, condition: not s}\n' },
  ]);
  expect(rules.map(({ title }) => title)).toEqual(['Good']);
  expect(refused.map(({ rule, reason }) => [rule, reason])).toEqual([
    ['Base', expect.stringContaining('"huge" is no level')],
    ['Many', 'it rests on "Base", which is refused or no rule'],
    ['More', 'it rests on "Many", which is refused or no rule'],
    ['F', 'it rests on "Base", which is refused or no rule'],
  ]);
});

it('refuses circles, ids that stand twice, and names of nothing', () => {
  const id = 'id: 0f3c9a52-7f5d-4e0e-9d56-0a8f1f6b0001\n';
  const { rules, refused } = loadPack([
    { name: 'a.yml', text: counting('A', 'b', 'name: a\n') },
    { name: 'b.yml', text: counting('B', 'a', 'name: b\n') },
    { name: 'c.yml', text: detection('First', id) },
    { name: 'd.yml', text: detection('Second', id) },
    { name: 'e.yml', text: counting('E', 'nobody') },
  ]);
  expect(rules.map(({ title }) => title)).toEqual(['First']);
  expect(refused.map(({ rule, reason }) => [rule, /circle|twice|nobody/.exec(reason)?.[0]])).toEqual([
    ['Second', 'twice'],
    ['E', 'nobody'],
    ['A', 'circle'],
    ['B', 'circle'],
  ]);
});

it('a filter that would do nothing is refused with the reason', () => {
  const { refused } = loadPack([
    { name: 'b.yml', text: detection('Base', 'name: base\n') },
    { name: 'c.yml', text: counting('Many', 'base', 'name: many\n') },
    { name: 'f.yml', text: 'title: F\nfilter: {rules: [many], s: {b: 2}, condition: not s}\n' },
    { name: 'g.yml', text: 'title: G\nfilter: {rules: [bsae], s: {b: 2}, condition: not s}\n' },
  ]);
  expect(refused.map(({ rule, reason }) => [rule, reason])).toEqual([
    ['G', expect.stringContaining('no rule is called "bsae"')],
    ['F', 'it filters "Many", which is a correlation: name the rules that it counts'],
  ]);
});

it('filters of one file are joined to rules of another', () => {
  const { rules } = loadPack([
    { name: 'f.yml', text: 'title: F\nfilter: {rules: [base], s: {b: 2}, condition: not s}\n' },
    { name: 'b.yml', text: detection('Base', 'name: base\n') },
  ]);
  expect(rules).toEqual([expect.objectContaining({ predicate: expect.objectContaining({ op: 'and' }) })]);
});
