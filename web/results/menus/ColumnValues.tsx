import { useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import type { Json } from '../../../core/base/json.js';
import { spellName } from '../../../core/wick/spell.js';
import type { ValueAction } from '../../../core/wick/write-step.js';
import { runHunt } from '../../../core/wire/endpoints/hunts.js';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import type { Question } from '../../../core/wire/paths.js';
import { answerTo } from '../../api/call.js';
import { Dialog } from '../../kit/Dialog.js';
import { count, showTime } from '../../ui/format.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { pickedText, type PickedValue } from './CellMenu.js';

const MOST = 100;

/** The values of a column in all rows of the hunt, the most frequent first. */
export function ColumnValues({
  column,
  question,
  zone,
  onStep,
  onClose,
}: {
  readonly column: HuntColumn;
  readonly question: Omit<Question, 'last'>;
  readonly zone: string;
  readonly onStep: (action: ValueAction, picked: PickedValue) => void;
  readonly onClose: () => void;
}): JSX.Element {
  const name = spellName(column.name);
  const text = `${question.text.trimEnd()}\ntally count() as "rows" per ${name} as "value"\nsort "rows" desc\nfirst ${MOST}`;
  const values = useQuery({
    ...answerTo(runHunt, { body: { ...question, text, limit: MOST, shares: false } }),
    staleTime: Infinity,
    retry: false,
  });
  const rows = (values.data?.rows ?? []) as unknown as (readonly [Json, number])[];
  const most = Math.max(1, ...rows.map(([, n]) => n));
  const act = (action: ValueAction, value: Json): void => {
    onClose();
    onStep(action, { column, value });
  };
  return (
    <Dialog
      title={
        <>
          Values of <span className="mono">{column.name}</span>
        </>
      }
      onClose={onClose}
    >
      {values.isPending && <Reading title="Counting values" onStop={onClose} />}
      {values.isError && <Failed title="They could not be counted">{values.error.message}</Failed>}
      {values.isSuccess && rows.length === 0 && <Empty title="No rows">The hunt found nothing.</Empty>}
      {rows.length === MOST && <p className="xs soft">The {MOST} most frequent are shown.</p>}
      <ul className="value-bars">
        {rows.map(([value, n], i) => (
          <li key={i}>
            <span className="mono cut" title={pickedText(value)}>
              {column.type === 'time' && typeof value === 'string'
                ? showTime(value, zone, 'log')
                : pickedText(value)}
            </span>
            <span className="bar">
              <i style={{ width: `${(n / most) * 100}%` }} />
            </span>
            <span className="num">{count(n)}</span>
            {(value === null || typeof value !== 'object') && (
              <span className="own-actions">
                <button type="button" className="link xs" onClick={() => act('keep', value)}>
                  keep
                </button>
                <button type="button" className="link xs" onClick={() => act('leave-out', value)}>
                  leave out
                </button>
              </span>
            )}
          </li>
        ))}
      </ul>
    </Dialog>
  );
}
