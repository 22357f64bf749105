import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { JSX } from 'react';
import { kindNames, kinds } from '../../../core/events/kinds.js';
import { addLogSource, changeLogSource, removeLogSource } from '../../../core/wire/endpoints/log-sources.js';
import type { LogSourceBody, LogSourceWire } from '../../../core/wire/log-sources.js';
import { about, call } from '../../api/call.js';
import { AreaField, ChecksField, FieldsForm, TextField } from '../../kit/form.js';
import { RemoveButton } from '../../kit/RemoveButton.js';

/** A line that says nothing yet. */
export const NEW_LINE: LogSourceBody = {
  category: '',
  product: null,
  service: null,
  kinds: [],
  sources: [],
  fields: {},
  note: '',
};

/** The words of a log source, such as `process_creation / windows`. */
export const logSourceWords = ({
  category,
  product,
  service,
}: Pick<LogSourceBody, 'category' | 'product' | 'service'>): string =>
  [category, product, service].filter((word) => word !== null && word !== '').join(' / ');

/** Fields as lines of text: the name that rules use, an equals sign, ours. */
export const fieldsToText = (fields: Readonly<Record<string, string>>): string =>
  Object.entries(fields)
    .map(([theirs, ours]) => `${theirs} = ${ours}`)
    .join('\n');

/** @throws Error that names the first line that cannot be read */
export function textToFields(text: string): Record<string, string> {
  const fields: Record<string, string> = {};
  for (const [i, line] of text.split('\n').entries()) {
    if (line.trim() === '') continue;
    const match = /^\s*(.+?)\s*=\s*(\S.*?)\s*$/.exec(line);
    if (match?.[1] === undefined || match[2] === undefined)
      throw new Error(`Line ${i + 1} of the fields cannot be read. Write it as: Image = process_path`);
    fields[match[1]] = match[2];
  }
  return fields;
}

interface LineFields {
  readonly category: string;
  readonly product: string;
  readonly service: string;
  readonly note: string;
  readonly kinds: LogSourceBody['kinds'];
  readonly sources: LogSourceBody['sources'];
  readonly fields: string;
}

const orNull = (text: string): string | null => (text.trim() === '' ? null : text.trim());

/** @throws Error for fields that cannot be read */
const bodyOf = ({ category, product, service, fields, ...rest }: LineFields): LogSourceBody => ({
  ...rest,
  category: orNull(category),
  product: orNull(product),
  service: orNull(service),
  fields: textToFields(fields),
});

/** A line of the table: which events it means, and what their fields are called. */
export function LogSourceSheet({
  entry,
  sources,
  mayChange,
  onDone,
}: {
  /** Null for a new one. */
  entry: LogSourceWire | null;
  /** All sources there are. */
  sources: readonly string[];
  mayChange: boolean;
  onDone: (open: number | null) => void;
}): JSX.Element {
  const client = useQueryClient();
  const begin = entry ?? NEW_LINE;
  const refresh = (): Promise<void> => client.invalidateQueries(about('log-sources'));
  const save = useMutation({
    // What cannot be read fails as what the server refuses does.
    mutationFn: async (values: LineFields) => {
      const body = bodyOf(values);
      return entry === null
        ? call(addLogSource, { body })
        : call(changeLogSource, { params: { entry: entry.id }, body });
    },
    onSuccess: async (saved) => {
      await refresh();
      onDone(saved.id);
    },
  });
  const remove = useMutation({
    mutationFn: () => call(removeLogSource, { params: { entry: entry?.id ?? 0 } }),
    onSuccess: async () => {
      await refresh();
      onDone(null);
    },
  });
  return (
    <section className="sheet" aria-label="Line">
      <div className="sheet-head">
        <h2 className="sheet-title grow">{entry === null ? 'New line' : logSourceWords(entry)}</h2>
      </div>
      <div className="scrolls">
        <FieldsForm<LineFields>
          label="What it means"
          className="inset d-grid gap-2 py-2"
          begin={{
            category: begin.category ?? '',
            product: begin.product ?? '',
            service: begin.service ?? '',
            note: begin.note,
            kinds: [...begin.kinds],
            sources: [...begin.sources],
            fields: fieldsToText(begin.fields),
          }}
          send={entry === null ? 'Add the line' : 'Keep the line'}
          isSending={save.isPending}
          onSend={(values) => save.mutate(values)}
          failure={save.error ?? remove.error}
          fixed={mayChange ? undefined : 'Only analysts may change this.'}
          also={
            <>
              {entry !== null && (
                <RemoveButton
                  what="this line"
                  consequence="Rules that are meant for it are asked of no source any more."
                  onRemove={() => remove.mutate()}
                />
              )}
              {save.isSuccess && <span className="sm soft">Kept. Rules follow from the next record on.</span>}
            </>
          }
        >
          <div className="side-by-side">
            {(['category', 'product', 'service'] as const).map((part) => (
              <TextField<LineFields> key={part} name={part} label={part} className="mono" placeholder="any" />
            ))}
          </div>
          <TextField<LineFields> name="note" label="What it is, in words" maxLength={1000} />
          <ChecksField<LineFields>
            name="kinds"
            label="Kinds of events that are meant"
            choices={kindNames.map((kind) => [kind, kinds[kind]])}
            none="None chosen: any kind."
          />
          <ChecksField<LineFields>
            name="sources"
            label="Sources that are meant"
            choices={sources.map((source) => [source])}
            none="None chosen: any source."
          />
          <AreaField<LineFields>
            name="fields"
            label="Fields"
            hint="A line each: the name that rules use = ours, or the source’s own with dots."
            rows={8}
            placeholder="Image = process_path"
          />
        </FieldsForm>
      </div>
    </section>
  );
}
