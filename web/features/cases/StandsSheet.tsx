import { useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { labelOfMarking } from '../../../core/cases/marking.js';
import type { CaseRole } from '../../../core/cases/words.js';
import type { CaseChange, CaseDetail, CaseSuggestion, NewPin } from '../../../core/wire/cases.js';
import { listAlertPeople } from '../../../core/wire/endpoints/alerts.js';
import { suggestForCase } from '../../../core/wire/endpoints/cases.js';
import { answerTo } from '../../api/call.js';
import { CurlLink } from '../../kit/Curl.js';
import { ChoiceField, FieldsForm, TextField } from '../../kit/form.js';
import { counted, showTime } from '../../ui/format.js';
import { LEVELS, Severity } from '../../ui/Glyphs.js';
import { Key } from '../../ui/Key.js';
import { RunsPart } from '../../runbooks/RunsPart.js';
import { BelongsPart, type BelongsProps } from './BelongsPart.js';
import { gravest } from './gravest.js';
import { ReportBar } from './ReportBar.js';
import { SubjectsPart } from './SubjectsPart.js';

export interface StandsProps {
  readonly one: CaseDetail;
  readonly zone: string;
  readonly search: string;
  readonly mayChange: boolean;
  readonly adding: boolean;
  readonly onAdding: (adding: boolean) => void;
  readonly onChange: (change: CaseChange) => void;
  readonly onDialog: (name: 'close' | 'hand over' | 'words' | 'merge') => void;
  readonly onTask: (task: { what: string; owner: string; due: string | null }) => void;
  readonly onTick: (task: number, done: boolean) => void;
  readonly onRole: (subject: { kind: string; name: string }, role: CaseRole | null) => void;
  readonly onPin: (pin: NewPin) => void;
  readonly belongs: Omit<BelongsProps, 'one' | 'search' | 'mayChange'>;
}

/** Where a case stands: state, tasks, subjects by role, techniques, what might belong to it, and its report. */
export function StandsSheet(props: StandsProps): JSX.Element {
  const { one, zone, search, mayChange, onDialog } = props;
  return (
    <section className="sheet" aria-label="State of the case">
      <div className="sheet-head pb-1">
        <h2 className="sheet-title grow">Where it stands</h2>
        {mayChange && one.mergedInto === null && (
          <Button
            variant="outline-secondary"
            onClick={() => (one.state === 'open' ? onDialog('close') : props.onChange({ state: 'open' }))}
          >
            {one.state === 'open' ? 'Close the case' : 'Open it again'}
          </Button>
        )}
      </div>
      <div className="scrolls">
        <Standing {...props} />
        <Tasks {...props} />
        <SubjectsPart {...props} />
        {one.techniques.length > 0 && (
          <>
            <div className="sub-head ruled">
              <h3 className="section-head grow">Techniques</h3>
              <span className="sm soft">ATT&amp;CK</span>
            </div>
            <ul className="technique-list">
              {one.techniques.map(({ id, name }) => (
                <li key={id}>
                  <Link className="mono" to={`/coverage${search}`}>
                    {id}
                  </Link>
                  <span className="cut" title={name}>
                    {name}
                  </span>
                </li>
              ))}
            </ul>
          </>
        )}
        <RunsPart
          of={{ case: one.id }}
          on={one.pinned.flatMap(({ kind, ref, title }) =>
            kind === 'alert' && /^[1-9]\d*$/.test(ref) ? [{ id: Number(ref), title }] : [],
          )}
          zone={zone}
          search={search}
          mayChange={mayChange}
        />
        <BelongsPart {...props.belongs} one={one} search={search} mayChange={mayChange} />
        <Suggestions {...props} />
        <History one={one} zone={zone} />
      </div>
      <ReportBar one={one} />
      <div className="sheet-foot mt-0">
        {mayChange && (
          <>
            <Key keys={['T']}>task</Key>
            <Key keys={['O']}>hand over</Key>
            <Key keys={['V']}>verdict</Key>
          </>
        )}
        <Key keys={['P']}>preview</Key>
        <span className="grow" />
        <CurlLink path={`/cases/${one.id}`} />
      </div>
    </section>
  );
}

function Standing({ one, zone, mayChange, onDialog, onChange }: StandsProps): JSX.Element {
  const level = gravest(one);
  return (
    <dl className="standing">
      <dt>state</dt>
      <dd>
        {one.state} since {showTime(one.state === 'open' ? one.created : one.updated, zone, 'minute')}
        {one.waitingOn !== '' && `, waits for ${one.waitingOn}`}
      </dd>
      <dt>severity</dt>
      <dd>
        {level === null ? <span className="soft">not said</span> : <Severity level={level} />}
        {mayChange && (
          <select
            className="choice-sign"
            aria-label="Severity"
            value={one.severity ?? ''}
            onChange={(event) =>
              onChange({ severity: LEVELS.find((word) => word === event.target.value) ?? null })
            }
          >
            <option value="">as its alerts say</option>
            {LEVELS.map((word) => (
              <option key={word}>{word}</option>
            ))}
          </select>
        )}
        <span className="soft ps-3 pe-2">verdict</span>
        <b>{one.verdict ?? 'none yet'}</b>
      </dd>
      <dt>owner</dt>
      <dd>
        <span className="mono cut">{one.owner}</span>
        {mayChange && (
          <button type="button" className="link sm ms-3" onClick={() => onDialog('hand over')}>
            Hand over
          </button>
        )}
      </dd>
      <dt>may read</dt>
      <dd>
        {labelOfMarking(one.marking)}
        {mayChange && (
          <button type="button" className="link sm ms-3" onClick={() => onDialog('words')}>
            Title, opening, marking
          </button>
        )}
      </dd>
      {one.handed !== null && (
        <dd className="soft wide">
          <span className="anywhere">
            Handed over by <span className="mono">{one.handed.by}</span>{' '}
            {showTime(one.handed.at, zone, 'minute')}
            {one.handed.line !== '' && `: ${one.handed.line}`}
          </span>
        </dd>
      )}
    </dl>
  );
}

interface NewTask {
  readonly what: string;
  readonly owner: string;
  /** A day, or nothing. */
  readonly due: string;
}

function Tasks({ one, zone, mayChange, adding, onAdding, onTask, onTick }: StandsProps): JSX.Element {
  const people = useQuery({ ...answerTo(listAlertPeople), enabled: adding });
  const send = ({ what, owner, due }: NewTask): void => {
    onTask({ what: what.trim(), owner, due: due === '' ? null : `${due}T12:00:00Z` });
    onAdding(false);
  };
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head grow">Tasks</h3>
        {mayChange && !adding && (
          <button type="button" className="link sm" onClick={() => onAdding(true)}>
            Add a task
          </button>
        )}
      </div>
      {adding && (
        <FieldsForm<NewTask>
          label="A task"
          className="inset task-form"
          begin={{ what: '', owner: one.owner, due: '' }}
          onSend={send}
          send="Add"
          maySend={({ what }) => what.trim() !== ''}
          isSending={false}
          onCancel={() => onAdding(false)}
          failure={null}
        >
          <TextField<NewTask> name="what" label="What is to be done" autoFocus maxLength={300} />
          <ChoiceField<NewTask>
            name="owner"
            label="By whom"
            choices={[...new Set([one.owner, ...(people.data?.people ?? [])])].map((name) => [name, name])}
          />
          <TextField<NewTask> name="due" label="By when" type="date" />
        </FieldsForm>
      )}
      {one.tasks.length === 0 && !adding && (
        <p className="inset sm soft pb-2 mb-0">Nothing is to be done yet.</p>
      )}
      <ul className="tasks">
        {one.tasks.map((task) => (
          <li key={task.id}>
            <input
              className="form-check-input"
              type="checkbox"
              checked={task.done !== null}
              disabled={!mayChange}
              aria-label={task.what}
              onChange={(event) => onTick(task.id, event.target.checked)}
            />
            <span className={`cut ${task.done === null ? '' : 'soft'}`} title={task.what}>
              {task.what}
            </span>
            <span className="mono cut">{task.owner}</span>
            <span className="due">
              {task.done === null
                ? task.due === null
                  ? ''
                  : showTime(task.due, zone, 'minute').slice(0, 6)
                : 'done'}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

function Suggestions({ one, zone, search, mayChange, onPin, onDialog }: StandsProps): JSX.Element | null {
  const found = useQuery(answerTo(suggestForCase, { params: { id: one.id } }));
  const suggested = found.data?.suggested ?? [];
  if (suggested.length === 0 && !mayChange) return null;
  const rare = ({ rarity, kind }: CaseSuggestion): string =>
    kind === 'case' ? '' : `, named by ${counted(rarity, 'alert')}`;
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head grow">Might belong to it</h3>
        {suggested.length > 0 && <span className="sm soft">the rarest first</span>}
        {mayChange && (
          <button type="button" className="link sm" onClick={() => onDialog('merge')}>
            Take in a case
          </button>
        )}
      </div>
      <ul className="suggested">
        {suggested.map((other) => (
          <li key={`${other.kind} ${other.id}`}>
            <Link
              className="cut"
              to={other.kind === 'alert' ? `/alerts/${other.id}${search}` : `/cases/${other.id}${search}`}
              title={`${other.title}: ${other.subject}`}
            >
              {other.title}
            </Link>
            {mayChange && other.kind === 'alert' && (
              <button
                type="button"
                className="link sm"
                aria-label={`Pin ${other.title}: ${other.subject}`}
                onClick={() =>
                  onPin({
                    kind: 'alert',
                    ref: String(other.id),
                    title: `${other.title}: ${other.subject}`.slice(0, 500),
                    time: other.at,
                  })
                }
              >
                Pin
              </button>
            )}
            <span className="xs soft cut">
              {showTime(other.at, zone, 'minute')} · shares{' '}
              <span className="mono">{other.shares.join(', ')}</span>
              {rare(other)}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

/** What was done on the case, the newest first. */
function History({ one, zone }: { one: CaseDetail; zone: string }): JSX.Element | null {
  const lines = one.notes.filter(({ isLine }) => isLine).reverse();
  if (lines.length === 0) return null;
  return (
    <details className="inset sm py-2 ruled">
      <summary>What was done here: {counted(lines.length, 'line')}</summary>
      {lines.map(({ id, who, at, text }) => (
        <p key={id} className="xs mb-1 anywhere">
          {showTime(at, zone, 'minute')} <span className="mono">{who}</span> {text}
        </p>
      ))}
    </details>
  );
}
