import { ArrowDown } from '@phosphor-icons/react/dist/csr/ArrowDown';
import { ArrowUp } from '@phosphor-icons/react/dist/csr/ArrowUp';
import { ChartBar } from '@phosphor-icons/react/dist/csr/ChartBar';
import { EyeSlash } from '@phosphor-icons/react/dist/csr/EyeSlash';
import { ListNumbers } from '@phosphor-icons/react/dist/csr/ListNumbers';
import { PencilSimple } from '@phosphor-icons/react/dist/csr/PencilSimple';
import { SquareSplitVertical } from '@phosphor-icons/react/dist/csr/SquareSplitVertical';
import { TextAa } from '@phosphor-icons/react/dist/csr/TextAa';
import type { JSX } from 'react';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import type { ColumnAction } from '../../../core/wick/write-step.js';
import { PopMenu, type MenuItem } from '../../ui/PopMenu.js';

interface ColumnMenuProps {
  readonly column: HuntColumn;
  readonly at: { readonly x: number; readonly y: number };
  readonly onStep: (action: ColumnAction, column: HuntColumn) => void;
  readonly onValues: (column: HuntColumn) => void;
  readonly onRename: (column: HuntColumn) => void;
  /** Absent where bars cannot be split by it. */
  readonly onSplit?: ((field: string) => void) | undefined;
  readonly onClose: () => void;
}

/** Types whose values are too many or too manifold to split bars by. */
const UNSPLIT: ReadonlySet<string> = new Set(['texts', 'addresses', 'any', 'time']);

/** What can be done with a column; what changes rows is written as a step. */
export function ColumnMenu(props: ColumnMenuProps): JSX.Element {
  const { column, at, onStep, onSplit, onClose } = props;
  const step = (key: string, label: string, icon: JSX.Element, action: ColumnAction): MenuItem => ({
    key,
    label,
    icon,
    act: () => onStep(action, column),
  });
  const { field } = column;
  return (
    <PopMenu
      at={at}
      onClose={onClose}
      label={`Column ${column.name}`}
      head={<span className="mono">{column.name}</span>}
      groups={[
        [
          { key: 'v', label: 'Values by frequency', icon: <ChartBar />, act: () => props.onValues(column) },
          step('t', 'Tally per this', <ListNumbers />, 'tally'),
          ...(column.type === 'text' ? [step('s', 'Shapes of its texts', <TextAa />, 'shapes')] : []),
          ...(onSplit !== undefined && field !== null && !UNSPLIT.has(column.type)
            ? [
                {
                  key: 'p',
                  label: 'Split the timeline by this',
                  icon: <SquareSplitVertical />,
                  act: () => onSplit(field),
                },
              ]
            : []),
        ],
        [
          step('a', 'Sort, least first', <ArrowUp />, 'ascending'),
          step('d', 'Sort, most first', <ArrowDown />, 'descending'),
          { key: 'r', label: 'Rename', icon: <PencilSimple />, act: () => props.onRename(column) },
          step('h', 'Hide', <EyeSlash />, 'hide'),
        ],
      ]}
    />
  );
}
