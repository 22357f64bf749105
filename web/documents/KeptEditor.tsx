import { useMutation } from '@tanstack/react-query';
import type { JSX } from 'react';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import {
  KEPT_NAME,
  type KeptCheck,
  type KeptHead,
  type KeptVersion,
} from '../../core/wire/kept-documents.js';
import { DocumentEditor } from '../ui/DocumentEditor.js';
import { Failed } from '../ui/State.js';

/** A document as JSON, as whoever opens it finds it. */
export const writtenDocument = (document: unknown): string => `${JSON.stringify(document, null, 2)}\n`;

/** A document that is kept, or null for one that is about to be. */
export type Kept =
  (KeptHead & { readonly document: object; readonly versions: readonly KeptVersion[] }) | null;

/** Writes a document that is kept in versions: as JSON, with its mistakes and their places, checked before it is kept. */
export function KeptEditor({
  label,
  kept,
  text,
  onText,
  nameHint,
  mayChange,
  fine,
  check,
  keep,
}: {
  label: string;
  kept: Kept;
  text: string;
  onText: (text: string) => void;
  /** A name as a new one may have it. */
  nameHint: string;
  mayChange: boolean;
  /** What is said of a text without mistakes. */
  fine: string;
  check: (text: string) => Promise<KeptCheck>;
  keep: (name: string, body: { text: string; basedOn?: number }) => Promise<unknown>;
}): JSX.Element {
  const [name, setName] = useState('');
  const wanted = kept?.name ?? name.trim();
  const differs = kept === null || text !== writtenDocument(kept.document);
  const checking = useMutation({ mutationFn: () => check(text) });
  const keeping = useMutation({
    mutationFn: () => keep(wanted, { text, ...(kept !== null && { basedOn: kept.version }) }),
  });
  const mistakes = checking.data?.mistakes ?? [];
  const tryToKeep = async (): Promise<void> => {
    const { mistakes: found } = await checking.mutateAsync();
    if (found.length === 0 && KEPT_NAME.test(wanted)) keeping.mutate();
  };
  return (
    <div className="kept-text">
      {kept === null && (
        <Form.Group controlId="kept-name" className="inset py-1">
          <Form.Label className="sm mb-0">Name in addresses</Form.Label>
          <Form.Control
            size="sm"
            autoFocus
            className="mono"
            placeholder={nameHint}
            maxLength={60}
            value={name}
            isInvalid={name !== '' && !KEPT_NAME.test(name.trim())}
            onChange={(event) => setName(event.target.value)}
          />
          <Form.Control.Feedback type="invalid">Small letters, digits and “-”.</Form.Control.Feedback>
        </Form.Group>
      )}
      <DocumentEditor
        language="json"
        label={label}
        text={text}
        mistake={mistakes[0] ?? null}
        readOnly={!mayChange}
        onChange={onText}
        onKeep={() => void tryToKeep()}
      />
      {mistakes.length > 0 && (
        <ul className="card-mistake inset" role="alert">
          {mistakes.map(({ line, column, message }) => (
            <li key={`${line} ${column} ${message}`}>
              Line {line}, column {column}: {message}
            </li>
          ))}
        </ul>
      )}
      {checking.isSuccess && mistakes.length === 0 && !differs && (
        <p className="inset sm soft mb-1" role="status">
          {keeping.isSuccess ? 'Kept.' : fine}
        </p>
      )}
      {keeping.isError && <Failed title="It was not kept">{keeping.error.message}</Failed>}
      {mayChange && (
        <div className="inset py-2 d-flex gap-2 align-items-center">
          <Button
            variant="primary"
            disabled={!differs || wanted === '' || keeping.isPending}
            onClick={() => void tryToKeep()}
          >
            Keep it
          </Button>
          <Button variant="outline-secondary" onClick={() => checking.mutate()}>
            Check it
          </Button>
          {kept !== null && kept.versions.length > 1 && (
            <Form.Select
              size="sm"
              className="w-auto"
              aria-label="Take the text of a version"
              value=""
              onChange={(event) => {
                const one = kept.versions.find(({ version }) => String(version) === event.target.value);
                if (one !== undefined) onText(writtenDocument(one.document));
              }}
            >
              <option value="">Earlier versions…</option>
              {kept.versions.map(({ version, changedBy }) => (
                <option key={version} value={version}>
                  {version}, {changedBy}
                </option>
              ))}
            </Form.Select>
          )}
        </div>
      )}
    </div>
  );
}
