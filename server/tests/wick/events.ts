import fc from 'fast-check';
import { DAY, HOUR, parseInstant } from '../../../core/base/instant.js';
import type { Event } from '../../../core/events/event.js';
import type { Json } from '../../../core/base/json.js';

// Events made to disagree: nulls, case, characters outside the basic plane, quotes, numbers in texts,
// addresses of both families, mixed types under `original`.

export const START = parseInstant('2026-11-10T00:00:00Z') ?? 0;
export const END = START + 3 * DAY;

export const names = [
  'teo.marrash',
  'TEO.marrash',
  'ines.vaal',
  "o'hara",
  'ünal',
  'straße',
  'ΣΟΦΟΣ',
  'İris',
  '007',
  '7',
  '7.0',
  ' 7 ',
  '-3.5',
  '1e3',
  '',
  ' ',
  'a%b',
  'a_b',
  'a\\b',
  '"q"',
  'zz',
  'ｚ',
  '𝒛',
  '\u{10ffff}',
  'x\ny',
  'tab\tbed',
  '10.0.0.5',
  '2001:db8::1',
  '::ffff:192.0.2.9',
  '2026-11-11',
  '2026-11-11T10:00:00.5Z',
  '2026-11-11T12:00:00+02:00',
  'true',
  'null',
  '-- no',
  "it''s",
];
export const addresses = [
  '10.0.0.5',
  '10.0.1.5',
  '192.0.2.9',
  '198.51.100.77',
  '2001:db8::1',
  '2001:db8:0:0:1::',
  '::1',
  '::ffff:192.0.2.9',
  '::192.0.2.9',
];

export const name = fc.constantFrom(...names);
const maybe = <T>(arbitrary: fc.Arbitrary<T>) => fc.option(arbitrary, { nil: undefined, freq: 4 });
const scalar: fc.Arbitrary<Json> = fc.oneof(
  name,
  fc.constantFrom(0, 1, 7, -3.5, 4688, 0.1, 1e21, 1e-7, 123456789.125),
  fc.boolean(),
  fc.constant(null),
);
const json: fc.Arbitrary<Json> = fc.oneof(
  { weight: 5, arbitrary: scalar },
  { weight: 1, arbitrary: fc.array(scalar, { maxLength: 3 }) },
  {
    weight: 1,
    arbitrary: fc.dictionary(fc.constantFrom('a', 'b', 'Some Field', '0'), scalar, { maxKeys: 3 }),
  },
);
export const time = fc
  .integer({ min: 0, max: 3 * 24 * 60 - 1 })
  .map((minutes) => START + minutes * 60_000_000);

/** Events with distinct ids; many share a time. */
export const events: fc.Arbitrary<Event[]> = fc
  .array(
    fc.record({
      time: fc.oneof(
        time,
        time.map((t) => t + 500_000),
        time.map((t) => t + 1),
      ),
      kind: fc.constantFrom('signin', 'rights', 'network', 'system'),
      source: fc.constantFrom('harbour-id', 'dock-auth'),
      outcome: maybe(fc.constantFrom('success', 'failure')),
      operation: maybe(fc.constantFrom('session.start', 'file.read')),
      user: maybe(name.map((text) => text.trim().toLowerCase())),
      message: maybe(name),
      reason: maybe(
        fc.string({ unit: fc.constantFrom('a', 'B', ' ', '1', 'é', '𝒛', '.', '%'), maxLength: 8 }),
      ),
      src_ip: maybe(fc.constantFrom(...addresses)),
      dst_ip: maybe(fc.constantFrom(...addresses)),
      dst_port: maybe(fc.constantFrom(22, 53, 443)),
      host: maybe(fc.constantFrom('gate-01', 'hold-fs-01')),
      application: maybe(fc.constantFrom('booking', 'fares')),
      bytes_out: maybe(fc.integer({ min: 0, max: 5000 })),
      duration_ms: maybe(fc.constantFrom(0, 0.1, 0.2, 0.3, 2.5, -1.5, 1e6)),
      lat: maybe(fc.constantFrom(0, 58.5, -33.25)),
      lon: maybe(fc.constantFrom(0, 10.25, 151)),
      tags: maybe(fc.array(name, { maxLength: 3 })),
      via_ips: maybe(fc.array(fc.constantFrom(...addresses), { maxLength: 2 })),
      original: fc.record(
        {
          x: json,
          // Under the name of a column, as sources have it.
          message: json,
          y: json,
          list: fc.array(json, { maxLength: 2 }),
          nested: fc.record({ 'Some Field': json }),
          items: fc.array(fc.oneof(fc.record({ a: json, b: json }, { requiredKeys: [] }), scalar), {
            maxLength: 3,
          }),
          // As sources spell them.
          address: fc.constantFrom(...addresses, '2001:DB8::A', ' 10.0.0.7 ', 'FE80::1'),
        },
        { requiredKeys: [] },
      ),
      raw: name,
    }),
    { minLength: 1, maxLength: 25 },
  )
  .map((drafts) =>
    drafts.map((draft, i): Event => {
      const given = Object.fromEntries(Object.entries(draft).filter(([, value]) => value !== undefined));
      return {
        ...given,
        id: ((i * 7919) % 65536).toString(16).padStart(32, '0'),
        received: draft.time + HOUR,
      } as unknown as Event;
    }),
  );
