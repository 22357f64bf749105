import { parse } from 'yaml';
import { NEW_RULE, ruleOfEvent, ruleOfHunt, ruleOfValue } from './rule-text.js';

interface Made {
  readonly detection: { readonly selection: Record<string, unknown> };
  readonly hunt: string;
  readonly lamp: {
    readonly live?: boolean;
    readonly every?: string;
    readonly tests: readonly { readonly must: string; readonly event: unknown }[];
  };
}
const read = (text: string): Made => parse(text) as Made;

it('what a rule begins as looks for what its test has', () => {
  const { detection, lamp } = read(NEW_RULE);
  expect(lamp.tests).toEqual([{ name: expect.any(String), must: 'match', event: detection.selection }]);
});

it.each([
  ["from signin\nwhere outcome = 'failure'", true],
  ["-- a comment\nfrom signin\nwhere user = 'x'\n  or user = 'y'", true],
  ['from signin\ntally count() as n per user\nwhere n > 3', false],
  ["from signin over last 24h\nwhere user = 'x'", false],
])('a hunt becomes a rule, as it happens where it only picks events: %j', (hunt, live) => {
  const made = read(ruleOfHunt(hunt));
  expect(made.hunt.trimEnd()).toBe(hunt);
  expect([made.lamp.live ?? false, made.lamp.every !== undefined]).toEqual([live, !live]);
});

it.each([
  ['user', "o'hara: x", "o'hara: x"],
  ['message', 'two\nlines\tand', 'two\nlines\tand'],
  ['message', 'a * and a ?', 'a \\* and a \\?'],
  ['command_line', 'C:\\tools\\*.exe', 'C:\\\\tools\\\\\\*.exe'],
  ['original "odd" name', 'x', 'x'],
  ['records', 184_000, 184_000],
])('%s %j is looked for as it stands', (name, value, written) => {
  expect(read(ruleOfValue({ name, value })).detection.selection).toEqual({ [name]: written });
  const event = { id: 'x', kind: 'signin', [name]: value, raw: 'raw', original: { a: [1, 'b'] } };
  const made = read(ruleOfEvent([{ name, value }], event));
  expect(made.detection.selection).toEqual({ [name]: written });
  expect(made.lamp.tests[0]?.event).toEqual({ kind: 'signin', [name]: value, original: { a: [1, 'b'] } });
});
