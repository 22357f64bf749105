import { BYTE_ORDER_MARK, csvHead, csvRow, sheetRow } from '../../core/output/csv.js';
import { jsonRow } from '../../core/output/json-lines.js';
import { whoAsks } from '../db/who-asks.js';
import type { ExportFormat } from '../../core/wire/hunts.js';
import type { HuntQuestion, HuntPlanner } from './planner.js';
import type { HuntRunner } from './runner.js';

/**
 * All rows of a hunt as a file, as they come from the database: any number of them passes through little memory.
 * @throws HuntError for a hunt that is refused; Failure when it is stopped or takes too long
 */
export async function* exportHunt(
  { planner, runner }: { readonly planner: HuntPlanner; readonly runner: HuntRunner },
  request: HuntQuestion,
  format: ExportFormat,
  signal: AbortSignal,
): AsyncGenerator<string> {
  const plan = await planner.plan(request);
  const { columns } = plan;
  const head =
    format === 'jsonl' ? '' : `${format === 'spreadsheet' ? BYTE_ORDER_MARK : ''}${csvHead(columns)}\r\n`;
  const leave = await runner.placesFor('file')?.take(whoAsks(), signal);
  try {
    let isFirst = true;
    for await (const rows of runner.stream(plan, { purpose: 'file', signal })) {
      const lines = rows.map(({ values }) =>
        format === 'jsonl'
          ? `${JSON.stringify(jsonRow(columns, values))}\n`
          : `${(format === 'csv' ? csvRow : sheetRow)(columns, values)}\r\n`,
      );
      yield `${isFirst ? head : ''}${lines.join('')}`;
      isFirst = false;
    }
    // A table without rows has its head all the same.
    if (isFirst && head !== '') yield head;
  } finally {
    leave?.();
  }
}
