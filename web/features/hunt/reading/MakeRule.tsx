import type { JSX } from 'react';
import { useNavigate } from 'react-router';
import type { Json } from '../../../../core/base/json.js';
import type { StoredEventWire } from '../../../../core/wire/hunts.js';
import { FieldsDialog } from '../../../kit/FieldsDialog.js';
import { ChecksField } from '../../../kit/form.js';
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

interface Choosing {
  readonly fields: readonly string[];
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
  const make = (chosen: readonly string[]): void => {
    const fields = [...known, ...own].filter(({ name }) => chosen.includes(name));
    const state: NewRuleState = { ruleText: ruleOfEvent(fields, event as Record<string, Json>) };
    void navigate(`/rules/new${search}`, { state });
  };
  const choice = ({ name, value }: ChosenField): readonly [string, undefined, JSX.Element] => [
    name,
    undefined,
    <span key={name} className="mono anywhere">
      {name} <span className="faint">=</span> {pickedText(value).slice(0, 200)}
    </span>,
  ];
  return (
    <FieldsDialog<Choosing>
      title="Make a rule of this event"
      begin={{ fields: known.flatMap(({ name }) => (TELLING.has(name) ? [name] : [])) }}
      onSend={({ fields }) => make(fields)}
      send="Write the rule"
      maySend={({ fields }) => fields.length > 0}
      isSending={false}
      failure={null}
      size="lg"
      onClose={onClose}
    >
      <p className="sm mb-0">Choose what it has to have. The event itself becomes the rule’s first test.</p>
      <ChecksField<Choosing> name="fields" label="Fields" className="sm" choices={known.map(choice)} />
      <ChecksField<Choosing>
        name="fields"
        label="As the source calls them"
        className="sm"
        choices={own.filter(({ name }) => !known.some((one) => one.name === name)).map(choice)}
      />
    </FieldsDialog>
  );
}
