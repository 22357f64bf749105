import type { Event } from '../events/event.js';
import { parseRules } from '../sigma/parse-rules.js';
import { whyMet } from './why.js';

const event = {
  id: 'e1',
  time: 0,
  source: 'harbour-id',
  kind: 'signin',
  user: 'teo.marrash',
  outcome: 'failure',
  message: 'a refused sign-in',
  tags: ['machine', 'odd'],
  original: { result: { why: 'bad_secret' }, deep: ['x', { text: 'needle in here' }] },
  raw: 'raw text',
} as unknown as Event;

const why = (detection: string): (readonly [string | null, string | null, string])[] => {
  const [rule] = parseRules(`title: t\nlogsource: {}\ndetection:\n  ${detection.replaceAll('\n', '\n  ')}\n`);
  return rule?.type !== 'detection'
    ? []
    : whyMet(rule.predicate, event).map(({ field, value, says }) => [field, value, says]);
};

it.each([
  ['one field', 's: {user: teo.marrash}\ncondition: s', [['user', 'teo.marrash', 'is "teo.marrash"']]],
  [
    'all that must hold',
    "s: {user|startswith: teo, result.why: 'bad*'}\ncondition: s",
    [
      ['user', 'teo.marrash', 'is "teo…"'],
      ['result.why', 'bad_secret', 'is "bad…"'],
    ],
  ],
  [
    'of a choice, the one that holds',
    's: {user: [ines.vaal, teo.marrash]}\ncondition: s',
    [['user', 'teo.marrash', 'is "teo.marrash"']],
  ],
  [
    'what must not be, with what is there instead',
    's: {outcome: failure}\nnot_me: {user: me}\ncondition: s and not not_me',
    [
      ['outcome', 'failure', 'is "failure"'],
      ['user', 'teo.marrash', 'not: is "me"'],
    ],
  ],
  ['a list', 's: {tags: odd}\ncondition: s', [['tags', '["machine","odd"]', 'is "odd"']]],
  ['something that is missing', 's: {host: null}\ncondition: s', [['host', null, 'is missing']]],
  [
    'a text anywhere, with the value that holds it',
    "s: ['needle']\ncondition: s",
    [[null, 'needle in here', 'is "…needle…"']],
  ],
  ['nothing where it does not match', 's: {user: ines.vaal}\ncondition: s', []],
])('tells %s', (_, detection, expected) => {
  expect(why(detection)).toEqual(expected);
});
