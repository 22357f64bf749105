import { type JSX, useState } from 'react';
import type { ChangeKind } from '../../core/wire/changes.js';
import { listChanges } from '../../core/wire/endpoints/changes.js';
import { usePages } from '../api/pages.js';
import { More } from '../kit/More.js';
import { showTime } from '../ui/format.js';
import { Failed } from '../ui/State.js';

/** Who changed something, and when; fetched once somebody opens it. */
export function Changes({
  kind,
  name,
  zone,
}: {
  kind: ChangeKind;
  /** The id of a rule, the name of anything else; all of the kind where it is left out. */
  name?: string;
  zone: string;
}): JSX.Element {
  const [open, setOpen] = useState(false);
  const found = usePages(listChanges, { query: { kind, name } }, { enabled: open });
  const changes = found.pages.flatMap((page) => page.changes);
  return (
    <details className="changes inset sm" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>Who changed what</summary>
      {found.isError && <Failed title="The changes cannot be shown">{found.error?.message}</Failed>}
      {found.isSuccess && changes.length === 0 && <p className="soft">Nothing was changed yet.</p>}
      {changes.map(({ at, who, name: of, what }, i) => (
        <p key={i} className="mb-1">
          <span className="mono xs">{showTime(at, zone, 'minute')}</span> <span className="mono">{who}</span>
          {name === undefined && kind !== 'rule' && <span className="mono"> · {of}</span>}
          <span className="soft anywhere"> {what}</span>
        </p>
      ))}
      <More onMore={found.more} label="Show earlier ones" />
    </details>
  );
}
