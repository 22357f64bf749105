import { canonicalAddress } from '../../../net/address.js';
import { readNumber } from '../../../text/numbers.js';
import { cutBlanks } from '../../../text/blanks.js';
import { regexGroups } from '../../../text/regex-match.js';
import type { ReadAs, Value } from '../../plan.js';
import { withCells } from '../row.js';
import type { RunStep } from './run-step.js';

const readers: Readonly<Record<ReadAs, (text: string) => Value>> = {
  text: (text) => text,
  number: readNumber,
  address: (text) => canonicalAddress(text.trim()),
};

/** Cuts columns out of a text. */
export const runRead: RunStep<'read'> = ({ value, by, columns }, rows, compile) => {
  const evaluate = compile.expr(value);
  const cut = by.how === 'blanks' ? cutBlanks(by.pattern) : regexGroups(by.regex, by.groups);
  return rows.map((row) => {
    const text = evaluate(row);
    const parts = typeof text === 'string' ? cut(text) : null;
    return withCells(
      row,
      Object.fromEntries(
        columns.map(({ column, as }, i) => {
          const part = parts?.[i] ?? null;
          return [column.slot, part === null ? null : readers[as](part)];
        }),
      ),
    );
  });
};
