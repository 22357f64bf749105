import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { MAX_TOLD_ALERTS } from '../../core/wire/alerts.js';
import { listAlerts, readAlert } from '../../core/wire/endpoints/alerts.js';
import { listCases, readCase } from '../../core/wire/endpoints/cases.js';
import { listRules } from '../../core/wire/endpoints/rules.js';
import { about, keyOf } from '../api/call.js';
import { listenLive } from './live-stream.js';

/** Sources change with every batch; their page is asked again at most so often. */
const SOURCES_MILLISECONDS = 3000;

/** Listens to what the server tells while the page is open, and asks anew for what has changed. */
export function useLive(): void {
  const client = useQueryClient();
  useEffect(() => {
    let waiting: number | undefined;
    const ask = (queryKey: readonly unknown[]): void => void client.invalidateQueries({ queryKey });
    const stop = listenLive((news) => {
      switch (news.topic) {
        case 'sources':
          waiting ??= window.setTimeout(() => {
            waiting = undefined;
            void client.invalidateQueries(about('sources'));
          }, SOURCES_MILLISECONDS);
          return;
        case 'alerts':
          // The queue, those of them that are open, and how often rules matched: nothing else has changed.
          if (news.ids.length >= MAX_TOLD_ALERTS) void client.invalidateQueries(about('alerts'));
          ask(keyOf(listAlerts));
          for (const id of news.ids) ask(keyOf(readAlert, { params: { id } }));
          ask(keyOf(listRules));
          void client.invalidateQueries(about('runbook-runs'));
          return;
        case 'cases':
          ask(keyOf(listCases));
          ask(keyOf(readCase, { params: { id: news.id } }));
          return;
        case 'ready':
          void client.invalidateQueries(about('alerts'));
      }
    });
    return () => {
      stop();
      window.clearTimeout(waiting);
    };
  }, [client]);
}
