import type { JSX } from 'react';
import { isJsonObject, type Json } from '../../../../core/base/json.js';
import type { ValueAction } from '../../../../core/wick/write-step.js';
import type { PickedValue } from '../../../results/menus/CellMenu.js';

const isBranch = (value: Json): boolean =>
  (isJsonObject(value) && Object.keys(value).length > 0) || (Array.isArray(value) && value.length > 0);

const entriesOf = (value: Json): [string, Json][] =>
  Array.isArray(value)
    ? (value as readonly Json[]).map((inner, i) => [String(i), inner])
    : isJsonObject(value)
      ? Object.entries(value)
      : [];

const shown = (value: Json): string => (typeof value === 'string' ? value : JSON.stringify(value));

/** How many fields hold values, those within others included. */
export const countFields = (value: Json): number =>
  isBranch(value) ? entriesOf(value).reduce((sum, [, inner]) => sum + countFields(inner), 0) : 1;

/** Whether a text stands in a path or a value of a part of the tree. */
function holds(path: readonly string[], value: Json, find: string): boolean {
  if (path.join('.').toLowerCase().includes(find)) return true;
  return isBranch(value)
    ? entriesOf(value).some(([key, inner]) => holds([...path, key], inner, find))
    : shown(value).toLowerCase().includes(find);
}

interface TreeProps {
  readonly value: Json;
  /** Only what holds this is shown. */
  readonly find: string;
  readonly onStep: (action: ValueAction, picked: PickedValue) => void;
}

/** All of a source's own fields as a tree; a value there can be kept or left out by its path. */
export function OriginalTree({ value, find, onStep }: TreeProps): JSX.Element {
  const looked = find.trim().toLowerCase();
  const found = entriesOf(value).filter(([key, inner]) => holds([key], inner, looked));
  return (
    <div className="inset original-fields pb-2">
      {found.map(([key, inner]) => (
        <Branch key={key} path={[key]} value={inner} find={looked} onStep={onStep} />
      ))}
      {found.length === 0 && <p className="soft">No field holds this.</p>}
    </div>
  );
}

function Branch({
  path,
  value,
  find,
  onStep,
}: TreeProps & { readonly path: readonly string[] }): JSX.Element {
  const name = path.at(-1) ?? '';
  if (isBranch(value)) {
    const inside = entriesOf(value).filter(([key, inner]) => holds([...path, key], inner, find));
    return (
      <details open>
        <summary title={path.join('.')}>
          {name} <span className="faint">{Array.isArray(value) ? `${value.length} values` : ''}</span>
        </summary>
        {inside.map(([key, inner]) => (
          <Branch key={key} path={[...path, key]} value={inner} find={find} onStep={onStep} />
        ))}
      </details>
    );
  }
  const picked: PickedValue = {
    column: { name: ['original', ...path].join('.'), type: 'any', field: null },
    value,
  };
  // Names with dots cannot be told from a path here.
  const nameable = typeof value !== 'object' && path.every((part) => !part.includes('.'));
  return (
    <div className="leaf">
      <b title={path.join('.')}>{name}</b>
      <span>{shown(value)}</span>
      {nameable && (
        <span className="duo">
          <button type="button" onClick={() => onStep('keep', picked)}>
            Keep only
          </button>
          <button type="button" onClick={() => onStep('leave-out', picked)}>
            Leave out
          </button>
        </span>
      )}
    </div>
  );
}
