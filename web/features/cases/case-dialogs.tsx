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

/** Gives a case to somebody else, with a line. */
export function HandOver({ one, failure, busy, onChange, onClose }: DialogProps): JSX.Element {
  const [owner, setOwner] = useState(one.owner);
  const [line, setLine] = useState('');
  return (
    <Dialog
      title="Hand over"
      onClose={onClose}
      onSend={() => onChange({ owner, line: line.trim() })}
      foot={<Foot send="Hand over" busy={busy || owner === one.owner} onClose={onClose} />}
    >
      <div className="d-grid gap-2">
        <PeopleSelect label="To whom" value={owner} onChange={setOwner} />
        <Form.Control
          as="textarea"
          rows={3}
          autoFocus
          aria-label="What they should know"
          placeholder="What they should know"
          maxLength={1000}
          value={line}
          onChange={(event) => setLine(event.target.value)}
        />
      </div>
      {failure !== null && <Failed title="It was not handed over">{failure.message}</Failed>}
    </Dialog>
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

/** Title, opening words of the report, who may read it, what it waits for. */
export function CaseWords({ one, failure, busy, onChange, onClose }: DialogProps): JSX.Element {
  const [title, setTitle] = useState(one.title);
  const [lede, setLede] = useState(one.lede);
  const [marking, setMarking] = useState<Marking>(one.marking);
  const [waitingOn, setWaitingOn] = useState(one.waitingOn);
  const change: CaseChange = {
    ...(title.trim() !== one.title && { title: title.trim() }),
    ...(lede.trim() !== one.lede && { lede: lede.trim() }),
    ...(marking !== one.marking && { marking }),
    ...(waitingOn.trim() !== one.waitingOn && { waitingOn: waitingOn.trim() }),
  };
  return (
    <Dialog
      title={`Case ${one.number}`}
      onClose={onClose}
      onSend={() => (Object.keys(change).length === 0 ? onClose() : onChange(change))}
      foot={<Foot send="Keep" busy={busy || title.trim() === ''} onClose={onClose} />}
    >
      <div className="d-grid gap-2">
        <Form.Label className="mb-0" htmlFor="case-title">
          Title
        </Form.Label>
        <Form.Control
          id="case-title"
          autoFocus
          maxLength={300}
          value={title}
          onChange={(event) => setTitle(event.target.value)}
        />
        <Form.Label className="mb-0" htmlFor="case-lede">
          How the report opens
        </Form.Label>
        <Form.Control
          id="case-lede"
          as="textarea"
          rows={4}
          maxLength={5000}
          placeholder="What happened, for somebody who was not there. Without it, what is marked as key is named."
          value={lede}
          onChange={(event) => setLede(event.target.value)}
        />
        <Form.Label className="mb-0" htmlFor="case-marking">
          Who may read it
        </Form.Label>
        <Form.Select
          id="case-marking"
          value={marking}
          onChange={(event) => setMarking(markings.find((word) => word === event.target.value) ?? marking)}
        >
          {markings.map((word) => (
            <option key={word} value={word}>
              {labelOfMarking(word)}: {MEANING[word]}
            </option>
          ))}
        </Form.Select>
        <Form.Label className="mb-0" htmlFor="case-waits">
          Waits for
        </Form.Label>
        <Form.Control
          id="case-waits"
          maxLength={300}
          placeholder="Nothing"
          value={waitingOn}
          onChange={(event) => setWaitingOn(event.target.value)}
        />
      </div>
      {failure !== null && <Failed title="It was not kept">{failure.message}</Failed>}
    </Dialog>
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
