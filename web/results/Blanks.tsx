import { useQuery } from '@tanstack/react-query';
import { type FormEvent, type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import type { Ask } from '../../core/wick/plan.js';
import { listFieldValues } from '../../core/wire/endpoints/hunts.js';
import { answerTo } from '../api/call.js';

interface BlanksProps {
  readonly asks: readonly Ask[];
  readonly filled: Readonly<Record<string, string>>;
  readonly onRun: (filled: Readonly<Record<string, string>>) => void;
}

const hint = ({ type, default: usual, any }: Ask): string => {
  if (usual !== null) return usual;
  if (any) return 'any';
  return type === 'duration' ? 'such as 15m, 2h, 7d' : '';
};

/** The blanks of a hunt as a form, so that it can be used without knowing the language. */
export function Blanks({ asks, filled, onRun }: BlanksProps): JSX.Element {
  const [values, setValues] = useState<Readonly<Record<string, string>>>(filled);
  const valueOf = (ask: Ask): string => values[ask.name] ?? '';
  const missing = asks.filter((ask) => ask.default === null && !ask.any && valueOf(ask) === '');
  const send = (event: FormEvent): void => {
    event.preventDefault();
    onRun(values);
  };
  return (
    <Form onSubmit={send} aria-label="Blanks of this hunt" className="blanks inset">
      {asks.map((ask) => (
        <Blank
          key={ask.name}
          ask={ask}
          value={valueOf(ask)}
          onChange={(value) => setValues((before) => ({ ...before, [ask.name]: value }))}
        />
      ))}
      <div className="d-flex gap-2 align-items-center">
        <Button type="submit" size="sm" variant="outline-secondary" disabled={missing.length > 0}>
          Run with these
        </Button>
        {missing.length > 0 && (
          <span className="xs soft">Still to fill in: {missing.map(({ label }) => label).join(', ')}</span>
        )}
      </div>
    </Form>
  );
}

/**
 * One blank. What is typed is told at each key to `onChange`, or once it is whole, with Enter or on leaving, to `onDone`.
 */
export function Blank({
  ask,
  value: given,
  onChange,
  onDone,
}: {
  ask: Ask;
  value: string;
  onChange?: (value: string) => void;
  onDone?: (value: string) => void;
}): JSX.Element {
  const [typed, setTyped] = useState(given);
  const value = onDone === undefined ? given : typed;
  const done = (next: string): void => {
    if (next !== given) onDone?.(next);
  };
  const { choices } = ask;
  const field = choices !== null && 'field' in choices ? choices.field : null;
  const seen = useQuery({
    ...answerTo(listFieldValues, { query: { field: field ?? '' } }),
    enabled: field !== null,
    staleTime: 60_000,
  });
  const id = `blank-${ask.name}`;
  const fixed =
    choices !== null && 'values' in choices
      ? choices.values
      : ask.type === 'truth'
        ? ['true', 'false']
        : null;
  return (
    <Form.Group controlId={id} className="d-flex gap-2 align-items-center pb-1">
      <Form.Label className="sm mb-0 grow">{ask.label}</Form.Label>
      {fixed === null ? (
        <Form.Control
          size="sm"
          className="mono short-field"
          value={value}
          placeholder={hint(ask)}
          list={field === null ? undefined : `${id}-seen`}
          onChange={(event) => {
            setTyped(event.target.value);
            onChange?.(event.target.value);
          }}
          onBlur={() => done(typed)}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && onDone !== undefined) done(typed);
          }}
        />
      ) : (
        <Form.Select
          className="short-field"
          size="sm"
          value={value}
          onChange={(event) => {
            setTyped(event.target.value);
            onChange?.(event.target.value);
            done(event.target.value);
          }}
        >
          <option value="">{ask.default ?? (ask.any ? 'any' : 'choose one')}</option>
          {fixed
            .filter((choice) => choice !== ask.default)
            .map((choice) => (
              <option key={choice}>{choice}</option>
            ))}
        </Form.Select>
      )}
      {field !== null && (
        <datalist id={`${id}-seen`}>
          {(seen.data?.values ?? []).map((one) => (
            <option key={one.value} value={one.value} />
          ))}
        </datalist>
      )}
    </Form.Group>
  );
}
