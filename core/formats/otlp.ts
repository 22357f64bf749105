import { isJsonObject, type Json, type JsonObject } from '../base/json.js';
import { jsonToText } from '../text/json-text.js';

// Log records of the OpenTelemetry protocol as records of ours: each with what its resource and its scope say, flat.
// Source: OpenTelemetry protocol 1.x, `opentelemetry/proto/logs/v1/logs.proto` and the JSON mapping of its specification.

/** Values within values: deeper is an attack on whatever walks them. */
const DEEPEST = 20;
/** What a record says besides its attributes; an attribute of such a name stands under `attributes.`. */
const OWN: ReadonlySet<string> = new Set([
  'time_unix_nano',
  'observed_time_unix_nano',
  'severity_number',
  'severity_text',
  'event_name',
  'body',
  'body_text',
  'trace_id',
  'span_id',
  'flags',
]);

/** What became of the log records of a request. */
export interface OtlpRecords {
  /** A JSON text for each. */
  readonly records: readonly string[];
  /** Log records that are none, and why the first of them is not. */
  readonly rejected: number;
  readonly reason: string | null;
}

/** A request that is none. */
export class OtlpError extends Error {
  override readonly name = 'OtlpError';
}

const listOf = (value: Json | undefined, what: string): readonly JsonObject[] => {
  if (value === undefined || value === null) return [];
  if (!Array.isArray(value) || !value.every(isJsonObject))
    throw new OtlpError(`${what} is no list of objects.`);
  return value;
};

/** A number of 64 bits, which JSON writes as text; as a number where it is one exactly. */
function wholeNumber(value: Json): Json {
  const text = typeof value === 'string' || typeof value === 'number' ? String(value) : '';
  if (!/^-?\d{1,20}$/.test(text)) throw new OtlpError('a whole number is none');
  const number = Number(text);
  return Number.isSafeInteger(number) ? number : text;
}

/** The value of an attribute or a body (`AnyValue`). */
function valueOf(value: Json | undefined, depth = 0): Json {
  if (value === undefined || value === null) return null;
  if (depth > DEEPEST) throw new OtlpError(`values lie more than ${DEEPEST} deep`);
  if (!isJsonObject(value)) throw new OtlpError('a value is none');
  for (const [kind, inner] of Object.entries(value))
    switch (kind) {
      case 'stringValue':
      case 'boolValue':
      case 'doubleValue':
      case 'bytesValue':
        return inner;
      case 'intValue':
        return wholeNumber(inner);
      case 'arrayValue':
        return isJsonObject(inner)
          ? listOf(inner['values'], 'a list of values').map((one) => valueOf(one, depth + 1))
          : [];
      case 'kvlistValue':
        return isJsonObject(inner) ? pairsOf(inner['values'], depth + 1) : {};
    }
  // A kind that came later than this was written.
  return null;
}

function pairsOf(pairs: Json | undefined, depth = 0): JsonObject {
  const found: Record<string, Json> = Object.create(null) as Record<string, Json>;
  for (const pair of listOf(pairs, 'a list of attributes')) {
    const { key } = pair;
    if (typeof key === 'string') found[key] = valueOf(pair['value'], depth);
  }
  return found;
}

const prefixed = (prefix: string, fields: JsonObject): [string, Json][] =>
  Object.entries(fields).map(([key, value]) => [`${prefix}.${key}`, value]);

const said = (name: string, value: Json | undefined): [string, Json][] =>
  value === undefined || value === null || value === '' || value === 0 || value === '0'
    ? []
    : [[name, value]];

const idOf = (value: Json | undefined): Json =>
  typeof value === 'string' && /^[0-9a-fA-F]{2,64}$/.test(value) && !/^0+$/.test(value)
    ? value.toLowerCase()
    : null;

function recordOf(record: JsonObject, around: readonly (readonly [string, Json])[]): string {
  const attributes = Object.entries(pairsOf(record['attributes']));
  const severity = record['severityNumber'];
  const body = valueOf(record['body']);
  return JSON.stringify(
    Object.fromEntries([
      ...said('time_unix_nano', jsonToText(record['timeUnixNano'] ?? null)),
      ...said('observed_time_unix_nano', jsonToText(record['observedTimeUnixNano'] ?? null)),
      ...said('severity_number', typeof severity === 'number' ? severity : null),
      ...said('severity_text', record['severityText']),
      ...said('event_name', record['eventName']),
      ...said('body', body),
      // A body of parts is a text as well, for whoever reads or searches messages.
      ...said('body_text', typeof body === 'object' && body !== null ? JSON.stringify(body) : null),
      ...attributes.map(([key, value]) => [OWN.has(key) ? `attributes.${key}` : key, value] as const),
      ...around,
      ...said('trace_id', idOf(record['traceId'])),
      ...said('span_id', idOf(record['spanId'])),
      ...said('flags', record['flags']),
    ]),
  );
}

/**
 * The log records of a request (`ExportLogsServiceRequest`), in the form of its JSON mapping.
 * @param maxLength characters of a record; longer ones are rejected
 * @throws OtlpError where it is no such request
 */
export function otlpRecords(request: Json, maxLength: number): OtlpRecords {
  if (!isJsonObject(request)) throw new OtlpError('It is no object with "resourceLogs".');
  const records: string[] = [];
  let rejected = 0;
  let reason: string | null = null;
  for (const ofResource of listOf(request['resourceLogs'], '"resourceLogs"')) {
    const { resource } = ofResource;
    const fromResource = prefixed(
      'resource',
      isJsonObject(resource ?? null) ? pairsOf((resource as JsonObject)['attributes']) : {},
    );
    for (const ofScope of listOf(ofResource['scopeLogs'], '"scopeLogs"')) {
      const scope = isJsonObject(ofScope['scope'] ?? null) ? (ofScope['scope'] as JsonObject) : {};
      const around = [
        ...fromResource,
        ...said('scope.name', scope['name']),
        ...said('scope.version', scope['version']),
        ...prefixed('scope', pairsOf(scope['attributes'])),
      ];
      for (const record of listOf(ofScope['logRecords'], '"logRecords"'))
        try {
          const text = recordOf(record, around);
          if (text.length > maxLength)
            throw new OtlpError(`it is longer than ${maxLength.toLocaleString('en')} characters`);
          records.push(text);
        } catch (error) {
          if (!(error instanceof OtlpError)) throw error;
          rejected++;
          reason ??= error.message;
        }
    }
  }
  return { records, rejected, reason };
}
