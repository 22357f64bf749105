import { OTLPLogExporter as JsonExporter } from '@opentelemetry/exporter-logs-otlp-http';
import { OTLPLogExporter as ProtoExporter } from '@opentelemetry/exporter-logs-otlp-proto';
import { resourceFromAttributes } from '@opentelemetry/resources';
import { BatchLogRecordProcessor, LoggerProvider } from '@opentelemetry/sdk-logs';

// A service that logs over the official exporter: a process of its own, as a sender is. Address, key, and `proto` or `json`.

const [url = '', key = '', mark = 'json'] = process.argv.slice(2);
const headers = { Authorization: `Bearer ${key}` };
const exporter =
  mark === 'proto'
    ? new ProtoExporter({ url, headers, compression: 'gzip' as never })
    : new JsonExporter({ url, headers });
const provider = new LoggerProvider({
  resource: resourceFromAttributes({ 'service.name': `booking-${mark}`, 'host.name': 'quay-app-02' }),
  processors: [new BatchLogRecordProcessor({ exporter })],
});
const logger = provider.getLogger('seats', '2.1');
const timestamp = new Date('2026-11-14T08:00:00.123Z');
logger.emit({
  timestamp,
  severityNumber: 17,
  body: 'seat cannot be booked',
  attributes: {
    'user.name': `teo-${mark}`,
    'client.address': '198.18.40.77',
    'http.request.method': 'POST',
    'http.response.status_code': 500,
    seats: [1, 2],
  },
});
logger.emit({
  timestamp,
  severityNumber: 9,
  body: { step: 'paid' },
  attributes: { 'user.name': `runa-${mark}` },
});
await provider.forceFlush();
await provider.shutdown();
