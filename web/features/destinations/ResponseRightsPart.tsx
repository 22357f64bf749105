import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { listResponses, putResponseRights } from '../../../core/wire/endpoints/responses.js';
import type { ResponseRights, ResponseRightsWire } from '../../../core/wire/responses.js';
import { about, answerTo, call } from '../../api/call.js';
import { Failed } from '../../ui/State.js';
import { ResponseSheet } from './ResponseSheet.js';

const roles = ['analyst', 'admin'] as const;
/** Who may approve what: an analyst or an administrator, alone or not. */
const words = { analyst: 'analysts', admin: 'administrators' } as const;

/** Who may ask for each response, and who may approve it. */
export function ResponseRightsPart({ mayChange }: { mayChange: boolean }): JSX.Element | null {
  const client = useQueryClient();
  const found = useQuery(answerTo(listResponses));
  const save = useMutation({
    mutationFn: ({ does, ...body }: ResponseRights & { does: string }) =>
      call(putResponseRights, { params: { name: does }, body }),
    onSuccess: () => client.invalidateQueries(about('responses')),
  });
  /** The name of the one that is open; empty for a new one. */
  const [open, setOpen] = useState<string | null>(null);
  if (!found.isSuccess) return null;
  const change = (one: ResponseRightsWire, part: Partial<ResponseRights>): void => {
    const { does, asks, approves, alone } = one;
    save.mutate({ does, asks, approves, alone, ...part });
  };
  const choice = (one: ResponseRightsWire, part: 'asks' | 'approves', label: string): JSX.Element => (
    <select
      className="form-select form-select-sm"
      aria-label={`Who ${label}: ${one.title}`}
      disabled={!mayChange}
      value={one[part]}
      onChange={(event) =>
        change(one, { [part]: roles.find((role) => role === event.target.value) ?? one[part] })
      }
    >
      {roles.map((role) => (
        <option key={role} value={role}>
          {words[role]}
        </option>
      ))}
    </select>
  );
  return (
    <section aria-label="Responses">
      <div className="sub-head ruled">
        <h2 className="section-head grow">Responses</h2>
        <span className="xs faint">alone: an administrator may approve their own, saying why</span>
        {mayChange && (
          <button type="button" className="link sm" onClick={() => setOpen('')}>
            Write one
          </button>
        )}
      </div>
      {open !== null && <ResponseSheet name={open} mayChange={mayChange} onOpen={setOpen} />}
      {save.isError && <Failed title="It stays as it was">{save.error.message}</Failed>}
      <div className="response-rights">
        <span className="soft">response</span>
        <span className="soft">asked for by</span>
        <span className="soft">approved by</span>
        <span className="soft">alone</span>
        {found.data.responses.map((one) => (
          <div key={one.does} className="of-response">
            <span className="anywhere">
              <button type="button" className="link text-start" onClick={() => setOpen(one.does)}>
                {one.title}
              </button>
              {one.version > 0 && (
                <span className="xs soft">{one.ships ? ' changed here' : ' written here'}</span>
              )}
            </span>
            {choice(one, 'asks', 'asks')}
            {choice(one, 'approves', 'approves')}
            <span>
              <input
                type="checkbox"
                className="form-check-input"
                title="An administrator may approve what they asked for, saying why"
                aria-label={`Administrators alone: ${one.title}`}
                disabled={!mayChange}
                checked={one.alone}
                onChange={(event) => change(one, { alone: event.target.checked })}
              />
            </span>
          </div>
        ))}
      </div>
    </section>
  );
}
