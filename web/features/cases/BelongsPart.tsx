import { useQuery } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import type { CaseDetail } from '../../../core/wire/cases.js';
import { listCases } from '../../../core/wire/endpoints/cases.js';
import { answerTo } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { Dialog } from '../../kit/Dialog.js';
import { RemoveButton } from '../../kit/RemoveButton.js';
import { Failed } from '../../ui/State.js';

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
  const [title, setTitle] = useState('');
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const flip = (id: number): void =>
    setChosen((before) => {
      const after = new Set(before);
      if (!after.delete(id)) after.add(id);
      return after;
    });
  return (
    <Dialog
      title="Split the case"
      onClose={onClose}
      onSend={() => onSplit(title.trim(), [...chosen])}
      foot={
        <>
          <Button variant="outline-secondary" onClick={onClose}>
            Cancel
          </Button>
          <Button type="submit" variant="primary" disabled={busy || chosen.size === 0 || title.trim() === ''}>
            Into a new case
          </Button>
        </>
      }
    >
      <Form.Control
        aria-label="Title of the new case"
        placeholder="Title of the new case"
        autoFocus
        maxLength={300}
        value={title}
        onChange={(event) => setTitle(event.target.value)}
      />
      <fieldset className="pt-2 split-pins">
        <legend className="sm soft mb-1">
          What goes over, with the notes on it; roles of subjects stand in both
        </legend>
        {one.pinned.map((pin) => (
          <Form.Check
            key={pin.id}
            id={`split-${pin.id}`}
            className="sm"
            label={`${pin.kind}: ${pin.title}`}
            checked={chosen.has(pin.id)}
            onChange={() => flip(pin.id)}
          />
        ))}
      </fieldset>
      {failure !== null && <Failed title="It was not split">{failure.message}</Failed>}
    </Dialog>
  );
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
  const [to, setTo] = useState<number | null>(null);
  const [why, setWhy] = useState('');
  const others = (cases.data?.cases ?? []).filter(({ id }) => id !== one.id);
  return (
    <Dialog
      title="Link a case"
      onClose={onClose}
      onSend={() => to !== null && onLink(to, why.trim())}
      foot={
        <>
          <Button variant="outline-secondary" onClick={onClose}>
            Cancel
          </Button>
          <Button type="submit" variant="primary" disabled={busy || to === null}>
            Link
          </Button>
        </>
      }
    >
      <div className="d-grid gap-2">
        {cases.isSuccess && others.length === 0 && <p className="mb-0">There is no other case.</p>}
        {others.length > 0 && (
          <Form.Select
            aria-label="Which case"
            autoFocus
            value={to ?? ''}
            onChange={(event) => setTo(event.target.value === '' ? null : Number(event.target.value))}
          >
            <option value="">Which case?</option>
            {others.map(({ id, number, title }) => (
              <option key={id} value={id}>
                {number} {title}
              </option>
            ))}
          </Form.Select>
        )}
        <Form.Control
          aria-label="What they have in common"
          placeholder="What they have in common"
          maxLength={300}
          value={why}
          onChange={(event) => setWhy(event.target.value)}
        />
      </div>
      {failure !== null && <Failed title="It was not linked">{failure.message}</Failed>}
    </Dialog>
  );
}
