import { useMutation, useQueryClient, type UseMutationResult } from '@tanstack/react-query';
import type { AlertChange, AlertsChanged } from '../../../core/wire/alerts.js';
import { askJson } from '../../api/client.js';
import { keys } from '../../api/keys.js';

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
  const refresh = (): Promise<void> => client.invalidateQueries({ queryKey: keys.alerts });
  const change = useMutation({
    mutationFn: async ({ ids, to }: { ids: readonly number[]; to: AlertChange }): Promise<AlertsChanged> => {
      const [only] = ids;
      if (ids.length !== 1 || only === undefined)
        return askJson<AlertsChanged>('/alerts', { method: 'PATCH', body: { ids, change: to } });
      await askJson(`/alerts/${only}`, { method: 'PATCH', body: to });
      return { changed: [only], refused: [] };
    },
    onSettled: refresh,
  });
  const merge = useMutation({
    mutationFn: (body: { ids: readonly number[]; into: number }) =>
      askJson('/alerts/merge', { method: 'POST', body }),
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
