import { type ComponentProps, type JSX, type ReactNode, useEffect, useId } from 'react';
import { Button, Form, type FormControlProps } from 'react-bootstrap';
import {
  type DefaultValues,
  type FieldValues,
  FormProvider,
  type Path,
  type PathValue,
  useForm,
  useFormContext,
  useWatch,
} from 'react-hook-form';
import { Failed } from '../ui/State.js';

/**
 * A form: fields, what went wrong, and a button that sends it. What the browser can check (required, patterns, lengths)
 * it checks before anything is sent.
 */
export function FieldsForm<Values extends FieldValues>({
  label,
  begin,
  onSend,
  send,
  maySend = () => true,
  isSending,
  onCancel,
  also,
  failure,
  failed = 'Nothing was changed',
  fixed,
  className = 'inset d-grid gap-2 py-2',
  children,
}: {
  /** What the form is called, for those who hear the page. */
  label: string;
  begin: DefaultValues<Values>;
  onSend: (values: Values) => void;
  /** What the button says. */
  send: string;
  /** Whether it can be sent as it stands, where the browser cannot tell. */
  maySend?: (values: Values) => boolean;
  isSending: boolean;
  /** Leaves everything as it is; Escape does, too, where nothing was written yet that would be lost. */
  onCancel?: (() => void) | undefined;
  /** Further things to do, beside the buttons. */
  also?: ReactNode;
  failure: Error | null;
  failed?: string;
  /** Where nothing may be changed: shown in place of the buttons, and says why. */
  fixed?: string | undefined;
  className?: string;
  children: ReactNode;
}): JSX.Element {
  const form = useForm<Values>({ defaultValues: begin });
  const { isDirty } = form.formState;
  // Every field has a beginning, so that none is missing.
  const values = useWatch({ control: form.control }) as Values;
  return (
    <FormProvider {...form}>
      <Form
        className={className}
        aria-label={label}
        onSubmit={(event) => {
          event.preventDefault();
          onSend(form.getValues());
        }}
        onKeyDown={(event) => {
          if (event.key !== 'Escape' || onCancel === undefined || isDirty) return;
          event.stopPropagation();
          onCancel();
        }}
      >
        <fieldset className="fields" disabled={fixed !== undefined}>
          {children}
        </fieldset>
        {fixed === undefined ? (
          <div className="form-send d-flex gap-2 align-items-center">
            <Button size="sm" type="submit" variant="primary" disabled={isSending || !maySend(values)}>
              {send}
            </Button>
            {onCancel !== undefined && (
              <Button size="sm" variant="outline-secondary" onClick={onCancel}>
                Cancel
              </Button>
            )}
            {also}
          </div>
        ) : (
          <p className="sm soft mb-0">{fixed}</p>
        )}
        {failure !== null && <Failed title={failed}>{failure.message}</Failed>}
      </Form>
    </FormProvider>
  );
}

interface FieldProps<Values extends FieldValues> {
  readonly name: Path<Values>;
  readonly label: ReactNode;
  /** What to know before filling it in. */
  readonly hint?: ReactNode;
}

/** A line of text; attributes of an input, such as `required` or `type`, may be given besides. */
export function TextField<Values extends FieldValues>({
  name,
  label,
  hint,
  mistake,
  className = '',
  ...attributes
}: FieldProps<Values> & {
  /** What is wrong with what it holds. */
  readonly mistake?: string | undefined;
} & Partial<
    Pick<
      ComponentProps<'input'>,
      | 'type'
      | 'required'
      | 'pattern'
      | 'title'
      | 'min'
      | 'max'
      | 'minLength'
      | 'maxLength'
      | 'autoComplete'
      | 'placeholder'
      | 'autoFocus'
      | 'className'
    >
  >): JSX.Element {
  const { register } = useFormContext<Values>();
  const id = useId();
  return (
    <Form.Group controlId={id}>
      <Form.Label className="sm mb-0">{label}</Form.Label>
      <Form.Control
        size="sm"
        className={className}
        isInvalid={mistake !== undefined}
        {...(attributes as FormControlProps)}
        {...register(name)}
      />
      {mistake !== undefined && <Form.Control.Feedback type="invalid">{mistake}</Form.Control.Feedback>}
      {hint !== undefined && <p className="xs soft mb-0">{hint}</p>}
    </Form.Group>
  );
}

/** Several lines of text. */
export function AreaField<Values extends FieldValues>({
  name,
  label,
  hint,
  rows = 4,
  className = 'mono',
  ...attributes
}: FieldProps<Values> & {
  readonly rows?: number;
  readonly className?: string;
} & Partial<Pick<ComponentProps<'textarea'>, 'placeholder' | 'maxLength' | 'autoFocus'>>): JSX.Element {
  const { register } = useFormContext<Values>();
  const id = useId();
  return (
    <Form.Group controlId={id}>
      <Form.Label className="sm mb-0">{label}</Form.Label>
      <Form.Control
        as="textarea"
        size="sm"
        className={className}
        rows={rows}
        {...attributes}
        {...register(name)}
      />
      {hint !== undefined && <p className="xs soft mb-0">{hint}</p>}
    </Form.Group>
  );
}

/** One of several words. */
export function ChoiceField<Values extends FieldValues>({
  name,
  label,
  hint,
  choices,
  autoFocus,
}: FieldProps<Values> & {
  /** Each with how it is shown. */
  readonly choices: readonly (readonly [value: string, shown: string])[];
  readonly autoFocus?: boolean;
}): JSX.Element {
  const { register, getValues, setValue } = useFormContext<Values>();
  const id = useId();
  const first = choices[0]?.[0];
  const hasNone = choices.some(([value]) => value === '');
  // A field that begins with nothing, which is no choice, would stand blank where the choices are known at once.
  useEffect(() => {
    if (first !== undefined && !hasNone && getValues(name) === '')
      setValue(name, first as PathValue<Values, Path<Values>>);
  }, [first, hasNone, name, getValues, setValue]);
  return (
    <Form.Group controlId={id}>
      <Form.Label className="sm mb-0">{label}</Form.Label>
      <Form.Select size="sm" autoFocus={autoFocus} {...register(name)}>
        {choices.map(([value, shown]) => (
          <option key={value} value={value}>
            {shown}
          </option>
        ))}
      </Form.Select>
      {hint !== undefined && <p className="xs soft mb-0">{hint}</p>}
    </Form.Group>
  );
}

/** One of a few words, all of which are seen. */
export function RadiosField<Values extends FieldValues>({
  name,
  label,
  choices,
  className = '',
  autoFocus = false,
}: Omit<FieldProps<Values>, 'hint'> & {
  /** Each with how it is shown. */
  readonly choices: readonly (readonly [value: string, shown: ReactNode])[];
  readonly className?: string;
  /** Whether the hand lies on the first of them at once. */
  readonly autoFocus?: boolean;
}): JSX.Element {
  const { register } = useFormContext<Values>();
  const id = useId();
  return (
    <fieldset className={className}>
      <legend className="visually-hidden">{label}</legend>
      {choices.map(([value, shown], i) => (
        <Form.Check
          key={value}
          autoFocus={autoFocus && i === 0}
          type="radio"
          id={`${id}-${value}`}
          label={shown}
          value={value}
          {...register(name)}
        />
      ))}
    </fieldset>
  );
}

/** Any of several words, told apart by what they are called in code. */
export function ChecksField<Values extends FieldValues>({
  name,
  label,
  choices,
  none = '',
  className = 'chosen-words',
}: FieldProps<Values> & {
  /** Each with what it means, in words, and how it is shown where that is not the value itself. */
  readonly choices: readonly (readonly [value: string, means?: string | undefined, shown?: ReactNode])[];
  /** What it means to choose none. */
  readonly none?: string;
  readonly className?: string;
}): JSX.Element {
  const { register, watch } = useFormContext<Values>();
  const id = useId();
  const chosen: unknown = watch(name);
  return (
    <div role="group" aria-labelledby={id}>
      <h3 id={id} className="section-head">
        {label}
      </h3>
      <div className={className}>
        {choices.map(([value, means, shown]) => (
          <Form.Check
            key={value}
            id={`${id}-${value}`}
            label={shown ?? <span className="mono">{value}</span>}
            title={means}
            value={value}
            {...register(name)}
          />
        ))}
      </div>
      {none !== '' && <p className="xs faint mb-0">{Array.isArray(chosen) && chosen.length === 0 && none}</p>}
    </div>
  );
}

/** Something that is so or is not. */
export function SwitchField<Values extends FieldValues>({ name, label }: FieldProps<Values>): JSX.Element {
  const { register } = useFormContext<Values>();
  const id = useId();
  return <Form.Check id={id} type="switch" className="sm" label={label} {...register(name)} />;
}
