import fc from 'fast-check';
import { stringify } from 'yaml';
import { addresses, name } from './wick/events.js';

// Detection rules that ask for what generated events hold, by every modifier.

const field = fc.constantFrom(
  'user',
  'User',
  'message',
  'operation',
  'outcome',
  'kind',
  'src_ip',
  'via_ips',
  'tags',
  'bytes_out',
  'time',
  'x',
  'y',
  'x.a',
  'list',
  'list.0',
  'nested.Some Field',
  'items.a',
  'items.b.a',
  'items.1.b',
  'address',
  'nowhere',
);
const part = fc.tuple(name, fc.nat(4), fc.integer({ min: 1, max: 4 })).map(([text, from, length]) =>
  Array.from(text)
    .slice(from, from + length)
    .join(''),
);
const wild = fc
  .tuple(part, fc.constantFrom('*', '?', '**', '*?', '\\*', ''), part)
  .map((parts) => parts.join(''));
const text = fc.oneof(name, part, wild);
const number = fc.constantFrom(-4, 0, 0.1, 7, 1000, '7', '3.5');

type Asked = readonly [field: string, value: unknown];
const asked = (modifiers: fc.Arbitrary<string>, value: fc.Arbitrary<unknown>): fc.Arbitrary<Asked> =>
  fc
    .tuple(field, modifiers, value)
    .map(([of, chain, wanted]) => [chain === '' ? of : `${of}|${chain}`, wanted]);
const oneOrMore = (value: fc.Arbitrary<unknown>): fc.Arbitrary<unknown> =>
  fc.oneof(value, fc.array(value, { minLength: 1, maxLength: 3 }));

const item: fc.Arbitrary<Asked> = fc.oneof(
  {
    weight: 4,
    arbitrary: asked(fc.constantFrom('', 'cased'), oneOrMore(fc.oneof(text, number, fc.constant(null)))),
  },
  {
    weight: 4,
    arbitrary: asked(
      fc.constantFrom('contains', 'startswith', 'endswith', 'contains|all', 'contains|cased', 'neq'),
      oneOrMore(text),
    ),
  },
  {
    weight: 2,
    arbitrary: asked(
      fc.constantFrom('re', 're|i'),
      fc.constantFrom('^t.o', '[0-9]+$', 'a|z', '\\.', '^$', 'σ', 'x.y', '(?i)STRASSE|straße'),
    ),
  },
  { weight: 2, arbitrary: asked(fc.constant('exists'), fc.boolean()) },
  { weight: 2, arbitrary: asked(fc.constantFrom('lt', 'lte', 'gt', 'gte'), number) },
  {
    weight: 2,
    arbitrary: asked(
      fc.constant('cidr'),
      fc.oneof(
        fc.constantFrom('10.0.0.0/8', '2001:db8::/32', '::/0', '0.0.0.0/0'),
        fc.constantFrom(...addresses),
      ),
    ),
  },
  {
    weight: 2,
    arbitrary: asked(
      fc.constantFrom(
        'fieldref',
        'fieldref|startswith',
        'fieldref|endswith',
        'fieldref|contains',
        'cased|fieldref',
      ),
      field,
    ),
  },
  {
    weight: 2,
    arbitrary: asked(
      fc.constantFrom('minute', 'hour', 'day', 'week', 'month', 'year', 'hour|gte', 'week|lt'),
      fc.constantFrom(0, 1, 10, 11, 46, 2026),
    ),
  },
  {
    weight: 1,
    arbitrary: asked(
      fc.constantFrom('windash|contains', 'contains|windash', 'base64offset|contains', 'wide|base64'),
      text,
    ),
  },
);

const selection = fc.oneof(
  {
    weight: 5,
    arbitrary: fc.array(item, { minLength: 1, maxLength: 2 }).map((all) => Object.fromEntries(all)),
  },
  {
    weight: 1,
    arbitrary: fc.array(
      fc.oneof(
        text,
        item.map(([of, wanted]) => ({ [of]: wanted })),
      ),
      {
        minLength: 1,
        maxLength: 2,
      },
    ),
  },
);
const condition = fc.constantFrom(
  's',
  'not s',
  's and t',
  's or t',
  's and not t',
  '1 of them',
  'all of them',
);
const logsource = fc.constantFrom({}, { product: 'p' }, { category: 'authentication' });

/** Rules as text; some are refused. */
export const detections: fc.Arbitrary<string> = fc
  .record({ s: selection, t: selection, condition, logsource })
  .map(({ logsource: of, ...detection }) => stringify({ title: 'Made', logsource: of, detection }));
