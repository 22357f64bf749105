import { endpoint } from '../endpoint.js';
import { formatNames } from '../format-names.js';
import { bySource } from '../params.js';
import { INTAKE_LIMITS, intakeResult, intakeSource, intakeWays, uploadResult } from '../sources.js';

/** Records that are written otherwise than their source says. */
const otherWay = {
  type: 'object',
  properties: {
    recipe: {
      type: 'string',
      maxLength: 100,
      description: "read by this recipe instead of the source's own",
    },
    format: { enum: formatNames, description: 'cut and read so instead of as the recipe says' },
  },
} as const;

export const readIntakeSource = endpoint('get', '/intake/:source', {
  access: 'source-key',
  summary: 'How the records of a source are written, for its senders',
  params: bySource,
  query: otherWay,
  answer: intakeSource,
});

export const sendRecords = endpoint('post', '/intake/:source', {
  access: 'source-key',
  summary: `Send records: JSON lines, a JSON array or text lines, gzip allowed, at most ${INTAKE_LIMITS.bytes} bytes and ${INTAKE_LIMITS.records} records a request`,
  params: bySource,
  query: otherWay,
  answer: intakeResult,
  rawBody: true,
});

export const readIntakeWays = endpoint('get', '/intake', {
  access: 'reader',
  summary: 'How records can come in: limits of a request, ports of the syslog listener',
  answer: intakeWays,
});

export const uploadFile = endpoint('post', '/sources/:source/upload', {
  access: 'analyst',
  summary: 'Store a file of records, plain or gzipped, of any size',
  params: bySource,
  query: otherWay,
  answer: uploadResult,
  rawBody: true,
});
