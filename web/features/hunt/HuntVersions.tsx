import { useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import { listHuntVersions } from '../../../core/wire/endpoints/saved-hunts.js';
import type { SavedHunt } from '../../../core/wire/saved-hunts.js';
import { answerTo } from '../../api/call.js';
import { Dialog } from '../../kit/Dialog.js';
import { showTime } from '../../ui/format.js';
import { Failed, Reading } from '../../ui/State.js';

/** Every text a saved hunt has had, to be looked at and opened. */
export function HuntVersions({
  hunt,
  onOpen,
  onClose,
}: {
  readonly hunt: SavedHunt;
  readonly onOpen: (text: string) => void;
  readonly onClose: () => void;
}): JSX.Element {
  const versions = useQuery(answerTo(listHuntVersions, { params: { id: hunt.id } }));
  return (
    <Dialog title={<>Versions of {hunt.name}</>} onClose={onClose} size="lg">
      {versions.isPending && <Reading title="Fetching the versions" />}
      {versions.isError && <Failed title="They cannot be shown">{versions.error.message}</Failed>}
      {(versions.data?.versions ?? []).map(({ version, text, by, at }) => (
        <div key={version} className="pb-3">
          <p className="sm mb-1 d-flex gap-3">
            <span className="grow">
              Version {version}, <span className="mono">{by}</span>, {showTime(at, 'UTC', 'minute')} UTC
            </span>
            <button type="button" className="link" onClick={() => onOpen(text)}>
              Open
            </button>
          </p>
          <pre className="curl-text">{text}</pre>
        </div>
      ))}
    </Dialog>
  );
}
