import { useMutation, type UseMutationResult, useQueryClient } from '@tanstack/react-query';
import type { AlertChange, AlertsChanged } from '../../../core/wire/alerts.js';
import { changeAlert, changeAlerts, mergeAlerts } from '../../../core/wire/endpoints/alerts.js';
import { about, call } from '../../api/call.js';

/** What can be done with alerts, one or many. */
export interface AlertWork {
  readonly change: UseMutationResult<AlertsChanged, Error, { ids: readonly number[]; to: AlertChange }>;
  readonly merge: UseMutationResult<unknown, Error, { ids: readonly number[]; into: number }>;
  /** What went wrong last, in words. */
  readonly problem: string | null;
}

/** Changes alerts; of many, those that are refused are told and the others are changed. */
export function useAlertWork(): AlertWork {
  const client = useQueryClient();
  const refresh = (): Promise<void> => client.invalidateQueries(about('alerts'));
  const change = useMutation({
    mutationFn: async ({ ids, to }: { ids: readonly number[]; to: AlertChange }): Promise<AlertsChanged> => {
      const [only] = ids;
      if (ids.length !== 1 || only === undefined) return call(changeAlerts, { body: { ids, change: to } });
      await call(changeAlert, { params: { id: only }, body: to });
      return { changed: [only], refused: [] };
    },
    onSettled: refresh,
  });
  const merge = useMutation({
    mutationFn: (body: { ids: readonly number[]; into: number }) => call(mergeAlerts, { body }),
    onSettled: refresh,
  });
  const refused = change.data?.refused ?? [];
  return {
    change,
    merge,
    problem:
      change.error?.message ??
      merge.error?.message ??
      (refused.length === 0 ? null : refused.map(({ id, why }) => `Alert ${id}: ${why}`).join(' ')),
  };
}
