import { fireEvent, screen } from '@testing-library/react';
import type { JSX } from 'react';
import { useLocation } from 'react-router';
import type { StoredEventWire } from '../../../../core/wire/hunts.js';
import { show } from '../../../tests/page.js';
import { MakeRule } from './MakeRule.js';

const event: StoredEventWire = {
  id: 'a'.repeat(32),
  time: '2026-11-28T10:00:00Z',
  received: '2026-11-28T10:00:01Z',
  source: 'gate-04',
  kind: 'signin',
  operation: 'session.start',
  outcome: 'failure',
  user: "o'hara",
  original: {
    actor: { name: "o'hara", groups: ['a', 'b'] },
    port: 22,
    deep: { a: { b: { c: { d: { e: 1 } } } } },
  },
  raw: '{"actor":{}}',
};

/** What the rule page is given. */
function Given(): JSX.Element {
  const state = useLocation().state as { ruleText?: string } | null;
  return <pre data-testid="given">{state?.ruleText ?? ''}</pre>;
}
const open = (): void => {
  show(
    <>
      <MakeRule event={event} search="?zone=UTC" onClose={() => undefined} />
      <Given />
    </>,
  );
};
const box = (name: string | RegExp): HTMLInputElement => screen.getByLabelText(name);

test('what tells this sort of event is chosen beforehand; what is its alone is not offered', () => {
  open();
  for (const name of [/^kind = signin/, /^operation =/, /^outcome =/]) expect(box(name).checked).toBe(true);
  for (const name of [/^source =/, /^user =/]) expect(box(name).checked).toBe(false);
  for (const name of [/^id =/, /^time =/, /^raw =/]) expect(screen.queryByLabelText(name)).toBeNull();
});

test("the source's own fields are offered with dots; lists and what lies too deep are not", () => {
  open();
  expect(box(/^actor\.name = o'hara/)).toBeTruthy();
  expect(box(/^port = 22/)).toBeTruthy();
  expect(screen.queryByLabelText(/^actor\.groups/)).toBeNull();
  expect(screen.queryByLabelText(/^deep\.a\.b\.c\.d\.e/)).toBeNull();
});

test('the rule asks for what is chosen, quoted, and has the event as its first test', () => {
  open();
  fireEvent.click(box(/^user =/));
  fireEvent.click(box(/^kind =/));
  fireEvent.click(screen.getByRole('button', { name: 'Write the rule' }));
  const text = screen.getByTestId('given').textContent;
  expect(text).toContain("user: 'o''hara'");
  expect(text).toContain("outcome: 'failure'");
  expect(text).not.toMatch(/^\s+kind: signin/m);
  expect(text).toContain('must: match');
  expect(screen.getByTestId('address').textContent).toBe('/rules/new?zone=UTC');
});

test('without a field there is no rule', () => {
  open();
  for (const name of [/^kind =/, /^operation =/, /^outcome =/]) fireEvent.click(box(name));
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Write the rule' }).disabled).toBe(true);
});
