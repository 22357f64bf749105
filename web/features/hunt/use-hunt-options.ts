import { useQuery } from '@tanstack/react-query';
import { DateTime } from 'luxon';
import { useMemo } from 'react';
import type { CompileOptions } from '../../../core/wick/compile.js';
import type { ListSummary } from '../../../core/wire/lists.js';
import type { Source } from '../../../core/wire/sources.js';
import { askJson } from '../../api/client.js';
import { keys } from '../../api/keys.js';
import type { Beam } from '../../beam/beam.js';
import type { HuntHelp } from './wick-help.js';

/** What a hunt is checked against in the page, and what completion knows besides. */
export function useHuntOptions({ window }: Pick<Beam, 'window'>): HuntHelp {
  const lists = useQuery({
    queryKey: keys.lists,
    queryFn: () => askJson<{ lists: ListSummary[] }>('/lists'),
  });
  const sources = useQuery({
    queryKey: keys.sources,
    queryFn: () => askJson<{ sources: Source[] }>('/sources'),
  });
  const { from, to } = window;
  return useMemo(() => {
    const micros = (iso: string): number => DateTime.fromISO(iso).toMillis() * 1000;
    const listed = lists.data?.lists ?? [];
    const options: CompileOptions = {
      window: { from: micros(from), to: micros(to) },
      now: micros(to),
      lists: listed,
    };
    return {
      options,
      catalogue: {
        lists: listed.map((list) => list.name),
        sources: (sources.data?.sources ?? []).map((source) => source.name),
      },
    };
  }, [from, to, lists.data, sources.data]);
}
