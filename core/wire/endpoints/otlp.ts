import { endpoint } from '../endpoint.js';
import { bySource } from '../params.js';
import { INTAKE_LIMITS } from '../sources.js';

const body = {
  access: 'source-key',
  params: bySource,
  rawBody: true,
  answer: {
    type: 'object',
    additionalProperties: false,
    properties: {
      partialSuccess: {
        type: 'object',
        description: 'what was not taken, or what to know though all was',
        required: ['rejectedLogRecords', 'errorMessage'],
        additionalProperties: false,
        properties: { rejectedLogRecords: { type: 'integer' }, errorMessage: { type: 'string' } },
      },
    },
  },
} as const;

export const sendOtlpLogs = endpoint('post', '/otlp/:source/v1/logs', {
  ...body,
  summary: `Log records over the OpenTelemetry protocol (OTLP/HTTP): protobuf or JSON, gzip allowed, at most ${INTAKE_LIMITS.records} a request`,
});
