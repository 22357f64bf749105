import { useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Link } from 'react-router';
import type { CaseDetail } from '../../../core/wire/cases.js';
import { listCases } from '../../../core/wire/endpoints/cases.js';
import { answerTo } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { FieldsDialog } from '../../kit/FieldsDialog.js';
import { ChecksField, ChoiceField, TextField } from '../../kit/form.js';
import { RemoveButton } from '../../kit/RemoveButton.js';

export interface BelongsProps {
  readonly one: CaseDetail;
  readonly search: string;
  readonly mayChange: boolean;
  readonly onWatch: (watching: boolean) => void;
  readonly onFile: (file: File) => void;
  readonly onUnlink: (to: number) => void;
  readonly onDialog: (name: 'split' | 'link') => void;
}

/** Who follows a case, which cases belong together with it, and files that are pinned to it. */
export function BelongsPart({
  one,
  search,
  mayChange,
  onWatch,
  onFile,
  onUnlink,
  onDialog,
}: BelongsProps): JSX.Element {
  const { name } = usePerson();
  const follows = one.watchers.includes(name);
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head">Followed by</h3>
        <span className="sm mono cut grow">{one.watchers.length === 0 ? '' : one.watchers.join(', ')}</span>
        <button type="button" className="link sm" onClick={() => onWatch(!follows)}>
          {follows ? 'Follow no more' : 'Follow'}
        </button>
      </div>
      <div className="sub-head ruled">
        <h3 className="section-head grow">Together with</h3>
        {mayChange && (
          <>
            <button type="button" className="link sm" onClick={() => onDialog('link')}>
              Link a case
            </button>
            {one.pinned.length > 0 && (
              <button type="button" className="link sm" onClick={() => onDialog('split')}>
                Split
              </button>
            )}
          </>
        )}
      </div>
      {one.links.map(({ id, number, title, state, why }) => (
        <p key={id} className="inset sm mb-1 d-flex gap-2">
          <span className="grow anywhere">
            <Link to={`/cases/${id}${search}`}>
              <span className="mono">{number}</span> {title}
            </Link>{' '}
            <span className="soft">
              {state}
              {why !== '' && `, ${why}`}
            </span>
          </span>
          {mayChange && (
            <RemoveButton
              label="Unlink"
              what={`case ${number}`}
              consequence="Both stay as they are; a line in this one says so."
              onRemove={() => onUnlink(id)}
            />
          )}
        </p>
      ))}
      {mayChange && (
        <p className="inset sm pt-1 pb-2 mb-0">
          <label className="link">
            Pin a file
            <input
              type="file"
              className="visually-hidden"
              onChange={(event) => {
                const file = event.target.files?.[0];
                if (file !== undefined) onFile(file);
                event.target.value = '';
              }}
            />
          </label>{' '}
          <span className="soft">up to 10 MiB; hashed, kept as it came, never opened here</span>
        </p>
      )}
    </>
  );
}

interface Splitting {
  readonly title: string;
  /** Ids of pinned things. */
  readonly pins: readonly string[];
}

/** Takes pinned things out of a case into a new one. */
export function SplitCase({
  one,
  failure,
  busy,
  onSplit,
  onClose,
}: {
  one: CaseDetail;
  failure: Error | null;
  busy: boolean;
  onSplit: (title: string, pins: readonly number[]) => void;
  onClose: () => void;
}): JSX.Element {
  return (
    <FieldsDialog<Splitting>
      title="Split the case"
      begin={{ title: '', pins: [] }}
      onSend={({ title, pins }) => onSplit(title.trim(), pins.map(Number))}
      send="Into a new case"
      maySend={({ title, pins }) => pins.length > 0 && title.trim() !== ''}
      isSending={busy}
      failure={failure}
      failed="It was not split"
      onClose={onClose}
    >
      <TextField<Splitting> name="title" label="Title of the new case" autoFocus maxLength={300} />
      <ChecksField<Splitting>
        name="pins"
        label="What goes over, with the notes on it; roles of subjects stand in both"
        className="split-pins sm"
        choices={one.pinned.map(({ id, kind, title }) => [String(id), undefined, `${kind}: ${title}`])}
      />
    </FieldsDialog>
  );
}

interface LinkTo {
  readonly to: string;
  readonly why: string;
}

/** Says that another case belongs together with this one. */
export function LinkCase({
  one,
  failure,
  busy,
  onLink,
  onClose,
}: {
  one: CaseDetail;
  failure: Error | null;
  busy: boolean;
  onLink: (to: number, why: string) => void;
  onClose: () => void;
}): JSX.Element {
  const cases = useQuery(answerTo(listCases));
  const others = (cases.data?.cases ?? []).filter(({ id }) => id !== one.id);
  return (
    <FieldsDialog<LinkTo>
      title="Link a case"
      begin={{ to: '', why: '' }}
      onSend={({ to, why }) => onLink(Number(to), why.trim())}
      send="Link"
      maySend={({ to }) => to !== ''}
      isSending={busy}
      failure={failure}
      failed="It was not linked"
      onClose={onClose}
    >
      {cases.isSuccess && others.length === 0 && <p className="mb-0">There is no other case.</p>}
      {others.length > 0 && (
        <ChoiceField<LinkTo>
          name="to"
          label="Which case"
          autoFocus
          choices={[
            ['', 'Choose one'],
            ...others.map(({ id, number, title }) => [String(id), `${number} ${title}`] as const),
          ]}
        />
      )}
      <TextField<LinkTo> name="why" label="What they have in common" maxLength={300} />
    </FieldsDialog>
  );
}
