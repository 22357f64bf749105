import { useQuery } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button } from 'react-bootstrap';
import { readRule } from '../../../core/wire/endpoints/rules.js';
import { proveCuts } from '../../../core/wire/endpoints/tuning.js';
import { answerTo } from '../../api/call.js';
import { Dialog } from '../../kit/Dialog.js';
import { DocumentEditor } from '../../ui/DocumentEditor.js';
import { Failed, Reading } from '../../ui/State.js';
import { useFollowed } from './use-followed.js';
import { Proof } from './WaysSheet.js';

/** Nothing may have been typed for so long before it is replayed. */
const PAUSE = 900;

interface WriteOwnProps {
  readonly rule: string;
  /** A change to begin with, in words and as text; null to begin with the rule as it is. */
  readonly begin: { readonly words: string; readonly text: string } | null;
  readonly window: { readonly from: string; readonly to: string };
  readonly zone: string;
  readonly search: string;
  readonly mayChange: boolean;
  readonly onKeep: (text: string, why: string) => void;
  readonly keeping: boolean;
  readonly failure: Error | null;
  readonly onClose: () => void;
}

/** Any edit of a rule, compared with the present version while it is written. */
export function WriteOwn(props: WriteOwnProps): JSX.Element {
  const { rule, window, zone, search } = props;
  const now = useQuery(answerTo(readRule, { params: { id: rule } }));
  const [text, setText] = useState<string | null>(props.begin?.text ?? null);
  const [why, setWhy] = useState(props.begin?.words ?? '');
  const changed = text !== null && text !== now.data?.text;
  const { followed } = useFollowed(
    proveCuts,
    changed ? { params: { id: rule }, body: { window, text } } : null,
    PAUSE,
  );
  const newest = followed.newest ?? followed.before;
  const proof = newest?.piece === 'proof' ? newest : null;
  const running = followed.status === 'running';
  return (
    <Dialog
      title={props.begin === null ? 'Write one of your own' : `Change it: ${props.begin.words}`}
      size="xl"
      onClose={props.onClose}
      foot={
        props.mayChange && (
          <>
            <input
              className="form-control form-control-sm grow"
              aria-label="Why"
              placeholder="Why it is changed"
              maxLength={1000}
              value={why}
              onChange={(event) => setWhy(event.target.value)}
            />
            <Button
              variant="primary"
              disabled={!changed || proof === null || running || why.trim() === '' || props.keeping}
              onClick={() => props.onKeep(text ?? '', why.trim())}
            >
              Keep as version {(now.data?.version ?? 0) + 1}
            </Button>
          </>
        )
      }
    >
      {now.isError && <Failed title="The rule cannot be read">{now.error.message}</Failed>}
      {now.data === undefined ? (
        <Reading title="Fetching the rule" />
      ) : (
        <div className="write-own">
          <DocumentEditor
            language="yaml"
            label="Text of the rule"
            text={text ?? now.data.text}
            mistake={null}
            readOnly={!props.mayChange}
            onChange={setText}
            onKeep={() => undefined}
          />
          <div aria-live="polite">
            {!changed && (
              <p className="sm soft">Change the text: matches that are kept, lost and new stand here.</p>
            )}
            {running && (
              <div role="status" className="sm">
                Replaying beside the present version
                <div className="reading-bar">
                  <i
                    style={{
                      width: `${Math.round((followed.newest?.piece === 'progress' ? followed.newest.done : 0) * 100)}%`,
                    }}
                  />
                </div>
              </div>
            )}
            {followed.failure !== null && (
              <Failed title="It cannot be replayed">{followed.failure.message}</Failed>
            )}
            {changed && proof !== null && followed.failure === null && (
              <Proof proof={proof} ticked={null} window={window} zone={zone} search={search} />
            )}
            {props.failure !== null && <Failed title="Nothing was kept">{props.failure.message}</Failed>}
          </div>
        </div>
      )}
    </Dialog>
  );
}
