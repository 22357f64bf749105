import { textCell } from '../../core/output/cells.js';
import { csvLine } from '../../core/output/csv.js';
import type { Value } from '../../core/wick/plan.js';
import {
  exportSnapshot,
  keepSnapshot,
  listSnapshots,
  readSnapshot,
  removeSnapshot,
} from '../../core/wire/endpoints/snapshots.js';
import { ANSWERED, handles, type Route } from '../http/route.js';
import type { Snapshots } from './service.js';

/** Results kept as they were: evidence that everyone may read. */
export function snapshotRoutes(snapshots: Snapshots): Route[] {
  return [
    handles(listSnapshots, ({ query }) => snapshots.all(query)),
    handles(keepSnapshot, async ({ body, person, signal }) => snapshots.keep(body, person.name, signal)),
    handles(readSnapshot, async ({ params }) => snapshots.one(Number(params.id))),
    handles(exportSnapshot, async ({ params, query, response }) => {
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
    }),
    handles(removeSnapshot, async ({ params, person }) => {
      await snapshots.remove(Number(params.id), person.name);
      return {};
    }),
  ];
}
