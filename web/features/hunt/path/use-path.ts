import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useLayoutEffect, useRef } from 'react';
import { notePoint } from '../../../../core/wire/endpoints/paths.js';
import type { NewHuntPoint, Question } from '../../../../core/wire/paths.js';
import { about, call } from '../../../api/call.js';
import type { HuntRun } from '../../../results/use-hunt-run.js';

interface Walked {
  readonly question: Question;
  readonly run: HuntRun;
  /** Events by bar; null while they are not counted. */
  readonly bars: readonly number[] | null;
  /** Nothing is noted while a peek is looked at, or the hunt is followed. */
  readonly resting: boolean;
  /** The point that was reached last. */
  readonly at: number | null;
  /** @param question what was noted: by the time it is, something else may be asked */
  readonly onReach: (point: number, question: Question) => void;
}

/** Notes each run that has come to its end as a point of the path, after the one it was changed from. */
export function usePath({ question, run, bars, resting, at, onReach }: Walked): void {
  const client = useQueryClient();
  const noted = useRef<HuntRun | null>(null);
  const latest = useRef({ at, onReach });
  useLayoutEffect(() => {
    latest.current = { at, onReach };
  });
  const { mutate } = useMutation({
    mutationFn: (body: NewHuntPoint) => call(notePoint, { body }),
    onSuccess: (point, { question: noted }) => {
      void client.invalidateQueries(about('hunt-points'));
      if (point.id !== latest.current.at) latest.current.onReach(point.id, noted);
    },
    // Another's point in the address, or a path that is full: the run begins a path of its own.
    onError: (_, { parent, ...body }) => {
      if (parent !== undefined) mutate(body);
    },
  });
  useEffect(() => {
    // The same run is noted once, whatever else of the page changes; one that is under way has other columns.
    if (resting || run.status !== 'done' || bars === null || noted.current?.columns === run.columns) return;
    noted.current = run;
    mutate({
      question,
      rows: run.rows.length,
      complete: run.complete,
      bars: [...bars],
      ...(latest.current.at !== null && { parent: latest.current.at }),
    });
  }, [resting, run, bars, question, mutate]);
}
