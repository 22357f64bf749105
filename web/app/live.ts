import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { about } from '../api/call.js';
import { listenLive } from './live-stream.js';

/** Sources change with every batch; their page is asked again at most so often. */
const SOURCES_MILLISECONDS = 3000;

/** Listens to what the server tells while the page is open, and asks anew for what has changed. */
export function useLive(): void {
  const client = useQueryClient();
  useEffect(() => {
    let waiting: number | undefined;
    const stop = listenLive(({ topic }) => {
      if (topic === 'sources') {
        waiting ??= window.setTimeout(() => {
          waiting = undefined;
          void client.invalidateQueries(about('sources'));
        }, SOURCES_MILLISECONDS);
        return;
      }
      // When the stream begins anew, something may have been missed.
      void client.invalidateQueries(about('alerts'));
      if (topic === 'alerts') void client.invalidateQueries(about('rules'));
    });
    return () => {
      stop();
      window.clearTimeout(waiting);
    };
  }, [client]);
}
