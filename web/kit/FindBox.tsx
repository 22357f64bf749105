import { type JSX, useState } from 'react';
import { Form } from 'react-bootstrap';
import { useDebouncedCallback } from 'use-debounce';

/** What is typed is looked for once the hand rests. */
const REST_MILLISECONDS = 200;

/** Finds rows by a word; the word is told once the hand rests, or at once by Enter. */
export function FindBox({
  label,
  hint,
  value,
  onFind,
  className = '',
}: {
  label: string;
  /** What is looked through: "Title, owner". */
  hint: string;
  value: string;
  onFind: (value: string) => void;
  className?: string;
}): JSX.Element {
  const [typed, setTyped] = useState(value);
  const tell = useDebouncedCallback(onFind, REST_MILLISECONDS);
  const [known, setKnown] = useState(value);
  if (known !== value) {
    setKnown(value);
    // A link, or "show them all", says otherwise than what stands here; what is being typed is not taken back.
    if (!tell.isPending()) setTyped(value);
  }
  return (
    <Form.Control
      size="sm"
      type="search"
      className={`find-box ${className}`}
      aria-label={label}
      placeholder={hint}
      value={typed}
      onChange={(event) => {
        setTyped(event.target.value);
        tell(event.target.value);
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter') tell.flush();
      }}
    />
  );
}
