/** What the server tells while pages are open. */
export type LiveNews =
  /** The stream begins, or begins anew: something may have been missed. */
  | { readonly topic: 'ready' }
  | { readonly topic: 'alerts'; readonly ids: readonly number[] }
  | { readonly topic: 'sources'; readonly name: string }
  | { readonly topic: 'cases'; readonly id: number };

const TOPICS = ['ready', 'alerts', 'sources', 'cases'] as const;
const CHANNEL = 'under-lamp live';

/** Listens to the server itself. @returns how to stop */
function openStream(tell: (news: LiveNews) => void): () => void {
  const stream = new EventSource('/api/v1/live');
  for (const topic of TOPICS)
    stream.addEventListener(topic, ({ data }: MessageEvent<string>) =>
      tell({ topic, ...(JSON.parse(data) as object) } as LiveNews),
    );
  return () => stream.close();
}

/**
 * Hears what the server tells. Browsers hold only six connections to a server, so of all open pages one listens and
 * passes on what it hears; when it closes, another takes over.
 * @returns how to stop
 */
export function listenLive(tell: (news: LiveNews) => void): () => void {
  // Without a secure context there are no locks: then every page listens for itself.
  if (!('locks' in navigator) || typeof BroadcastChannel === 'undefined') return openStream(tell);
  const channel = new BroadcastChannel(CHANNEL);
  channel.addEventListener('message', (event: MessageEvent<LiveNews>) => tell(event.data));
  const stopped = new AbortController();
  const speak = (): Promise<void> =>
    new Promise((done) => {
      const close = openStream((news) => {
        tell(news);
        channel.postMessage(news);
      });
      stopped.signal.addEventListener('abort', () => {
        close();
        done();
      });
    });
  navigator.locks.request(CHANNEL, { signal: stopped.signal }, speak).catch(() => undefined);
  return () => {
    stopped.abort();
    channel.close();
  };
}
