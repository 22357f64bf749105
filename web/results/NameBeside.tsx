import { useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import { namesOfIds } from '../../core/wire/endpoints/dossiers.js';
import { call } from '../api/call.js';

/** Ids on one screen are asked for together: what is wanted within so long goes in one request. */
const GATHER_MILLISECONDS = 30;
/** Ids of one request. */
const MAX_IDS = 200;

let wanted: Map<string, ((name: string | null) => void)[]> | null = null;

async function askTogether(ids: NonNullable<typeof wanted>): Promise<void> {
  const values = [...ids.keys()];
  for (let at = 0; at < values.length; at += MAX_IDS) {
    const part = values.slice(at, at + MAX_IDS);
    // A name that does not come is no reason to disturb whoever reads.
    const names = await call(namesOfIds, { body: { kind: 'user', ids: part } }).then(
      (answer): Readonly<Record<string, string>> => answer.names,
      (): Readonly<Record<string, string>> => ({}),
    );
    for (const id of part) for (const done of ids.get(id) ?? []) done(names[id] ?? null);
  }
}

function nameOfId(id: string): Promise<string | null> {
  return new Promise((resolve) => {
    if (wanted === null) {
      const gathered = new Map<string, ((name: string | null) => void)[]>();
      wanted = gathered;
      setTimeout(() => {
        wanted = null;
        void askTogether(gathered);
      }, GATHER_MILLISECONDS);
    }
    wanted.set(id, [...(wanted.get(id) ?? []), resolve]);
  });
}

/** Fields that hold the id of somebody. */
export const ID_FIELDS: ReadonlySet<string | null> = new Set(['user_id', 'target_id']);

/** The name that belongs to an id, beside it; nothing where none is known. */
export function NameBeside({ id }: { readonly id: string }): JSX.Element | null {
  const { data } = useQuery({
    queryKey: ['names', id],
    queryFn: () => nameOfId(id),
    staleTime: 300_000,
    retry: false,
  });
  return data == null || data === id ? null : <span className="soft name-beside"> {data}</span>;
}
