import protobuf from 'protobufjs/light.js';
import type { Json, JsonObject } from '../../core/base/json.js';

// The messages of OTLP for logs that matter here. Source: `opentelemetry/proto/{logs,common,resource,collector/logs}/v1`;
// what is not named here is read over, as the format wants it.

const field = (id: number, type: string, more: object = {}): protobuf.IField => ({ id, type, ...more });
const many = { rule: 'repeated' } as const;

const root = protobuf.Root.fromJSON({
  nested: {
    Request: { fields: { resourceLogs: field(1, 'ResourceLogs', many) } },
    ResourceLogs: {
      fields: { resource: field(1, 'Resource'), scopeLogs: field(2, 'ScopeLogs', many) },
    },
    Resource: { fields: { attributes: field(1, 'KeyValue', many) } },
    ScopeLogs: { fields: { scope: field(1, 'Scope'), logRecords: field(2, 'LogRecord', many) } },
    Scope: {
      fields: {
        name: field(1, 'string'),
        version: field(2, 'string'),
        attributes: field(3, 'KeyValue', many),
      },
    },
    LogRecord: {
      fields: {
        timeUnixNano: field(1, 'fixed64'),
        severityNumber: field(2, 'int32'),
        severityText: field(3, 'string'),
        body: field(5, 'AnyValue'),
        attributes: field(6, 'KeyValue', many),
        flags: field(8, 'fixed32'),
        traceId: field(9, 'bytes'),
        spanId: field(10, 'bytes'),
        observedTimeUnixNano: field(11, 'fixed64'),
        eventName: field(12, 'string'),
      },
    },
    KeyValue: { fields: { key: field(1, 'string'), value: field(2, 'AnyValue') } },
    AnyValue: {
      oneofs: {
        value: {
          oneof: [
            'stringValue',
            'boolValue',
            'intValue',
            'doubleValue',
            'arrayValue',
            'kvlistValue',
            'bytesValue',
          ],
        },
      },
      fields: {
        stringValue: field(1, 'string'),
        boolValue: field(2, 'bool'),
        intValue: field(3, 'int64'),
        doubleValue: field(4, 'double'),
        arrayValue: field(5, 'ArrayValue'),
        kvlistValue: field(6, 'KeyValueList'),
        bytesValue: field(7, 'bytes'),
      },
    },
    ArrayValue: { fields: { values: field(1, 'AnyValue', many) } },
    KeyValueList: { fields: { values: field(1, 'KeyValue', many) } },
    Response: { fields: { partialSuccess: field(1, 'PartialSuccess') } },
    PartialSuccess: {
      fields: { rejectedLogRecords: field(1, 'int64'), errorMessage: field(2, 'string') },
    },
    Status: { fields: { code: field(1, 'int32'), message: field(2, 'string') } },
  },
});

const request = root.lookupType('Request');
const response = root.lookupType('Response');
const status = root.lookupType('Status');

const inHex = (base64: unknown): Json =>
  typeof base64 === 'string' ? Buffer.from(base64, 'base64').toString('hex') : null;

/**
 * Reads a request into the form of the JSON mapping, in which ids are hexadecimal and other bytes base64.
 * @throws Error where the bytes are no such message
 */
export function decodeRequest(bytes: Uint8Array): JsonObject {
  const read = request.toObject(request.decode(bytes), { longs: String, bytes: String, oneofs: false }) as {
    resourceLogs?: { scopeLogs?: { logRecords?: Record<string, unknown>[] }[] }[];
  };
  for (const { scopeLogs = [] } of read.resourceLogs ?? [])
    for (const { logRecords = [] } of scopeLogs)
      for (const record of logRecords) {
        record['traceId'] = inHex(record['traceId']);
        record['spanId'] = inHex(record['spanId']);
      }
  return read as unknown as JsonObject;
}

/** What was not taken of a request. */
export interface PartialSuccess {
  readonly rejectedLogRecords: number;
  readonly errorMessage: string;
}

/** The answer to a request; empty where all is well. */
export const encodeResponse = (partialSuccess: PartialSuccess | null): Uint8Array =>
  response.encode(response.fromObject(partialSuccess === null ? {} : { partialSuccess })).finish();

/** The answer to a request that failed (an RPC status, with its message). */
export const encodeStatus = (message: string): Uint8Array =>
  status.encode(status.fromObject({ message })).finish();
