import { type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import type { Json } from '../../../../core/base/json.js';
import type { StoredEventWire } from '../../../../core/wire/hunts.js';
import { Dialog } from '../../../kit/Dialog.js';
import { type ChosenField, type NewRuleState, ruleOfEvent } from '../../../make-rule/rule-text.js';
import { pickedText } from '../../../results/menus/CellMenu.js';

/** What tells one event from others of its sort at once; chosen beforehand. */
const TELLING: ReadonlySet<string> = new Set([
  'kind',
  'operation',
  'outcome',
  'event_code',
  'finding',
  'reason',
]);
/** What no other event has, or what says nothing of it. */
const UNIQUE: ReadonlySet<string> = new Set([
  'id',
  'time',
  'received',
  'raw',
  'original',
  'explained',
  'marked',
  'changes',
]);
const MAX_DEPTH = 5;

/** The source's own fields that hold a single value, nested ones with dots. */
function ownFields(value: Json, before = '', depth = 0): ChosenField[] {
  if (value === null || typeof value !== 'object') return before === '' ? [] : [{ name: before, value }];
  if (Array.isArray(value) || depth >= MAX_DEPTH) return [];
  return Object.entries(value).flatMap(([name, inner]) =>
    ownFields(inner, before === '' ? name : `${before}.${name}`, depth + 1),
  );
}

/** Chooses the fields of an event that a rule is to ask for. */
export function MakeRule({
  event,
  search,
  onClose,
}: {
  event: StoredEventWire;
  search: string;
  onClose: () => void;
}): JSX.Element {
  const navigate = useNavigate();
  const known = Object.entries(event as Record<string, Json>).flatMap(([name, value]): ChosenField[] =>
    UNIQUE.has(name) || value === null || typeof value === 'object' ? [] : [{ name, value }],
  );
  const own = ownFields(event.original as Json);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(
    () => new Set(known.flatMap(({ name }) => (TELLING.has(name) ? [name] : []))),
  );
  const flip = (name: string): void =>
    setChosen((before) => {
      const next = new Set(before);
      if (!next.delete(name)) next.add(name);
      return next;
    });
  const make = (): void => {
    const fields = [...known, ...own].filter(({ name }) => chosen.has(name));
    const state: NewRuleState = { ruleText: ruleOfEvent(fields, event as Record<string, Json>) };
    void navigate(`/rules/new${search}`, { state });
  };
  const line = ({ name, value }: ChosenField): JSX.Element => (
    <Form.Check
      key={name}
      id={`rule-field-${name}`}
      className="sm"
      checked={chosen.has(name)}
      onChange={() => flip(name)}
      label={
        <span className="mono anywhere">
          {name} <span className="faint">=</span> {pickedText(value).slice(0, 200)}
        </span>
      }
    />
  );
  return (
    <Dialog
      title="Make a rule of this event"
      onClose={onClose}
      size="lg"
      foot={
        <>
          <Button variant="primary" onClick={make} disabled={chosen.size === 0}>
            Write the rule
          </Button>
          <Button variant="outline-secondary" onClick={onClose}>
            Cancel
          </Button>
        </>
      }
    >
      <p className="sm">Choose what it has to have. The event itself becomes the rule’s first test.</p>
      <h3 className="section-head pt-2">Fields</h3>
      {known.map(line)}
      <h3 className="section-head pt-2">As the source calls them</h3>
      {own.filter(({ name }) => !known.some((one) => one.name === name)).map(line)}
    </Dialog>
  );
}
