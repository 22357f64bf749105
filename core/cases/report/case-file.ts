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
  /** The files that are pinned, as they came. */
  readonly files: CaseFileBytes['files'];
  /** Titles of those that were too much to be taken along, or are not there any more. */
  readonly filesLeftOut: CaseFileBytes['leftOut'];
}

/** The files of a case, by their hashes. */
export interface CaseFileBytes {
  readonly files: readonly { readonly sha256: string; readonly base64: string }[];
  readonly leftOut: readonly string[];
}

/** The lossless file of a report's case; what was left out of the report is left out of it, too. */
export function caseFile(
  { record, steps, notes, made }: Report,
  { files, leftOut }: CaseFileBytes = { files: [], leftOut: [] },
): string {
  const file: CaseFile = {
    format: CASE_FILE,
    version: CASE_FILE_VERSION,
    made,
    case: { ...record, pins: steps.map(({ pin }) => pin), notes },
    files,
    filesLeftOut: leftOut,
  };
  return `${JSON.stringify(file, null, 2)}\n`;
}
