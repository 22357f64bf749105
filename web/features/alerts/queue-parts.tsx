import type { JSX } from 'react';
import { Form } from 'react-bootstrap';
import { Link } from 'react-router';
import { severities } from '../../../core/events/kinds.js';
import { type AlertList, verdicts } from '../../../core/wire/alerts.js';
import type { AddressState } from '../../kit/address-state.js';
import { FindBox } from '../../kit/FindBox.js';
import { count } from '../../ui/format.js';
import { Empty } from '../../ui/State.js';
import { Tabs } from '../../ui/Tabs.js';

const tabs = { open: 'Waiting and taken', mine: 'Mine', settled: 'Settled' } as const;
export type Tab = keyof typeof tabs;
export const tabNames = Object.keys(tabs) as Tab[];

/** How many there are, in words: of those asked for, and of all that nobody has read. */
export function saidOf({ alerts, found, unread }: AlertList, tab: Tab, filtered: boolean): string {
  const shown = found > alerts.length ? `the first ${count(alerts.length)} of ${count(found)}` : count(found);
  if (tab === 'settled') return `${shown} settled`;
  return `${shown} ${tab === 'mine' ? 'with you' : 'open'}${filtered ? '; in all' : ','} ${count(unread)} unread`;
}

type Filters = AddressState<'state' | 'level' | 'verdict' | 'find'>;

/** Which alerts the queue shows. */
export function AlertFilters({
  tab,
  state,
}: {
  tab: Tab;
  state: Pick<Filters, 'values' | 'put'>;
}): JSX.Element {
  const { values, put } = state;
  return (
    <>
      <Tabs
        className="grow"
        label="Alerts"
        names={tabNames}
        chosen={tab}
        onChoose={(name) => put({ state: name })}
        show={(name) => tabs[name]}
      />
      <FindBox
        label="Find an alert"
        hint="Title, subject, owner"
        value={values.find}
        onFind={(word) => put({ find: word })}
      />
      <Word
        label="Severity"
        any="any severity"
        words={[...severities].reverse()}
        value={values.level}
        onChoose={(level) => put({ level })}
      />
      {tab === 'settled' && (
        <Word
          label="Verdict"
          any="any verdict"
          words={verdicts}
          value={values.verdict}
          onChoose={(verdict) => put({ verdict })}
        />
      )}
    </>
  );
}

/** One of several words, or any. */
function Word({
  label,
  any,
  words,
  value,
  onChoose,
}: {
  label: string;
  any: string;
  words: readonly string[];
  value: string;
  onChoose: (word: string) => void;
}): JSX.Element {
  return (
    <Form.Select
      size="sm"
      className="w-auto"
      aria-label={label}
      value={value}
      onChange={(event) => onChoose(event.target.value)}
    >
      <option value="">{any}</option>
      {words.map((word) => (
        <option key={word}>{word}</option>
      ))}
    </Form.Select>
  );
}

/** Why the queue is empty, and what to do. */
export function NoAlerts({
  tab,
  filtered,
  search,
  onAll,
}: {
  tab: Tab;
  filtered: boolean;
  search: string;
  onAll: () => void;
}): JSX.Element {
  if (filtered)
    return (
      <Empty title="No alert fits">
        <button type="button" className="link" onClick={onAll}>
          Show all that wait
        </button>
      </Empty>
    );
  switch (tab) {
    case 'open':
      return (
        <Empty title="Nothing waits">
          No rule that is on has matched, or all its alerts are settled.{' '}
          <Link to={`/rules${search}`}>See the rules</Link>
        </Empty>
      );
    case 'mine':
      return <Empty title="Nothing is with you">Take one of those that wait with T.</Empty>;
    case 'settled':
      return (
        <Empty title="Nothing is settled yet">
          Alerts come here once someone has said what they turned out to be.
        </Empty>
      );
  }
}
