import { type JSX, type ReactNode, useId } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useForm, useWatch } from 'react-hook-form';
import { Failed } from '../ui/State.js';

/** One line of text and the button that sends it, without blanks around it. Escape leaves it, where it can be left. */
export function LineForm({
  label,
  field,
  isFieldSeen = false,
  placeholder,
  mayBeEmpty = false,
  minLength = 1,
  maxLength,
  proposals,
  autoFocus = true,
  send,
  variant = 'primary',
  isSending = false,
  onSend,
  onCancel,
  failure = null,
  failed = 'Nothing was changed',
  className = 'd-flex gap-2 align-items-center',
}: {
  /** What the form is called, for those who hear the page. */
  label: string;
  /** What its line is called. */
  field: string;
  /** Whether that is to be read before the line, too. */
  isFieldSeen?: boolean;
  placeholder?: string;
  mayBeEmpty?: boolean;
  minLength?: number;
  maxLength: number;
  /** Words that it may be, proposed while one types. */
  proposals?: readonly string[] | undefined;
  autoFocus?: boolean;
  /** What the button says. */
  send: ReactNode;
  variant?: 'primary' | 'outline-secondary';
  isSending?: boolean;
  onSend: (line: string) => void;
  onCancel?: () => void;
  failure?: Error | null;
  failed?: string;
  className?: string;
}): JSX.Element {
  const id = useId();
  const { register, control, getValues } = useForm({ defaultValues: { line: '' } });
  const line = useWatch({ control, name: 'line' }).trim();
  const maySend = !isSending && (mayBeEmpty || line.length >= minLength);
  return (
    <>
      <Form
        className={className}
        aria-label={label}
        onSubmit={(event) => {
          event.preventDefault();
          if (maySend) onSend(getValues('line').trim());
        }}
        onKeyDown={(event) => {
          if (event.key !== 'Escape' || onCancel === undefined) return;
          event.stopPropagation();
          onCancel();
        }}
      >
        {isFieldSeen && (
          <Form.Label className="sm mb-0 nowrap" htmlFor={id}>
            {field}
          </Form.Label>
        )}
        <Form.Control
          id={id}
          size="sm"
          autoComplete="off"
          autoFocus={autoFocus}
          {...(!isFieldSeen && { 'aria-label': field })}
          placeholder={placeholder}
          maxLength={maxLength}
          list={proposals === undefined ? undefined : `${id}-proposals`}
          {...register('line')}
        />
        {proposals !== undefined && (
          <datalist id={`${id}-proposals`}>
            {proposals.map((word) => (
              <option key={word} value={word} />
            ))}
          </datalist>
        )}
        <Button type="submit" size="sm" variant={variant} className="nowrap" disabled={!maySend}>
          {send}
        </Button>
        {onCancel !== undefined && (
          <button type="button" className="link sm" onClick={onCancel}>
            Cancel
          </button>
        )}
      </Form>
      {failure !== null && <Failed title={failed}>{failure.message}</Failed>}
    </>
  );
}
