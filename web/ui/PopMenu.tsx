import {
  Fragment,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
  type JSX,
  type KeyboardEvent,
  type ReactNode,
} from 'react';

/** What a menu offers; each item has its key. */
export interface MenuItem {
  readonly key: string;
  readonly label: string;
  readonly icon: ReactNode;
  readonly act: () => void;
}

interface PopMenuProps {
  /** Items by group, with a line between groups. */
  readonly groups: readonly (readonly MenuItem[])[];
  /** What the menu speaks of. */
  readonly head: ReactNode;
  readonly label: string;
  readonly at: { readonly x: number; readonly y: number };
  readonly onClose: () => void;
}

/** A menu beside the pointer or the cell it speaks of: arrows walk, letters choose, Escape closes. */
export function PopMenu({ groups, head, label, at, onClose }: PopMenuProps): JSX.Element {
  const menu = useRef<HTMLDivElement>(null);
  const [place, setPlace] = useState(at);
  const items = groups.flat();
  useLayoutEffect(() => {
    const box = menu.current?.getBoundingClientRect();
    if (box === undefined) return;
    setPlace({
      x: Math.max(4, Math.min(at.x, window.innerWidth - box.width - 8)),
      y: Math.max(4, Math.min(at.y, window.innerHeight - box.height - 8)),
    });
  }, [at]);
  useEffect(() => {
    const before = document.activeElement;
    menu.current?.querySelector<HTMLElement>('.dropdown-item')?.focus();
    const outside = (event: PointerEvent): void => {
      if (event.target instanceof Node && menu.current?.contains(event.target) !== true) onClose();
    };
    window.addEventListener('pointerdown', outside);
    return () => {
      window.removeEventListener('pointerdown', outside);
      // Whoever walks by keyboard goes on from where the menu was opened.
      if (before instanceof HTMLElement && document.activeElement === document.body) before.focus();
    };
  }, [onClose]);
  const run = (item: MenuItem): void => {
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
      aria-label={label}
    >
      <div className="dropdown-header">{head}</div>
      {groups
        .filter((group) => group.length > 0)
        .map((group, i) => (
          <Fragment key={group[0]?.key}>
            {i > 0 && <hr className="dropdown-divider" />}
            {group.map((item) => (
              <button
                key={item.key}
                type="button"
                role="menuitem"
                className="dropdown-item"
                onClick={() => run(item)}
              >
                {item.icon}
                {item.label}
                <kbd>{item.key.toUpperCase()}</kbd>
              </button>
            ))}
          </Fragment>
        ))}
    </div>
  );
}
