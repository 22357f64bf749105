import type { CaseRecord, Report } from './model.js';

/** What a case file says it is. */
export const CASE_FILE = 'under-lamp-case';
export const CASE_FILE_VERSION = 1;

/** A case as a file that another installation can read, with all evidence as it was frozen. */
export interface CaseFile {
  readonly format: typeof CASE_FILE;
  readonly version: typeof CASE_FILE_VERSION;
  readonly made: string;
  readonly case: CaseRecord;
}

/** The lossless file of a report's case; what was left out of the report is left out of it, too. */
export function caseFile({ record, steps, notes, made }: Report): string {
  const file: CaseFile = {
    format: CASE_FILE,
    version: CASE_FILE_VERSION,
    made,
    case: { ...record, pins: steps.map(({ pin }) => pin), notes },
  };
  return `${JSON.stringify(file, null, 2)}\n`;
}
