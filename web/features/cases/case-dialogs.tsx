import { useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import { labelOfMarking, MEANING } from '../../../core/cases/marking.js';
import { type Marking, markings } from '../../../core/cases/words.js';
import { verdicts } from '../../../core/wire/alerts.js';
import type { CaseChange, CaseDetail } from '../../../core/wire/cases.js';
import { listAlertPeople } from '../../../core/wire/endpoints/alerts.js';
import { listCases } from '../../../core/wire/endpoints/cases.js';
import { answerTo } from '../../api/call.js';
import { Dialog } from '../../kit/Dialog.js';
import { FieldsDialog } from '../../kit/FieldsDialog.js';
import { AreaField, ChoiceField, RadiosField, SwitchField, TextField } from '../../kit/form.js';
import { Failed } from '../../ui/State.js';

interface DialogProps {
  readonly one: CaseDetail;
  readonly failure: Error | null;
  readonly busy: boolean;
  readonly onChange: (change: CaseChange) => void;
  readonly onClose: () => void;
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

interface Closing {
  readonly verdict: CaseDetail['verdict'];
  readonly settle: boolean;
}

/** Closes a case with a verdict, and its alerts with it where that is wanted. */
export function CloseCase({ one, failure, busy, onChange, onClose }: DialogProps): JSX.Element {
  const alerts = one.pinned.filter(({ kind }) => kind === 'alert').length;
  const open = one.tasks.filter(({ done }) => done === null).length;
  return (
    <FieldsDialog<Closing>
      title="Close the case"
      begin={{ verdict: one.verdict, settle: alerts > 0 }}
      onSend={({ verdict, settle }) =>
        verdict !== null && onChange({ state: 'closed', verdict, settle: settle && alerts > 0 })
      }
      send="Close it"
      maySend={({ verdict }) => verdict !== null}
      isSending={busy}
      failure={failure}
      failed="It was not closed"
      onClose={onClose}
    >
      <RadiosField<Closing>
        name="verdict"
        label="Verdict"
        className="d-flex gap-3"
        choices={verdicts.map((word) => [word, word])}
        autoFocus
      />
      {alerts > 0 && (
        <SwitchField<Closing>
          name="settle"
          label={`Settle its ${alerts === 1 ? 'alert' : `${alerts} alerts`} alike, where not settled yet`}
        />
      )}
      {open > 0 && (
        <p className="sm soft mb-0">
          {open === 1 ? 'One task is' : `${open} tasks are`} still open; they stay in the report as what is
          left to do.
        </p>
      )}
    </FieldsDialog>
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
