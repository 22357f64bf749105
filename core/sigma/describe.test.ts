import { describeRule } from './describe.js';
import { parseRules } from './parse-rules.js';

/** The first rule of a text in words, with its detection written as YAML. */
const told = (detection: string, logsource = 'category: authentication'): string => {
  const rules = parseRules(
    `title: One\nlogsource:\n  ${logsource}\ndetection:\n${detection.replace(/^/gm, '  ')}\n`,
  );
  const [rule] = rules;
  return rule === undefined ? '' : describeRule(rule, rules);
};

describe('what a detection asks', () => {
  test.each([
    ['sel: {outcome: failure}\ncondition: sel', 'outcome is "failure"'],
    ['sel: {user: "adm-*"}\ncondition: sel', 'user is "adm-…"'],
    ['sel: {user: "adm-?"}\ncondition: sel', 'user is "adm-?"'],
    ['sel: {user: null}\ncondition: sel', 'user is missing'],
    ['sel: {user|exists: true}\ncondition: sel', 'user is there'],
    ['sel: {user|exists: false}\ncondition: sel', 'user is not there'],
    ['sel: {message|re: "job-[0-9]+"}\ncondition: sel', 'message fits /job-[0-9]+/'],
    ['sel: {src_ip|cidr: 10.0.0.0/8}\ncondition: sel', 'src_ip lies in the network'],
    ['sel: {bytes_out|gte: 1000}\ncondition: sel', 'bytes_out >= 1000'],
    ['sel: {user|fieldref: target_user}\ncondition: sel', 'user is what target_user holds'],
  ])('%s', (detection, words) => {
    expect(told(detection)).toContain(words);
  });

  test('parts are joined as the condition joins them, and brackets are only there where they are needed', () => {
    expect(told('a: {outcome: failure}\nb: {user: x}\ncondition: a and not b')).toBe(
      'events of authentication where outcome is "failure" and not user is "x"',
    );
    expect(told('a: {outcome: [failure, blocked]}\nb: {user: x}\ncondition: a and b')).toBe(
      'events of authentication where (outcome is "failure" or outcome is "blocked") and user is "x"',
    );
  });

  test('keywords are any text; a rule without a log source is of all events', () => {
    expect(told('words: [mimic]\ncondition: words', 'product: null')).toMatch(/any text .*mimic/);
  });
});

describe('what a correlation counts', () => {
  const correlation = (body: string): string => {
    const rules = parseRules(
      `title: Refused\nname: refused\nlogsource: {category: authentication}\ndetection:\n  sel: {outcome: failure}\n  condition: sel\n---\n` +
        `title: Locked\nname: locked\nlogsource: {category: authentication}\ndetection:\n  sel: {operation: lock}\n  condition: sel\n---\n` +
        `title: Together\ncorrelation:\n${body.replace(/^/gm, '  ')}\n`,
    );
    const rule = rules.at(-1);
    return rule === undefined ? '' : describeRule(rule, rules);
  };

  test.each([
    [
      'type: event_count\nrules: [refused]\ngroup-by: [user]\ntimespan: 5m\ncondition: {gte: 5}',
      'at least 5 matches of "Refused" within 5m of the same user',
    ],
    [
      'type: temporal\nrules: [refused, locked]\ngroup-by: [user, host]\ntimespan: 1h',
      'matches of "Refused" and "Locked" within 1h of the same user and host, in any order',
    ],
    [
      'type: temporal_ordered\nrules: [refused, locked]\ngroup-by: [user]\ntimespan: 1h',
      'matches of "Refused", then "Locked" within 1h of the same user',
    ],
    [
      'type: value_count\nrules: [refused]\ngroup-by: [src_ip]\ntimespan: 1h\ncondition: {field: user, gt: 10}',
      'user more than 10 different values over matches of "Refused" within 1h of the same src_ip',
    ],
  ])('%s', (body, words) => {
    expect(correlation(body)).toBe(words);
  });

  test('without a group it counts all together', () => {
    expect(correlation('type: event_count\nrules: [refused]\ntimespan: 5m\ncondition: {lt: 3}')).toContain(
      'in all',
    );
  });
});
