import { X } from '@phosphor-icons/react/dist/csr/X';
import { useState, type JSX, type ReactNode } from 'react';
import { Form } from 'react-bootstrap';

/** One setting of a card: its name, what sets it, and whether it differs from what is kept. */
export function Setting({
  label,
  id,
  edited,
  tall = false,
  children,
}: {
  readonly label: string;
  readonly id?: string;
  readonly edited: boolean;
  readonly tall?: boolean;
  readonly children: ReactNode;
}): JSX.Element {
  return (
    <div className={`setting${edited ? ' edited' : ''}${tall ? ' tall' : ''}`}>
      {id === undefined ? (
        <span className="setting-label">{label}</span>
      ) : (
        <label htmlFor={id}>{label}</label>
      )}
      <div className="setting-control">{children}</div>
    </div>
  );
}

/** A whole number from 1; what is no such number changes nothing. */
export function NumberField({
  label,
  most,
  value,
  onNumber,
}: {
  readonly label: string;
  readonly most: number;
  readonly value: number;
  readonly onNumber: (value: number) => void;
}): JSX.Element {
  return (
    <Form.Control
      size="sm"
      className="number-field"
      type="number"
      min={1}
      max={most}
      aria-label={label}
      value={value}
      onChange={(event) => Number(event.target.value) > 0 && onNumber(Number(event.target.value))}
    />
  );
}

/** The words that a card leaves out, each to be taken back. */
export function WordsSetting({
  words,
  field,
  edited,
  onAdd,
  onBack,
}: {
  readonly words: readonly { readonly field: string; readonly word: string }[];
  readonly field: string | null;
  readonly edited: boolean;
  readonly onAdd: (word: string) => void;
  readonly onBack: (word: { readonly field: string; readonly word: string }) => void;
}): JSX.Element {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <Setting label="Without words" edited={edited}>
      {words.map((one) => (
        <span key={`${one.field} ${one.word}`} className="chip">
          {one.word}
          <button type="button" aria-label={`Show ${one.word} again`} onClick={() => onBack(one)}>
            <X aria-hidden />
          </button>
        </span>
      ))}
      {typed === null ? (
        <button type="button" className="link sm" disabled={field === null} onClick={() => setTyped('')}>
          Add
        </button>
      ) : (
        <Form.Control
          size="sm"
          autoFocus
          className="mono"
          aria-label="A word to leave out"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={() => setTyped(null)}
          onKeyDown={(event) => {
            if (event.key === 'Escape') setTyped(null);
            if (event.key !== 'Enter' || typed.trim() === '') return;
            event.stopPropagation();
            event.preventDefault();
            onAdd(typed.trim());
            setTyped(null);
          }}
        />
      )}
    </Setting>
  );
}
