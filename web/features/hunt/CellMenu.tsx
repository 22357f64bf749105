import { ArrowRight } from '@phosphor-icons/react/dist/csr/ArrowRight';
import { BookOpenText } from '@phosphor-icons/react/dist/csr/BookOpenText';
import { Copy } from '@phosphor-icons/react/dist/csr/Copy';
import { ListNumbers } from '@phosphor-icons/react/dist/csr/ListNumbers';
import { Rows } from '@phosphor-icons/react/dist/csr/Rows';
import { MinusCircle } from '@phosphor-icons/react/dist/csr/MinusCircle';
import {
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
  type JSX,
  type KeyboardEvent,
  type ReactNode,
} from 'react';
import type { Json } from '../../../core/base/json.js';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import type { ValueAction } from '../../../core/wick/write-step.js';

/** A value of the result that a menu speaks of. */
export interface PickedValue {
  readonly column: HuntColumn;
  readonly value: Json;
  /** The whole row it stands in, where it stands in one. */
  readonly row?: readonly { readonly column: string; readonly value: Json }[];
}

interface CellMenuProps {
  readonly picked: PickedValue;
  readonly at: { readonly x: number; readonly y: number };
  readonly onStep: (action: ValueAction, picked: PickedValue) => void;
  /** Absent where no events can be told for the row. */
  readonly onBehind?: () => void;
  /** Absent where the value is no subject. */
  readonly onDossier?: () => void;
  readonly onClose: () => void;
}

interface Item {
  readonly key: string;
  readonly label: string;
  readonly icon: ReactNode;
  readonly act: () => void;
  readonly after?: true;
}

/** What can be done with a value, always in the same order; each item has its key. */
export function CellMenu({ picked, at, onStep, onBehind, onDossier, onClose }: CellMenuProps): JSX.Element {
  const menu = useRef<HTMLDivElement>(null);
  const [place, setPlace] = useState(at);
  const text =
    picked.value === null
      ? 'no value'
      : typeof picked.value === 'object'
        ? JSON.stringify(picked.value)
        : String(picked.value);
  const conditional = picked.value === null || typeof picked.value !== 'object';
  const items: Item[] = [
    ...(conditional
      ? [
          { key: 'k', label: 'Keep only this', icon: <ArrowRight />, act: () => onStep('keep', picked) },
          {
            key: 'x',
            label: 'Leave this out',
            icon: <MinusCircle />,
            act: () => onStep('leave-out', picked),
          },
        ]
      : []),
    {
      key: 't',
      label: 'Tally per this',
      icon: <ListNumbers />,
      act: () => onStep('tally', picked),
      after: true,
    },
    ...(onBehind === undefined
      ? []
      : [{ key: 'e', label: 'The events behind this row', icon: <Rows />, act: onBehind }]),
    ...(onDossier === undefined
      ? []
      : [{ key: 'd', label: 'Open dossier', icon: <BookOpenText />, act: onDossier }]),
    { key: 'c', label: 'Copy', icon: <Copy />, act: () => void navigator.clipboard.writeText(text) },
  ];

  useLayoutEffect(() => {
    const box = menu.current?.getBoundingClientRect();
    if (box === undefined) return;
    setPlace({
      x: Math.max(4, Math.min(at.x, window.innerWidth - box.width - 8)),
      y: Math.max(4, Math.min(at.y, window.innerHeight - box.height - 8)),
    });
  }, [at]);
  useEffect(() => {
    menu.current?.querySelector<HTMLElement>('.dropdown-item')?.focus();
    const outside = (event: PointerEvent): void => {
      if (event.target instanceof Node && menu.current?.contains(event.target) !== true) onClose();
    };
    window.addEventListener('pointerdown', outside);
    return () => window.removeEventListener('pointerdown', outside);
  }, [onClose]);

  const run = (item: Item): void => {
    onClose();
    item.act();
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    event.stopPropagation();
    if (event.key === 'Escape' || event.key === 'Tab') {
      event.preventDefault();
      return onClose();
    }
    const chosen = items.find((item) => item.key === event.key.toLowerCase());
    if (chosen !== undefined) {
      event.preventDefault();
      return run(chosen);
    }
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
    event.preventDefault();
    const all = [...(menu.current?.querySelectorAll<HTMLElement>('.dropdown-item') ?? [])];
    const now = all.findIndex((item) => item === document.activeElement);
    all[(now + (event.key === 'ArrowDown' ? 1 : -1) + all.length) % all.length]?.focus();
  };
  return (
    <div
      ref={menu}
      role="menu"
      className="dropdown-menu show cell-menu"
      style={{ left: place.x, top: place.y }}
      onKeyDown={onKeyDown}
      aria-label={`${picked.column.name} is ${text}`}
    >
      <div className="dropdown-header">
        {picked.column.name} {picked.value === null ? 'has ' : '= '}
        <span className="mono" style={{ color: 'var(--ink)' }}>
          {text}
        </span>
      </div>
      {items.map((item) => (
        <div key={item.key}>
          <button type="button" role="menuitem" className="dropdown-item" onClick={() => run(item)}>
            {item.icon}
            {item.label}
            <kbd>{item.key.toUpperCase()}</kbd>
          </button>
          {item.after && <hr className="dropdown-divider" />}
        </div>
      ))}
    </div>
  );
}
