import { useQuery } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { labelOfMarking, MEANING } from '../../../core/cases/marking.js';
import { type Marking, markings } from '../../../core/cases/words.js';
import { verdicts } from '../../../core/wire/alerts.js';
import type { CaseChange, CaseDetail } from '../../../core/wire/cases.js';
import { listAlertPeople } from '../../../core/wire/endpoints/alerts.js';
import { listCases } from '../../../core/wire/endpoints/cases.js';
import { answerTo } from '../../api/call.js';
import { Dialog } from '../../kit/Dialog.js';
import { FieldsDialog } from '../../kit/FieldsDialog.js';
import { AreaField, ChoiceField, TextField } from '../../kit/form.js';
import { Failed } from '../../ui/State.js';

interface DialogProps {
  readonly one: CaseDetail;
  readonly failure: Error | null;
  readonly busy: boolean;
  readonly onChange: (change: CaseChange) => void;
  readonly onClose: () => void;
}

function Foot({ send, busy, onClose }: { send: string; busy: boolean; onClose: () => void }): JSX.Element {
  return (
    <>
      <Button variant="outline-secondary" onClick={onClose}>
        Cancel
      </Button>
      <Button type="submit" variant="primary" disabled={busy}>
        {send}
      </Button>
    </>
  );
}

/** People who may own a case or a task. */
export function PeopleSelect({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (name: string) => void;
}): JSX.Element {
  const people = useQuery(answerTo(listAlertPeople));
  return (
    <Form.Select aria-label={label} value={value} onChange={(event) => onChange(event.target.value)}>
      {[...new Set([value, ...(people.data?.people ?? [])])].map((name) => (
        <option key={name}>{name}</option>
      ))}
    </Form.Select>
  );
}

interface Handing {
  readonly owner: string;
  readonly line: string;
}

/** Gives a case to somebody else, with a line. */
export function HandOver({ one, failure, busy, onChange, onClose }: DialogProps): JSX.Element {
  const people = useQuery(answerTo(listAlertPeople));
  return (
    <FieldsDialog<Handing>
      title="Hand over"
      begin={{ owner: one.owner, line: '' }}
      onSend={({ owner, line }) => onChange({ owner, line: line.trim() })}
      send="Hand over"
      maySend={({ owner }) => owner !== one.owner}
      isSending={busy}
      failure={failure}
      failed="It was not handed over"
      onClose={onClose}
    >
      <ChoiceField<Handing>
        name="owner"
        label="To whom"
        choices={[...new Set([one.owner, ...(people.data?.people ?? [])])].map((name) => [name, name])}
      />
      <AreaField<Handing>
        name="line"
        label="What they should know"
        className=""
        rows={3}
        autoFocus
        maxLength={1000}
      />
    </FieldsDialog>
  );
}

/** Closes a case with a verdict, and its alerts with it where that is wanted. */
export function CloseCase({ one, failure, busy, onChange, onClose }: DialogProps): JSX.Element {
  const [verdict, setVerdict] = useState<(typeof verdicts)[number] | null>(one.verdict);
  const [settle, setSettle] = useState(true);
  const alerts = one.pinned.filter(({ kind }) => kind === 'alert').length;
  const open = one.tasks.filter(({ done }) => done === null).length;
  return (
    <Dialog
      title="Close the case"
      onClose={onClose}
      onSend={() => verdict !== null && onChange({ state: 'closed', verdict, settle: settle && alerts > 0 })}
      foot={<Foot send="Close it" busy={busy || verdict === null} onClose={onClose} />}
    >
      <fieldset className="d-flex gap-3 mb-2">
        <legend className="visually-hidden">Verdict</legend>
        {verdicts.map((word, i) => (
          <Form.Check
            key={word}
            type="radio"
            name="verdict"
            id={`verdict-${word}`}
            label={word}
            autoFocus={i === 0}
            checked={verdict === word}
            onChange={() => setVerdict(word)}
          />
        ))}
      </fieldset>
      {alerts > 0 && (
        <Form.Check
          id="settle-alerts"
          label={`Settle its ${alerts === 1 ? 'alert' : `${alerts} alerts`} alike, where not settled yet`}
          checked={settle}
          onChange={(event) => setSettle(event.target.checked)}
        />
      )}
      {open > 0 && (
        <p className="sm soft mb-0 pt-2">
          {open === 1 ? 'One task is' : `${open} tasks are`} still open; they stay in the report as what is
          left to do.
        </p>
      )}
      {failure !== null && <Failed title="It was not closed">{failure.message}</Failed>}
    </Dialog>
  );
}

interface Words {
  readonly title: string;
  readonly lede: string;
  readonly marking: Marking;
  readonly waitingOn: string;
}

/** Title, opening words of the report, who may read it, what it waits for. */
export function CaseWords({ one, failure, busy, onChange, onClose }: DialogProps): JSX.Element {
  const changeOf = ({ title, lede, marking, waitingOn }: Words): CaseChange => ({
    ...(title.trim() !== one.title && { title: title.trim() }),
    ...(lede.trim() !== one.lede && { lede: lede.trim() }),
    ...(marking !== one.marking && { marking }),
    ...(waitingOn.trim() !== one.waitingOn && { waitingOn: waitingOn.trim() }),
  });
  return (
    <FieldsDialog<Words>
      title={`Case ${one.number}`}
      begin={{ title: one.title, lede: one.lede, marking: one.marking, waitingOn: one.waitingOn }}
      onSend={(words) => {
        const change = changeOf(words);
        if (Object.keys(change).length === 0) onClose();
        else onChange(change);
      }}
      send="Keep"
      maySend={({ title }) => title.trim() !== ''}
      isSending={busy}
      failure={failure}
      failed="It was not kept"
      onClose={onClose}
    >
      <TextField<Words> name="title" label="Title" autoFocus maxLength={300} />
      <AreaField<Words>
        name="lede"
        label="How the report opens"
        className=""
        maxLength={5000}
        placeholder="What happened, for somebody who was not there. Without it, what is marked as key is named."
      />
      <ChoiceField<Words>
        name="marking"
        label="Who may read it"
        choices={markings.map((word) => [word, `${labelOfMarking(word)}: ${MEANING[word]}`])}
      />
      <TextField<Words> name="waitingOn" label="Waits for" maxLength={300} placeholder="Nothing" />
    </FieldsDialog>
  );
}

/** Takes what another case holds into this one. */
export function MergeCase({
  one,
  failure,
  onMerge,
  onClose,
}: {
  one: CaseDetail;
  failure: Error | null;
  onMerge: (from: number) => void;
  onClose: () => void;
}): JSX.Element {
  const cases = useQuery(answerTo(listCases));
  const others = cases.data?.cases.filter(({ id, state }) => id !== one.id && state === 'open') ?? [];
  return (
    <Dialog title="Take in another case" onClose={onClose}>
      {cases.isSuccess && others.length === 0 && <p className="mb-0">No other case is open.</p>}
      {others.map(({ id, number, title, pins }) => (
        <p key={id} className="mb-1">
          <button type="button" className="link text-start" onClick={() => onMerge(id)}>
            {number} {title}
          </button>{' '}
          <span className="sm soft">{pins} pinned; it is closed, and all that it holds stands here</span>
        </p>
      ))}
      {failure !== null && <Failed title="Nothing was taken in">{failure.message}</Failed>}
    </Dialog>
  );
}
