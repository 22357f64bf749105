import { ArrowRight } from '@phosphor-icons/react/dist/csr/ArrowRight';
import { BookOpenText } from '@phosphor-icons/react/dist/csr/BookOpenText';
import { ClockCounterClockwise } from '@phosphor-icons/react/dist/csr/ClockCounterClockwise';
import { Copy } from '@phosphor-icons/react/dist/csr/Copy';
import { Flashlight } from '@phosphor-icons/react/dist/csr/Flashlight';
import { ListNumbers } from '@phosphor-icons/react/dist/csr/ListNumbers';
import { ListPlus } from '@phosphor-icons/react/dist/csr/ListPlus';
import { MinusCircle } from '@phosphor-icons/react/dist/csr/MinusCircle';
import { Prohibit } from '@phosphor-icons/react/dist/csr/Prohibit';
import { Scroll } from '@phosphor-icons/react/dist/csr/Scroll';
import { Rows } from '@phosphor-icons/react/dist/csr/Rows';
import type { JSX } from 'react';
import type { Json } from '../../../core/base/json.js';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import type { ValueAction } from '../../../core/wick/write-step.js';
import { PopMenu, type MenuItem } from '../../ui/PopMenu.js';

/** A value of the result that a menu speaks of. */
export interface PickedValue {
  readonly column: HuntColumn;
  readonly value: Json;
  /** The whole row it stands in, where it stands in one. */
  readonly row?: readonly { readonly column: string; readonly field: string | null; readonly value: Json }[];
}

interface CellMenuProps {
  readonly picked: PickedValue;
  readonly at: { readonly x: number; readonly y: number };
  readonly onStep: (action: ValueAction, picked: PickedValue) => void;
  /** Absent where no events can be told for the row. */
  readonly onBehind?: (() => void) | undefined;
  /** Absent where the value is no subject. */
  readonly onDossier?: (() => void) | undefined;
  /** Absent where no condition can name the value, or it is no stored field. */
  readonly onCarry?: (() => void) | undefined;
  readonly onAddToList?: (() => void) | undefined;
  /** Absent where the row names no address to block. */
  readonly onBlockRule?: (() => void) | undefined;
  /** Absent where no rule can ask for the value. */
  readonly onMakeRule?: (() => void) | undefined;
  readonly onClose: () => void;
}

/** A value as one line of text. */
export const pickedText = (value: Json): string =>
  value === null ? 'no value' : typeof value === 'object' ? JSON.stringify(value) : String(value);

/** What can be done with a value, always in the same order. */
export function CellMenu({ picked, at, onStep, onClose, ...more }: CellMenuProps): JSX.Element {
  const text = pickedText(picked.value);
  const nameable = picked.value === null || typeof picked.value !== 'object';
  const step = (key: string, label: string, icon: JSX.Element, action: ValueAction): MenuItem => ({
    key,
    label,
    icon,
    act: () => onStep(action, picked),
  });
  const offered = (key: string, label: string, icon: JSX.Element, act?: () => void): MenuItem[] =>
    act === undefined ? [] : [{ key, label, icon, act }];
  return (
    <PopMenu
      at={at}
      onClose={onClose}
      label={`${picked.column.name} is ${text}`}
      head={
        <>
          {picked.column.name} {picked.value === null ? 'has ' : '= '}
          <span className="mono ink">{text}</span>
        </>
      }
      groups={[
        [
          ...(nameable
            ? [
                step('k', 'Keep only this', <ArrowRight />, 'keep'),
                step('x', 'Leave this out', <MinusCircle />, 'leave-out'),
              ]
            : []),
          step('t', 'Tally per this', <ListNumbers />, 'tally'),
          ...(nameable ? [step('f', 'First and last seen', <ClockCounterClockwise />, 'seen')] : []),
        ],
        [
          ...offered('e', 'The events behind this row', <Rows />, more.onBehind),
          ...offered('d', 'Open dossier', <BookOpenText />, more.onDossier),
          ...offered('b', 'Carry in the Beam', <Flashlight />, more.onCarry),
          ...offered('l', 'Add to a list', <ListPlus />, more.onAddToList),
          ...offered('m', 'Make a rule of it', <Scroll />, more.onMakeRule),
          ...offered('w', 'Write a block rule', <Prohibit />, more.onBlockRule),
          {
            key: 'c',
            label: 'Copy',
            icon: <Copy />,
            act: () => void navigator.clipboard.writeText(text),
          },
        ],
      ]}
    />
  );
}
