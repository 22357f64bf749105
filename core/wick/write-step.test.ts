import { parseInstant } from '../base/instant.js';
import { completeAt } from './complete.js';
import { spellName } from './spell.js';
import {
  addStep,
  columnStep,
  conditionFor,
  renameStep,
  stepFor,
  tallyStep,
  turnedRound,
} from './write-step.js';

const options = { window: { from: 0, to: 1 }, now: 1 };

describe('steps that clicks write', () => {
  it.each([
    ['keep', { column: 'user', type: 'text', value: "o'hara" }, "where user = 'o''hara'"],
    ['leave-out', { column: 'user', type: 'text', value: 'a\nb' }, "where user != 'a b'"],
    [
      'keep',
      { column: 'bytes_out', type: 'number', value: 1e21 },
      'where bytes_out = 1000000000000000000000',
    ],
    [
      'keep',
      { column: 'time', type: 'time', value: parseInstant('2026-11-14T08:00:00.5Z') },
      "where time = '2026-11-14T08:00:00.5Z'",
    ],
    ['leave-out', { column: 'city', type: 'text', value: null }, 'where city is not null'],
    [
      'keep',
      { column: 'original.Some Field', type: 'any', value: true },
      'where original."Some Field" = true',
    ],
    [
      'tally',
      { column: 'Got in at', type: 'time', value: null },
      'tally count() per "Got in at"\nsort count desc',
    ],
    ['keep', { column: 'tags', type: 'texts', value: ['x'] }, "where tags = 'x'"],
    ['keep', { column: 'tags', type: 'texts', value: ['x', 'y'] }, "where tags = 'x' and tags = 'y'"],
    ['leave-out', { column: 'tags', type: 'texts', value: ['x'] }, "where tags != 'x'"],
    ['keep', { column: 'tags', type: 'texts', value: [] }, null],
    ['keep', { column: 'original', type: 'any', value: { a: 1 } }, null],
  ] as const)('%s %j', (action, clicked, step) => expect(stepFor(action, clicked)).toBe(step));

  it('stand before steps that only arrange, where the column is known there', () => {
    expect(addStep("from all\nwhere user = 'a'\nsort time\nfirst 5\n", "where city = 'b'", options)).toBe(
      "from all\nwhere user = 'a'\nwhere city = 'b'\nsort time\nfirst 5",
    );
    expect(addStep('from all\nshow user as Who', "where Who = 'b'", options)).toBe(
      "from all\nshow user as Who\nwhere Who = 'b'",
    );
    expect(addStep('from all\nshow user', 'tally count() per user\nsort count desc', options)).toBe(
      'from all\ntally count() per user\nsort count desc',
    );
  });

  it('spell names that need quotes', () => {
    expect(['user', 'per', 'Got in', 'x"y', 'null'].map(spellName)).toEqual([
      'user',
      '"per"',
      '"Got in"',
      '"x""y"',
      '"null"',
    ]);
  });
});

describe('completion', () => {
  const labels = (text: string): string[] | null => {
    const found = completeAt(text, { lists: ['crew'], sources: ['harbour-id'] }, options);
    return found === null
      ? null
      : 'valuesOf' in found
        ? [`values of ${found.valuesOf} like ${found.prefix}`, ...found.suggestions.map((one) => one.label)]
        : found.suggestions.map((one) => one.label);
  };
  it('knows steps, kinds, sources and lists', () => {
    expect(labels('fr')).toContain('from');
    expect(labels('from all\n')).toContain('where');
    expect(labels('from si')).toContain('signin');
    expect(labels('from source ')).toEqual(['harbour-id']);
    expect(labels('from all\nwhere user in list ')).toEqual(['crew']);
  });
  it('knows the columns at this very step', () => {
    expect(labels('from all\nwhere us')).toEqual(expect.arrayContaining(['user', 'lower', 'and']));
    expect(labels('from all\ntally co')).toContain('count');
    const afterTally = labels('from all\ntally count() as n per user\nsort ');
    expect(afterTally).toEqual(expect.arrayContaining(['user', 'n']));
    expect(afterTally).not.toContain('city');
  });
  it('asks for the values of the field that is compared', () => {
    expect(labels("from all\nwhere outcome = 'fa")).toEqual([
      'values of outcome like fa',
      'success',
      'failure',
      'blocked',
      'allowed',
      'unknown',
    ]);
    expect(labels("from all\nwhere user = 'a' and city in ('x', 'St")).toEqual(['values of city like St']);
    expect(labels('from all -- user')).toBeNull();
  });
});

describe('what the head of a column writes', () => {
  it.each([
    ['ascending', 'sort user'],
    ['descending', 'sort user desc'],
    ['tally', 'tally count() per user\nsort count desc'],
    ['hide', 'hide user'],
    ['shapes', 'shapes of user'],
  ] as const)('%s', (action, step) => expect(columnStep(action, 'user')).toBe(step));
  it('another name is given by a step that shows what is seen', () =>
    expect(renameStep(['time', 'user', 'my own'], 'user', 'Who, then')).toBe(
      'show time, user as "Who, then", "my own"',
    ));
  it('several columns are keys together', () =>
    expect(tallyStep(['src_ip', 'my own'])).toBe('tally count() per src_ip, "my own"\nsort count desc'));
});

describe('first and last seen', () => {
  it('keeps the value and tells when, for what a condition can name', () => {
    expect(stepFor('seen', { column: 'user', type: 'text', value: 'teo' })).toBe(
      "where user = 'teo'\ntally count() as events, min(time) as first_seen, max(time) as last_seen per user",
    );
    expect(stepFor('seen', { column: 'tags', type: 'texts', value: ['a'] })).toBeNull();
  });
});

describe('conditions that are carried', () => {
  it.each([
    [{ column: 'user', type: 'text', value: "o'hara" } as const, "user = 'o''hara'", "user != 'o''hara'"],
    [{ column: 'tags', type: 'texts', value: ['a'] } as const, "tags = 'a'", "tags != 'a'"],
    [{ column: 'my own', type: 'number', value: 3 } as const, '"my own" = 3', '"my own" != 3'],
    [{ column: 'user', type: 'text', value: null } as const, 'user is null', 'user is not null'],
    [
      { column: 'x = y', type: 'text', value: 'a != b' } as const,
      '"x = y" = \'a != b\'',
      '"x = y" != \'a != b\'',
    ],
  ])('%j', (clicked, condition, turned) => {
    expect(conditionFor(clicked)).toBe(condition);
    expect(turnedRound(condition)).toBe(turned);
    expect(turnedRound(turned)).toBe(condition);
  });
  it('others are not turned round', () => {
    expect(turnedRound("user like 'a%'")).toBeNull();
    expect(conditionFor({ column: 'tags', type: 'texts', value: [] })).toBeNull();
  });
});
