import { type JSX, useEffect, useRef } from 'react';
import { Form } from 'react-bootstrap';
import { useFormContext, useWatch } from 'react-hook-form';
import type { ListPreview, ListSummary } from '../../../core/wire/lists.js';
import { AreaField, ChoiceField, SwitchField } from '../../kit/form.js';
import { count } from '../../ui/format.js';
import { Failed } from '../../ui/State.js';

/** What is asked before rows are taken in. */
export interface Import {
  readonly name: string;
  readonly description: string;
  readonly text: string;
  readonly key: string;
  readonly match: ListSummary['match'];
  readonly how: 'add' | 'replace';
  readonly split: boolean;
}

const shapeWords = { csv: 'CSV', json: 'JSON', stix: 'STIX indicators' } as const;

const matches: readonly (readonly [ListSummary['match'], string])[] = [
  ['exact', 'exact, ignoring case'],
  ['network', 'network, longest prefix'],
  ['wildcard', 'wildcard, * and ?'],
];

/** The text that rows come from, how it will be read, and what they will be to the list. */
export function RowsToImport({
  list,
  preview,
  unreadable,
  onRead,
}: {
  list: ListSummary | undefined;
  preview: ListPreview | undefined;
  unreadable: Error | null;
  /** @param heading whether the first row names the columns, where somebody said so */
  onRead: (text: string, heading?: boolean) => void;
}): JSX.Element {
  const { setValue, control } = useFormContext<Import>();
  const text = useWatch({ control, name: 'text' });
  const split = useWatch({ control, name: 'split' });
  const read = useRef(onRead);
  useEffect(() => {
    read.current = onRead;
  });
  useEffect(() => read.current(text), [text]);
  // What suits the text is proposed with every reading of it.
  useEffect(() => {
    if (preview === undefined) return;
    setValue('key', preview.key);
    setValue('match', preview.match);
  }, [preview, setValue]);
  return (
    <>
      <AreaField<Import>
        name="text"
        label="Rows: CSV, JSON, one value a line, or a STIX 2.1 bundle"
        rows={6}
        className="mono sm"
        autoFocus={list !== undefined}
        placeholder={'user,department\nteo.marrash,fares'}
      />
      <Form.Control
        size="sm"
        type="file"
        aria-label="Or a file"
        onChange={(event) => {
          const file = (event.target as HTMLInputElement).files?.[0];
          if (file !== undefined) void file.text().then((held) => setValue('text', held));
        }}
      />
      {unreadable !== null && <Failed title="It cannot be read">{unreadable.message}</Failed>}
      {preview !== undefined && (
        <>
          <p className="sm mb-0">
            {shapeWords[preview.shape]}: <b>{count(preview.total)}</b> rows
            {preview.mistakes.length > 0 && `, ${preview.mistakes.length} things could not be taken`}
          </p>
          {preview.mistakes.slice(0, 4).map((mistake) => (
            <p key={mistake} className="margin-note bad mb-0">
              <span />
              {mistake}
            </p>
          ))}
          {preview.notes.map((note) => (
            <p key={note} className="sm soft mb-0">
              {note}
            </p>
          ))}
          {preview.headed !== null && (
            <Form.Check
              id="list-headed"
              className="sm"
              label={
                <>
                  The first row names the columns:{' '}
                  <span className="mono">{preview.columns.slice(0, 8).join(', ')}</span>
                </>
              }
              checked={preview.headed}
              onChange={(event) => onRead(text, event.target.checked)}
            />
          )}
          {list === undefined ? (
            <>
              {preview.kinds.length > 1 && (
                <SwitchField<Import>
                  name="split"
                  label={`A list for each kind: ${preview.kinds.map((one) => `${count(one.rows)} ${one.kind}`).join(', ')}`}
                />
              )}
              {!(split && preview.kinds.length > 1) && (
                <div className="d-flex gap-3">
                  <ChoiceField<Import>
                    name="key"
                    label="Key"
                    choices={[...new Set([...preview.columns, preview.key])].map((column) => [
                      column,
                      column,
                    ])}
                  />
                  <ChoiceField<Import> name="match" label="Match" choices={matches} />
                </div>
              )}
            </>
          ) : (
            <ChoiceField<Import>
              name="how"
              label="What is there"
              hint={`Rows are known by ${list.key}, and match ${matches.find(([value]) => value === list.match)?.[1] ?? list.match}.`}
              choices={[
                ['add', 'stays; equal keys are replaced'],
                ['replace', 'is replaced'],
              ]}
            />
          )}
        </>
      )}
    </>
  );
}
