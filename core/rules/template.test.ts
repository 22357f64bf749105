import fc from 'fast-check';
import { loadPack } from '../sigma/pack.js';
import { describeAction } from '../sigma/actions.js';
import { chatValue, fillTemplate, placesIn, plainValue } from './template.js';

it.each([
  ['{title} of {subject}', { title: 'A', subject: 'b' }, 'A of b'],
  ['{event.user} {event.missing}', { 'event.user': 'teo' }, 'teo '],
  ['{toString} {constructor}', {}, ' '],
  ['{title}', { title: '{subject}', subject: 'never' }, '{subject}'],
  ['{ title } {1+1} ${title}', { title: 'x' }, '{ title } {1+1} $x'],
  ['kept\nlines', {}, 'kept\nlines'],
])('%j with %j', (template, values, expected) => {
  expect(fillTemplate(template, values)).toBe(expected);
});

it('a value is one line, bounded, and steers nothing, whatever it holds', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary', maxLength: 800 }), (value) => {
      const plain = plainValue(value);
      // eslint-disable-next-line no-control-regex -- they are what must not be there
      expect(plain).not.toMatch(/[\u0000-\u001f\u007f-\u009f\u2028\u2029\u202a-\u202e\u2066-\u2069]/);
      expect(Array.from(plain).length).toBeLessThanOrEqual(501);
    }),
  );
});

it('knows the places of a template', () => {
  expect(placesIn('{title} {event.src_ip} {not a place} {{link}}')).toEqual([
    'title',
    'event.src_ip',
    'link',
  ]);
});

const rule = (actions: string): string =>
  `title: t\nlogsource: {}\ndetection: {s: {a: 1}, condition: s}\nlamp:\n  actions:\n    - ${actions}\n`;
const read = (actions: string) => loadPack([{ name: 'x', text: rule(actions) }]);

it.each([
  [
    '{ chat: room, offer: [force-password-change] }',
    'a message to the room room that offers to force a password change',
  ],
  ['{ chat: room }', 'a message to the room room'],
  ['{ mail: desk }', 'a mail to desk'],
  ['{ webhook: sink, fields: user }', 'a signed request to sink'],
  ['{ syslog: far }', 'a line to the collector far'],
  ['{ program: note, arguments: [a] }', 'the program note is run'],
  ['{ tag: seen }', 'its events are tagged seen'],
  ['{ list: watched }', 'its user goes on the list watched'],
])('%s is %s', (action, words) => {
  const [found] = read(action).rules[0]?.settings.actions ?? [];
  expect(found === undefined ? '' : describeAction(found)).toBe(words);
});

it.each([
  ['{ chats: room }', 'begins with one of chat, mail'],
  ['{ chat: [] }', 'the name of where it goes'],
  ['{ chat: room, fild: [user] }', 'Did you mean "fields"?'],
  ['{ mail: desk, subject: [a] }', '"subject" is a text'],
  ['{ webhook: sink, fields: [1] }', 'a list of texts'],
  ['{ chat: room, offer: [shout] }', '"shout" is no response'],
  ['mail', 'an action is a map'],
])('%s is refused on its line', (action, reason) => {
  expect(read(action).refused).toEqual([
    expect.objectContaining({ line: 6, reason: expect.stringContaining(reason) }),
  ]);
});

it('actions are a list', () => {
  const text = rule('{ tag: a }').replace('actions:\n    - { tag: a }', 'actions: { tag: a }');
  expect(loadPack([{ name: 'x', text }]).refused[0]).toMatchObject({
    line: 5,
    reason: '"actions" is a list',
  });
});

it.each([
  ['@everyone look', '＠everyone look'],
  ['<!channel> <http://x.example|here>', '‹!channel› ‹http：//x.example|here›'],
  ['[here](https://x.example) www.x.example', '[here] (https：//x.example) www．x.example'],
  ['a\nb\u202ec', 'a b⟨U+202E⟩c'],
])('in a chat %j calls nobody and is no link', (value, said) => expect(chatValue(value)).toBe(said));
