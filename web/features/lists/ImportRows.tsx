import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { importList, previewList } from '../../../core/wire/endpoints/lists.js';
import type { ListSummary } from '../../../core/wire/lists.js';
import { about, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { Dialog } from '../../kit/Dialog.js';
import { count, counted } from '../../ui/format.js';
import { Failed } from '../../ui/State.js';

const shapeWords = { csv: 'CSV', json: 'JSON', stix: 'STIX indicators' } as const;

/** Makes a list, or takes rows into one, from pasted text or a file: first shown as it will be read. */
export function ImportRows({
  label,
  list,
  onDone,
}: {
  label: string;
  list?: ListSummary;
  onDone: (name: string) => void;
}): JSX.Element | null {
  const person = usePerson();
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const [text, setText] = useState('');
  const [name, setName] = useState('');
  const [description, setDescription] = useState('');
  const [key, setKey] = useState<string | null>(null);
  const [match, setMatch] = useState<ListSummary['match'] | null>(null);
  const [how, setHow] = useState<'add' | 'replace'>('add');
  const [split, setSplit] = useState(true);
  const preview = useMutation({
    mutationFn: ({ pasted, heading }: { pasted: string; heading?: boolean }) =>
      call(previewList, { body: { text: pasted, ...(heading !== undefined && { heading }) } }),
  });
  const kinds = preview.data?.kinds ?? [];
  const isSplit = list === undefined && split && kinds.length > 1;
  const chosenKey = list?.key ?? key ?? preview.data?.key ?? '';
  const chosenMatch = list?.match ?? match ?? preview.data?.match ?? 'exact';
  const target = list?.name ?? name;
  const take = useMutation({
    mutationFn: () =>
      call(importList, {
        params: { list: target },
        body: {
          text,
          ...(preview.data?.headed != null && { heading: preview.data.headed }),
          ...(isSplit && { split: true }),
          key: isSplit ? (preview.data?.mixed ?? chosenKey) : chosenKey,
          match: chosenMatch,
          how: list === undefined ? 'replace' : how,
          ...(list === undefined && description !== '' && { description }),
        },
      }),
    onSuccess: () => client.invalidateQueries(about('lists')),
  });
  if (person.role === 'reader') return null;
  const close = (): void => {
    setOpen(false);
    if (take.isSuccess) onDone(take.data.lists[0] ?? target);
    take.reset();
    preview.reset();
    setText('');
    setName('');
    setKey(null);
    setMatch(null);
  };
  const put = (pasted: string): void => {
    setText(pasted);
    take.reset();
    if (pasted.trim() !== '') preview.mutate({ pasted });
    else preview.reset();
  };
  const submit = (): void => {
    take.mutate();
  };
  return (
    <>
      <Button
        size="sm"
        variant={list === undefined ? 'primary' : 'outline-secondary'}
        onClick={() => setOpen(true)}
      >
        {label}
      </Button>
      {open && (
        <Dialog
          onSend={submit}
          title={<>{list === undefined ? 'New list' : `Import into ${list.name}`}</>}
          onClose={close}
          size="lg"
          foot={
            <>
              {take.isSuccess ? (
                <Button variant="primary" onClick={close}>
                  Done
                </Button>
              ) : (
                <Button type="submit" variant="primary" disabled={take.isPending || !preview.isSuccess}>
                  Take them in
                </Button>
              )}
            </>
          }
        >
          <div className="d-grid gap-2">
            {list === undefined && (
              <div className="d-grid gap-2 name-and-words">
                <Form.Group controlId="list-name">
                  <Form.Label className="sm mb-0">Name</Form.Label>
                  <Form.Control
                    size="sm"
                    required
                    autoFocus
                    pattern="[A-Za-z0-9_.\-]{1,100}"
                    title="Letters, digits, _ . -"
                    value={name}
                    onChange={(event) => setName(event.target.value)}
                  />
                </Form.Group>
                <Form.Group controlId="list-description">
                  <Form.Label className="sm mb-0">What it is for</Form.Label>
                  <Form.Control
                    size="sm"
                    maxLength={1000}
                    value={description}
                    onChange={(event) => setDescription(event.target.value)}
                  />
                </Form.Group>
              </div>
            )}
            <Form.Group controlId="list-text">
              <Form.Label className="sm mb-0">
                Rows: CSV, JSON, one value a line, or a STIX 2.1 bundle
              </Form.Label>
              <Form.Control
                as="textarea"
                rows={6}
                required
                className="mono sm"
                value={text}
                placeholder={'user,department\nteo.marrash,fares'}
                onChange={(event) => put(event.target.value)}
              />
            </Form.Group>
            <Form.Control
              size="sm"
              type="file"
              aria-label="Or a file"
              onChange={(event) => {
                const file = (event.target as HTMLInputElement).files?.[0];
                if (file !== undefined) void file.text().then(put);
              }}
            />
            {preview.isError && <Failed title="It cannot be read">{preview.error.message}</Failed>}
            {preview.data !== undefined && (
              <>
                <p className="sm">
                  {shapeWords[preview.data.shape]}: <b>{count(preview.data.total)}</b> rows
                  {preview.data.mistakes.length > 0 &&
                    `, ${preview.data.mistakes.length} things could not be taken`}
                </p>
                {preview.data.mistakes.slice(0, 4).map((mistake) => (
                  <p key={mistake} className="margin-note bad">
                    <span />
                    {mistake}
                  </p>
                ))}
                {preview.data.notes.map((note) => (
                  <p key={note} className="sm soft mb-0">
                    {note}
                  </p>
                ))}
                {preview.data.headed !== null && (
                  <Form.Check
                    id="list-headed"
                    className="sm"
                    label={
                      <>
                        The first row names the columns:{' '}
                        <span className="mono">{preview.data.columns.slice(0, 8).join(', ')}</span>
                      </>
                    }
                    checked={preview.data.headed}
                    onChange={(event) => preview.mutate({ pasted: text, heading: event.target.checked })}
                  />
                )}
                {list === undefined && kinds.length > 1 && (
                  <Form.Check
                    id="list-split"
                    className="sm"
                    label={`A list for each kind: ${kinds.map((one) => `${count(one.rows)} ${one.kind}`).join(', ')}`}
                    checked={split}
                    onChange={(event) => setSplit(event.target.checked)}
                  />
                )}
                <div className="d-flex gap-3" hidden={isSplit}>
                  <Form.Group controlId="list-key">
                    <Form.Label className="sm mb-0">Key</Form.Label>
                    <Form.Select
                      size="sm"
                      disabled={list !== undefined}
                      value={chosenKey}
                      onChange={(event) => setKey(event.target.value)}
                    >
                      {[...new Set([...preview.data.columns, chosenKey])].map((column) => (
                        <option key={column}>{column}</option>
                      ))}
                    </Form.Select>
                  </Form.Group>
                  <Form.Group controlId="list-match">
                    <Form.Label className="sm mb-0">Match</Form.Label>
                    <Form.Select
                      size="sm"
                      disabled={list !== undefined}
                      value={chosenMatch}
                      onChange={(event) => setMatch(event.target.value as ListSummary['match'])}
                    >
                      <option value="exact">exact, ignoring case</option>
                      <option value="network">network, longest prefix</option>
                      <option value="wildcard">wildcard, * and ?</option>
                    </Form.Select>
                  </Form.Group>
                  {list !== undefined && (
                    <Form.Group controlId="list-how">
                      <Form.Label className="sm mb-0">What is there</Form.Label>
                      <Form.Select
                        size="sm"
                        value={how}
                        onChange={(event) => setHow(event.target.value as 'add' | 'replace')}
                      >
                        <option value="add">stays; equal keys are replaced</option>
                        <option value="replace">is replaced</option>
                      </Form.Select>
                    </Form.Group>
                  )}
                </div>
              </>
            )}
            {take.isError && <Failed title="Nothing was changed">{take.error.message}</Failed>}
            {take.data !== undefined && (
              <p className="sm" role="status">
                Taken in:{' '}
                {take.data.lists.length === 1 ? 'the list has' : `${take.data.lists.join(', ')} have`}{' '}
                {counted(take.data.rows, 'row')}.
              </p>
            )}
          </div>
        </Dialog>
      )}
    </>
  );
}
