import { useCallback, useRef, useState } from 'react';
import type { Problem } from '../../../core/wire/common.js';
import type { UploadResult } from '../../../core/wire/sources.js';

/** How records are to be read where that is not as their source says. */
export interface OtherWay {
  readonly recipe?: string;
  readonly format?: string;
}

/** How an upload stands. */
export type UploadState =
  | { readonly state: 'idle' }
  | {
      readonly state: 'sending';
      readonly name: string;
      readonly sent: number;
      readonly size: number;
      readonly bytesPerSecond: number;
    }
  | { readonly state: 'done'; readonly name: string; readonly result: UploadResult }
  | { readonly state: 'stopped'; readonly name: string }
  | { readonly state: 'failed'; readonly name: string; readonly detail: string };

/**
 * Sends a file with progress, which only XMLHttpRequest tells. The server takes it in as it comes, so what has been
 * sent is as good as what has been read.
 */
export function useUpload(
  source: string,
  onDone: () => void,
): { upload: UploadState; send: (file: File, way?: OtherWay) => void; stop: () => void } {
  const [upload, setUpload] = useState<UploadState>({ state: 'idle' });
  const request = useRef<XMLHttpRequest | null>(null);
  const send = useCallback(
    (file: File, way: OtherWay = {}) => {
      const call = new XMLHttpRequest();
      request.current = call;
      const { name, size } = file;
      const started = Date.now();
      setUpload({ state: 'sending', name, sent: 0, size, bytesPerSecond: 0 });
      call.upload.addEventListener('progress', (event) =>
        setUpload({
          state: 'sending',
          name,
          sent: event.loaded,
          size,
          bytesPerSecond: (event.loaded * 1000) / Math.max(1, Date.now() - started),
        }),
      );
      call.addEventListener('load', () => {
        if (call.status === 200)
          setUpload({ state: 'done', name, result: JSON.parse(call.responseText) as UploadResult });
        else {
          let detail = `The server answered ${call.status}.`;
          try {
            detail = (JSON.parse(call.responseText) as Problem).detail;
          } catch {
            // Not a problem document; the status says what is known.
          }
          setUpload({ state: 'failed', name, detail });
        }
        onDone();
      });
      call.addEventListener('error', () =>
        setUpload({
          state: 'failed',
          name,
          detail:
            'The connection broke. What had arrived is stored; send the file again, nothing is doubled.',
        }),
      );
      call.addEventListener('abort', () => {
        setUpload({ state: 'stopped', name });
        onDone();
      });
      const query = new URLSearchParams({ ...way }).toString();
      call.open('POST', `/api/v1/sources/${encodeURIComponent(source)}/upload${query && `?${query}`}`);
      call.setRequestHeader('Content-Type', 'application/octet-stream');
      call.send(file);
    },
    [source, onDone],
  );
  const stop = useCallback(() => request.current?.abort(), []);
  return { upload, send, stop };
}
