import { useQueryClient } from '@tanstack/react-query';
import { type DragEvent, type JSX, useCallback, useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import type { Source } from '../../../core/wire/sources.js';
import { about } from '../../api/call.js';
import { count, counted, roughly } from '../../ui/format.js';
import { checkFile, CheckFile, isPlainlyGood } from './CheckFile.js';
import { useUpload } from './use-upload.js';

const megabytes = (bytes: number): string => `${(bytes / 1_000_000).toFixed(1)} MB`;

/** Sends a file of records to a source: by choice or by dropping it here. */
export function Upload({ source }: { source: Source }): JSX.Element {
  const client = useQueryClient();
  const refresh = useCallback(() => void client.invalidateQueries(about('sources')), [client]);
  const { upload, send, stop } = useUpload(source.name, refresh);
  const [asking, setAsking] = useState<File | null>(null);
  const [looking, setLooking] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  /** What its source reads without trouble is sent at once; anything else is shown first. */
  const take = (file: File): void => {
    setAsking(null);
    setLooking(true);
    void checkFile(file, source)
      .then((found) => (isPlainlyGood(found) ? send(file) : setAsking(file)))
      .catch(() => setAsking(file))
      .finally(() => setLooking(false));
  };
  const drop = (event: DragEvent): void => {
    event.preventDefault();
    setOver(false);
    const file = event.dataTransfer.files[0];
    if (file !== undefined) take(file);
  };
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head">Upload a file</h3>
        <span className="xs faint">
          plain, packed or binary event files, any size; sending it again doubles nothing
        </span>
      </div>
      <div
        className={`drop${over ? ' over' : ''}`}
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
      >
        <input
          ref={input}
          type="file"
          className="visually-hidden"
          aria-label="File of records"
          tabIndex={-1}
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file !== undefined) take(file);
            event.target.value = '';
          }}
        />
        {upload.state === 'sending' ? (
          <>
            <p className="d-flex gap-2">
              <span className="grow cut">
                {upload.name}: {megabytes(upload.sent)} of {megabytes(upload.size)}
                {upload.sent > 0 &&
                  `, ${megabytes(upload.bytesPerSecond)} a second, ${roughly(
                    (upload.size - upload.sent) / Math.max(1, upload.bytesPerSecond),
                  )} left`}
              </span>
              <button type="button" className="link" onClick={stop}>
                Stop
              </button>
            </p>
            <div
              className="progress-amber mt-1"
              role="progressbar"
              aria-valuenow={upload.sent}
              aria-valuemax={upload.size}
              aria-label="Sent"
            >
              <i style={{ width: `${upload.size === 0 ? 100 : (upload.sent / upload.size) * 100}%` }} />
            </div>
          </>
        ) : asking !== null ? (
          <CheckFile
            file={asking}
            source={source}
            onSend={(way) => {
              send(asking, way);
              setAsking(null);
            }}
            onCancel={() => setAsking(null)}
          />
        ) : (
          <p className="d-flex gap-2 align-items-center">
            <Button variant="outline-secondary" onClick={() => input.current?.click()}>
              Choose a file
            </Button>
            <span className="soft">{looking ? 'looking at its beginning…' : 'or drop it here'}</span>
          </p>
        )}
        <div aria-live="polite">
          {upload.state === 'done' && (
            <p className="pt-2" data-testid="upload-result">
              {upload.name}: {counted(upload.result.records, 'record')}, {count(upload.result.stored)} stored,{' '}
              {count(upload.result.known)} already known, {count(upload.result.setAside)} set aside
              {upload.result.discarded > 0 && `, ${count(upload.result.discarded)} discarded`}.
            </p>
          )}
          {upload.state === 'stopped' && (
            <p className="pt-2">{upload.name}: stopped. What had been read by then is stored.</p>
          )}
          {upload.state === 'failed' && (
            <p className="pt-2 problem" role="alert">
              {upload.name}: {upload.detail}
            </p>
          )}
        </div>
      </div>
    </>
  );
}
