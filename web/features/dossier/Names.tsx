import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { JSX } from 'react';
import type { Dossier } from '../../../core/wire/dossiers.js';
import { joinNames, unjoinNames } from '../../../core/wire/endpoints/dossiers.js';
import { about, call } from '../../api/call.js';
import { Dialog } from '../../kit/Dialog.js';
import { ChoiceField, FieldsForm, TextField } from '../../kit/form.js';
import { showTime } from '../../ui/format.js';
import { Failed } from '../../ui/State.js';

interface Fields {
  readonly other: string;
  readonly how: string;
  readonly reason: string;
}

/** What a subject is called, who says so and since when; names can be joined and split, with a reason. */
export function Names({
  dossier,
  zone,
  mayChange,
  onClose,
}: {
  readonly dossier: Dossier;
  readonly zone: string;
  readonly mayChange: boolean;
  readonly onClose: () => void;
}): JSX.Element {
  const client = useQueryClient();
  const { subject, names, told, looksLike } = dossier;
  const refresh = (): Promise<void> => client.invalidateQueries(about('dossiers'));
  const say = useMutation({
    mutationFn: ({ other, how, reason }: Fields) =>
      call(joinNames, { params: subject, body: { other, joined: how === 'join', reason } }),
    onSuccess: refresh,
  });
  const unsay = useMutation({
    mutationFn: (other: string) => call(unjoinNames, { params: subject, query: { other } }),
    onSuccess: refresh,
  });
  const since = (from: string | null, to: string | null): string =>
    from === null || to === null
      ? 'always'
      : `${showTime(from, zone, 'minute')} to ${showTime(to, zone, 'minute')}`;
  const mayTakeBack = (value: string, by: string): JSX.Element | null =>
    mayChange && by === 'person' ? (
      <button type="button" className="link" onClick={() => unsay.mutate(value)}>
        Take back
      </button>
    ) : null;
  return (
    <Dialog title={`Names of ${subject.name}`} onClose={onClose} size="lg">
      <table className="table">
        <thead>
          <tr>
            <th>name or id</th>
            <th>who says so</th>
            <th>when</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {names.map(({ value, by, where, from, to }, i) => (
            <tr key={`${value} ${i}`}>
              <td className="mono">{value}</td>
              <td>
                {by === 'list' ? 'list ' : ''}
                {where}
              </td>
              <td>{since(from, to)}</td>
              <td>{mayTakeBack(value, by)}</td>
            </tr>
          ))}
          {told.map(({ value, why, words }) => (
            <tr key={`${why} ${value}`} className="soft">
              <td className="mono">{value}</td>
              <td>not joined: {words}</td>
              <td>{why}</td>
              <td>{mayTakeBack(value, why === 'split' ? 'person' : '')}</td>
            </tr>
          ))}
          {looksLike.map(({ name, confused, distance }) => (
            <tr key={`like ${name}`} className="soft">
              <td className="mono">{name}</td>
              <td>
                looks like it, not joined:{' '}
                {confused.length > 0
                  ? confused.map(({ written, takenFor }) => `“${written}” for “${takenFor}”`).join(', ')
                  : `${distance} letter apart`}
              </td>
              <td />
              <td />
            </tr>
          ))}
        </tbody>
      </table>
      {names.length + told.length + looksLike.length === 0 && (
        <p className="soft">It is known by this name alone.</p>
      )}
      {unsay.isError && <Failed title="It was not taken back">{unsay.error.message}</Failed>}
      {mayChange && (
        <FieldsForm<Fields>
          label="Join or split names"
          begin={{ other: '', how: 'join', reason: '' }}
          send="Say so"
          isSending={say.isPending}
          failure={say.error}
          onSend={(values) => say.mutate(values)}
        >
          <TextField<Fields>
            name="other"
            label="Another name or id"
            required
            maxLength={1000}
            className="mono"
          />
          <ChoiceField<Fields>
            name="how"
            label="What of it"
            choices={[
              ['join', 'it is the same'],
              ['split', 'it is another'],
            ]}
          />
          <TextField<Fields> name="reason" label="Reason, kept beside it" required maxLength={1000} />
        </FieldsForm>
      )}
    </Dialog>
  );
}
