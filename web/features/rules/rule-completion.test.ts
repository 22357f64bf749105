import { keysAbove, optionsAt } from './rule-completion.js';

describe('words offered while a rule is written', () => {
  const known = {
    fields: [{ name: 'user', meaning: 'who acted' }],
    logsources: { category: ['authentication'], product: [], service: [] },
    lists: ['watched'],
    rules: ['failed_sign_in'],
    techniques: { t1110: 'Brute force' },
    modifiers: { contains: 'anywhere in it' },
  };
  const lines =
    'title: x\nlogsource:\n  cat\ndetection:\n  s:\n    us\n  t:\n    - a: b\ntags:\n  - att'.split('\n');
  const labels = (above: readonly string[], before: string): string[] | undefined =>
    optionsAt(known, above, before)?.options.map(({ label }) => label);

  it('knows where a line stands', () => {
    expect(keysAbove(lines, 2)).toEqual(['logsource']);
    expect(keysAbove(lines, 5)).toEqual(['detection', 's']);
    expect(keysAbove(lines, 9)).toEqual(['tags']);
    expect(keysAbove(lines, 0)).toEqual([]);
  });

  it.each([
    [['detection', 's'], '    us', ['user']],
    [['detection', 's'], '    user|con', ['contains']],
    [['detection', 's'], "    user|expand: '%wa", ['%watched%']],
    [['logsource'], '  category: au', ['authentication']],
    [['correlation', 'rules'], '    - fai', ['failed_sign_in']],
    [['tags'], '  - att', ['attack.t1110']],
    [['lamp'], '  does: m', ['alert', 'mark', 'count']],
  ])('%j %s', (above, before, expected) => {
    expect(labels(above, before)).toEqual(expected);
  });

  it('values of a field are asked for by its name', () => {
    expect(optionsAt(known, ['detection', 's'], "    user|contains: 'te")).toMatchObject({ field: 'user' });
  });
});
