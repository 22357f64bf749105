import { parseRules } from '../../core/sigma/parse-rules.js';
import { loadPack } from '../../core/sigma/pack.js';
import { runRuleTests } from '../../core/rules/run-tests.js';
import { NEW_RULE, ruleOfEvent, ruleOfHunt, ruleOfValue } from './rule-text.js';

it('what a rule begins as is right, and its test holds', () => {
  const rules = parseRules(NEW_RULE);
  expect(runRuleTests(rules, 0, [])).toEqual([expect.objectContaining({ passed: true })]);
});

it.each([
  ["from signin\nwhere outcome = 'failure'", 'live'],
  ["-- a comment\nfrom signin\nwhere user = 'x'\n  or user = 'y'", 'live'],
  ['from signin\ntally count() as n per user\nwhere n > 3', 'every'],
])('a hunt becomes a rule: %s', (hunt, how) => {
  const { hunts, refused } = loadPack([{ name: 'x', text: ruleOfHunt(hunt) }]);
  expect(refused).toEqual([]);
  expect(hunts[0]?.hunt.runs.how).toBe(how);
  expect(hunts[0]?.hunt.hunt.trimEnd()).toBe(hunt);
});

it.each([
  ['user', "o'hara: *?"],
  ['message', 'two\nlines\tand \\* a backslash'],
  ['original "odd" name', 'x'],
  ['records', 184_000],
  ['command_line', 'C:\\tools\\*.exe'],
])('a rule made from a value matches that value and its event: %s %s', (name, value) => {
  for (const text of [ruleOfValue({ name, value }), ruleOfEvent([{ name, value }], { [name]: value })]) {
    const rules = parseRules(text);
    const [test] = runRuleTests(
      rules.map((rule) => ({
        ...rule,
        settings: {
          ...rule.settings,
          tests: [{ name: 't', must: 'match', events: [{ [name]: value }], line: 1 }],
        },
      })),
      0,
      [],
    );
    expect(test).toMatchObject({ passed: true });
  }
});
