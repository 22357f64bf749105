import { useQuery } from '@tanstack/react-query';
import { DateTime } from 'luxon';
import { useMemo } from 'react';
import type { CompileOptions } from '../../core/wick/compile.js';
import { listLists } from '../../core/wire/endpoints/lists.js';
import { listSources } from '../../core/wire/endpoints/sources.js';
import { answerTo } from '../api/call.js';
import type { Beam } from '../beam/beam.js';
import type { HuntHelp } from './wick-help.js';

/** What a hunt is checked against in the page, and what completion knows besides. */
export function useHuntOptions({ window }: Pick<Beam, 'window'>): HuntHelp {
  const lists = useQuery(answerTo(listLists));
  const sources = useQuery(answerTo(listSources));
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
