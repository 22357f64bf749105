import { csvLine } from '../../core/output/csv.js';
import { textCell } from '../../core/output/cells.js';
import { nothing } from '../../core/wire/common.js';
import { newSnapshot, snapshot, snapshotList, snapshotSummary } from '../../core/wire/paths.js';
import { ANSWERED, route, type Route } from '../http/route.js';
import type { Snapshots } from './service.js';
import type { Value } from '../../core/wick/plan.js';

const byId = {
  type: 'object',
  required: ['id'],
  properties: { id: { type: 'string', pattern: '^[0-9]{1,15}$' } },
} as const;

/** Results kept as they were: evidence that everyone may read. */
export function snapshotRoutes(snapshots: Snapshots): Route[] {
  return [
    route('get', '/snapshots', {
      access: 'reader',
      summary: 'Results that are kept, the newest first',
      answer: snapshotList,
      handle: async () => ({ snapshots: await snapshots.all() }),
    }),
    route('post', '/snapshots', {
      access: 'analyst',
      summary: 'Run a hunt and keep its result with the hunt, its window and the time of asking',
      body: newSnapshot,
      answer: snapshotSummary,
      handle: async ({ body, person, signal }) => snapshots.keep(body, person.name, signal),
    }),
    route('get', '/snapshots/:id', {
      access: 'reader',
      summary: 'A result as it was',
      params: byId,
      answer: snapshot,
      handle: async ({ params }) => snapshots.one(Number(params.id)),
    }),
    route('get', '/snapshots/:id/export', {
      access: 'reader',
      summary: 'The rows of a snapshot as a file, CSV (safe for spreadsheets) or JSON lines',
      params: byId,
      query: { type: 'object', required: ['format'], properties: { format: { enum: ['csv', 'jsonl'] } } },
      async handle({ params, query, response }) {
        const { columns, rows } = await snapshots.one(Number(params.id));
        const lines =
          query.format === 'csv'
            ? [
                csvLine(columns.map(({ name }) => name)),
                ...rows.map((row) => csvLine(row.map((value) => textCell(value as Value, 'any')))),
              ].map((line) => `${line}\r\n`)
            : rows.map(
                (row) =>
                  `${JSON.stringify(Object.fromEntries(columns.map(({ name }, i) => [name, row[i] ?? null])))}\n`,
              );
        response.attachment(`snapshot-${params.id}.${query.format}`);
        response.type(query.format === 'csv' ? 'text/csv' : 'application/x-ndjson');
        response.end(lines.join(''));
        return ANSWERED;
      },
    }),
    route('delete', '/snapshots/:id', {
      access: 'analyst',
      summary: 'Remove a snapshot of yours',
      params: byId,
      answer: nothing,
      async handle({ params, person }) {
        await snapshots.remove(Number(params.id), person.name);
        return {};
      },
    }),
  ];
}
