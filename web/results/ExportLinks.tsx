import { useMutation } from '@tanstack/react-query';
import type { JSX } from 'react';
import type { ExportFormat } from '../../core/wire/hunts.js';
import { saveAnswer } from '../api/save-answer.js';

const formats = [
  ['spreadsheet', 'CSV'],
  ['jsonl', 'JSON lines'],
] as const;
/** Longer addresses are not taken by everything on the way. */
const MAX_ADDRESS = 6000;

/** How the rows of a result are had as a file. */
export interface Exports {
  /** As an address that can be passed on. */
  readonly address: (format: ExportFormat) => string;
  /** The same as a request, for hunts that are too long for an address. */
  readonly request: (format: ExportFormat) => { readonly path: string; readonly body: unknown };
}

/** Links that save all rows of a result. */
export function ExportLinks({ exports }: { exports: Exports }): JSX.Element {
  const save = useMutation({
    mutationFn: (format: ExportFormat) => {
      const { path, body } = exports.request(format);
      return saveAnswer(path, body, format === 'jsonl' ? 'hunt.jsonl' : 'hunt.csv');
    },
  });
  return (
    <span>
      Export{' '}
      {formats.map(([format, word]) => {
        const address = exports.address(format);
        return address.length <= MAX_ADDRESS ? (
          <a key={format} href={address} download className="me-1">
            {word}
          </a>
        ) : (
          <button
            key={format}
            type="button"
            className="link me-1"
            disabled={save.isPending}
            onClick={() => save.mutate(format)}
          >
            {word}
          </button>
        );
      })}
      {save.isPending && <span role="status">fetching…</span>}
      {save.isError && <span className="problem">not saved: {save.error.message}</span>}
    </span>
  );
}
