import type { JSX, KeyboardEvent, ReactNode } from 'react';

const STEPS: Readonly<Record<string, number>> = { ArrowLeft: -1, ArrowRight: 1 };

/**
 * Tabs over what is shown below them; left and right walk them (WAI-ARIA Authoring Practices, tabs).
 * @param names in their order
 */
export function Tabs<Name extends string>({
  label,
  names,
  chosen,
  onChoose,
  show = (name) => name,
  className = '',
}: {
  label: string;
  names: readonly Name[];
  chosen: Name;
  onChoose: (name: Name) => void;
  show?: (name: Name) => ReactNode;
  className?: string;
}): JSX.Element {
  const walk = (event: KeyboardEvent<HTMLDivElement>): void => {
    const step = STEPS[event.key];
    if (step === undefined) return;
    const to = (names.indexOf(chosen) + step + names.length) % names.length;
    const name = names[to];
    if (name === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    onChoose(name);
    event.currentTarget.querySelectorAll('button')[to]?.focus();
  };
  return (
    <div className={`tabs ${className}`} role="tablist" aria-label={label} onKeyDown={walk}>
      {names.map((name) => (
        <button
          key={name}
          type="button"
          role="tab"
          aria-selected={name === chosen}
          onClick={() => onChoose(name)}
        >
          {show(name)}
        </button>
      ))}
    </div>
  );
}
