import type { JSX, ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { type DefaultValues, type FieldValues, FormProvider, useForm, useWatch } from 'react-hook-form';
import { Failed } from '../ui/State.js';
import { Dialog } from './Dialog.js';

/**
 * A dialogue that asks for a few things and sends them: its fields are those of any form. Enter sends it; Escape and
 * its other button leave everything as it is.
 */
export function FieldsDialog<Values extends FieldValues>({
  title,
  begin,
  onSend,
  send,
  leave = 'Cancel',
  maySend = () => true,
  isSending,
  failure,
  failed = 'Nothing was changed',
  done,
  size,
  onClose,
  children,
}: {
  title: ReactNode;
  begin: DefaultValues<Values>;
  onSend: (values: Values) => void;
  /** What its buttons say. */
  send: string;
  leave?: string;
  /** Whether it can be sent as it stands. */
  maySend?: (values: Values) => boolean;
  isSending: boolean;
  failure: Error | null;
  failed?: string;
  /** What came of it, once it was sent: shown in place of the fields, with a button that closes. */
  done?: ReactNode;
  size?: 'lg';
  onClose: () => void;
  /** Fields; given what they hold, where they depend on each other. */
  children: ReactNode | ((values: Values) => ReactNode);
}): JSX.Element {
  const form = useForm<Values>({ defaultValues: begin });
  // Every field has a beginning, so that none is missing.
  const values = useWatch({ control: form.control }) as Values;
  if (done !== undefined)
    return (
      <Dialog
        title={title}
        onClose={onClose}
        {...(size && { size })}
        foot={
          <Button variant="primary" autoFocus onClick={onClose}>
            Done
          </Button>
        }
      >
        <div role="status">{done}</div>
      </Dialog>
    );
  return (
    <FormProvider {...form}>
      <Dialog
        title={title}
        onClose={onClose}
        {...(size && { size })}
        onSend={() => onSend(form.getValues())}
        foot={
          <>
            <Button variant="outline-secondary" onClick={onClose}>
              {leave}
            </Button>
            <Button type="submit" variant="primary" disabled={isSending || !maySend(values)}>
              {send}
            </Button>
          </>
        }
      >
        <div className="d-grid gap-2">{typeof children === 'function' ? children(values) : children}</div>
        {failure !== null && <Failed title={failed}>{failure.message}</Failed>}
      </Dialog>
    </FormProvider>
  );
}
