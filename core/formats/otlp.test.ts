import type { Json } from '../base/json.js';
import { OtlpError, otlpRecords } from './otlp.js';

const request = (logRecords: readonly Json[], more: object = {}): Json => ({
  resourceLogs: [
    {
      resource: { attributes: [{ key: 'service.name', value: { stringValue: 'booking' } }] },
      scopeLogs: [{ scope: { name: 'seats', version: '2' }, logRecords }],
      ...more,
    },
  ],
});
const read = (value: Json): unknown[] =>
  otlpRecords(value, 10_000).records.map((text) => JSON.parse(text) as unknown);

it('a log record has what its resource, its scope and its attributes say, flat', () => {
  expect(
    read(
      request([
        {
          timeUnixNano: '1794643200123456789',
          severityNumber: 17,
          severityText: 'ERROR',
          body: { stringValue: 'no seat' },
          attributes: [
            { key: 'user.name', value: { stringValue: 'teo' } },
            { key: 'body', value: { intValue: '7' } },
            { key: 'big', value: { intValue: '9223372036854775807' } },
            { key: 'list', value: { arrayValue: { values: [{ boolValue: true }, { doubleValue: 1.5 }] } } },
            {
              key: 'map',
              value: { kvlistValue: { values: [{ key: '__proto__', value: { stringValue: 'x' } }] } },
            },
          ],
          traceId: '5B8EFFF798038103D269B633813FC60C',
          spanId: '0000000000000000',
          flags: 1,
          unknownLater: 3,
        },
      ]),
    ),
  ).toEqual([
    {
      time_unix_nano: '1794643200123456789',
      severity_number: 17,
      severity_text: 'ERROR',
      body: 'no seat',
      'user.name': 'teo',
      'attributes.body': 7,
      big: '9223372036854775807',
      list: [true, 1.5],
      map: JSON.parse('{"__proto__":"x"}') as unknown,
      'resource.service.name': 'booking',
      'scope.name': 'seats',
      'scope.version': '2',
      trace_id: '5b8efff798038103d269b633813fc60c',
      flags: 1,
    },
  ]);
});

it('what is no log record is rejected and counted; the others go on', () => {
  let deep: Json = { stringValue: 'x' };
  for (let i = 0; i < 5000; i++) deep = { arrayValue: { values: [deep] } };
  const { records, rejected, reason } = otlpRecords(
    request([
      { body: { stringValue: 'good' } },
      { body: deep },
      { attributes: 'x' },
      { body: { intValue: 'seven' } },
      { body: { stringValue: 'y'.repeat(20_000) } },
    ]),
    10_000,
  );
  expect([records.length, rejected, reason]).toEqual([1, 4, 'values lie more than 20 deep']);
});

it('a request without log records holds none, and what is no request is refused', () => {
  expect(otlpRecords({}, 10)).toEqual({ records: [], rejected: 0, reason: null });
  expect(otlpRecords({ resourceLogs: [{}] }, 10).records).toEqual([]);
  for (const wrong of [
    [],
    'x',
    { resourceLogs: 'x' },
    { resourceLogs: [1] },
    { resourceLogs: [{ scopeLogs: 1 }] },
  ])
    expect(() => otlpRecords(wrong as Json, 10)).toThrow(OtlpError);
});
