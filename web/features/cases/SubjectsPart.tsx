import { type JSX, useState } from 'react';
import { Link } from 'react-router';
import { type CaseRole, caseRoles } from '../../../core/cases/words.js';
import { isSubjectKind } from '../../../core/subjects/kinds.js';
import type { CaseDetail } from '../../../core/wire/cases.js';
import { useAsked } from '../../beam/asked.js';
import { useBeam } from '../../beam/beam.js';
import { RaiseAlert } from '../../cases/RaiseAlert.js';
import { dossierAddress } from '../../results/dossier-address.js';
import { counted } from '../../ui/format.js';
import { gravest } from './gravest.js';

const roleWords: Readonly<Record<CaseRole, string>> = {
  victim: 'victim',
  used: 'used',
  attacker: 'attacker’s',
  affected: 'affected',
};

/** Names that are shown without a role before the rest folds. */
const SHOWN_UNSAID = 8;

/** Who and what a case is about, by the part each played; on any of them an alert may be raised, to respond. */
export function SubjectsPart({
  one,
  search,
  mayChange,
  onRole,
}: {
  one: CaseDetail;
  search: string;
  mayChange: boolean;
  onRole: (subject: { kind: string; name: string }, role: CaseRole | null) => void;
}): JSX.Element {
  const [raising, setRaising] = useState(false);
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const answerable = [...one.subjects]
    .sort((a, b) => Number(a.role === null) - Number(b.role === null))
    .flatMap(({ kind, name }) => (isSubjectKind(kind) ? [{ kind, name }] : []));
  const unsaid = one.subjects.filter(({ role }) => role === null);
  const name = (subject: CaseDetail['subjects'][number]): JSX.Element => (
    <span key={`${subject.kind} ${subject.name}`} className="subject-name">
      {isSubjectKind(subject.kind) ? (
        <Link to={dossierAddress(subject.kind, subject.name, search)}>{subject.name}</Link>
      ) : (
        subject.name
      )}
      {mayChange && (
        <select
          className="choice-sign"
          aria-label={`What ${subject.name} is`}
          value={subject.role ?? ''}
          onChange={(event) => onRole(subject, caseRoles.find((role) => role === event.target.value) ?? null)}
        >
          <option value="">no role</option>
          {caseRoles.map((role) => (
            <option key={role} value={role}>
              {roleWords[role]}
            </option>
          ))}
        </select>
      )}
    </span>
  );
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head grow">Subjects</h3>
        <span className="sm soft">{counted(one.subjects.length, 'name')}</span>
        {mayChange && answerable.length > 0 && (
          <button type="button" className="link sm" onClick={() => setRaising(true)}>
            Raise an alert
          </button>
        )}
      </div>
      {raising && (
        <RaiseAlert
          subjects={answerable}
          suggested={one.title.slice(0, 200)}
          level={gravest(one) ?? 'medium'}
          window={beam.window}
          toCase={one.id}
          search={search}
          onClose={() => setRaising(false)}
        />
      )}
      <dl className="standing subjects-by-role">
        {caseRoles.map((role) => {
          const own = one.subjects.filter((subject) => subject.role === role);
          return own.length === 0 ? null : (
            <div key={role} className="of-role">
              <dt>{roleWords[role]}</dt>
              <dd>{own.map(name)}</dd>
            </div>
          );
        })}
        {unsaid.length > 0 && (
          <div className="of-role">
            <dt>no role</dt>
            <dd>{unsaid.slice(0, SHOWN_UNSAID).map(name)}</dd>
          </div>
        )}
      </dl>
      {unsaid.length > SHOWN_UNSAID && (
        <details className="inset sm pb-2">
          <summary>{counted(unsaid.length - SHOWN_UNSAID, 'more name')}</summary>
          <div className="more-names">{unsaid.slice(SHOWN_UNSAID).map(name)}</div>
        </details>
      )}
    </>
  );
}
