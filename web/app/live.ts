import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { keys } from '../api/keys.js';
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
          void client.invalidateQueries({ queryKey: keys.sources });
        }, SOURCES_MILLISECONDS);
        return;
      }
      // When the stream begins anew, something may have been missed.
      void client.invalidateQueries({ queryKey: keys.alerts });
      if (topic === 'alerts') void client.invalidateQueries({ queryKey: keys.rules });
    });
    return () => {
      stop();
      window.clearTimeout(waiting);
    };
  }, [client]);
}
