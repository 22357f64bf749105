import { withChange } from '../tuning/apply-change.js';
import { parseRules } from '../sigma/parse-rules.js';
import { levelOf } from './level-of.js';

const TEXT = `title: Refused
level: high
logsource: {product: harbour-id}
detection: {failed: {outcome: failure}, condition: failed}
lamp:
  subject: [user, src_ip] # whom
  levels:
    low: [LB-Check, 10.30.0.3]
    critical: ['teo, 198.18.40.77']
`;
const rule = parseRules(TEXT)[0];
const of = (fields: Record<string, string>): string =>
  rule === undefined ? '' : levelOf(rule, { text: Object.values(fields).join(', '), fields });

it('is that of the subject where the rule names it, by a value or whole, whatever the case; else the rule’s', () => {
  expect(of({ user: 'lb-check', src_ip: '10.1.1.1' })).toBe('low');
  expect(of({ user: 'ines', src_ip: '10.30.0.3' })).toBe('low');
  expect(of({ user: 'teo', src_ip: '198.18.40.77' })).toBe('critical');
  expect(of({ user: 'teo', src_ip: '10.1.1.1' })).toBe('high');
  expect(of({})).toBe('high');
});

it('another subject joins those of its severity, and comments stay', () => {
  if (rule === undefined) throw new Error('The rule was not read.');
  const text = withChange(TEXT, { kind: 'level-of', level: 'low', subject: 'svc-watch' }, rule);
  expect(text).toContain('low: [LB-Check, 10.30.0.3, svc-watch]'.replace('[', '[ ').replace(']', ' ]'));
  expect(text).toContain('# whom');
  expect(parseRules(text)[0]?.settings.levels[0]?.of).toEqual(['LB-Check', '10.30.0.3', 'svc-watch']);
});
