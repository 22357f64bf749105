import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Link } from 'react-router';
import { listExpiring, renewExpiring } from '../../../core/wire/endpoints/tuning.js';
import type { Expiring, Renewal } from '../../../core/wire/expiring.js';
import { about, answerTo, call } from '../../api/call.js';
import { useAsked } from '../../beam/asked.js';
import { RemoveButton } from '../../kit/RemoveButton.js';
import { counted } from '../../ui/format.js';
import { Failed } from '../../ui/State.js';

/** For how many days an exclusion is renewed. */
const RENEWED_DAYS = 90;
const DAY = 86_400_000;

function whenOf({ expires, over, matches }: Expiring, now: number): string {
  const days = Math.round(Math.abs(Date.parse(expires) - now) / DAY);
  const span = days === 0 ? 'today' : over ? `${counted(days, 'day')} ago` : `in ${counted(days, 'day')}`;
  if (!over) return `runs out ${span}`;
  return `ran out ${span}${matches === 0 ? ', nothing came of it since' : `, ${counted(matches, 'alert')} since`}`;
}

/** Values that rules leave out for a time that runs out: each asks to be renewed, or to be let go. */
export function RunningOut({
  mayChange,
  search,
  addressOf,
}: {
  mayChange: boolean;
  search: string;
  /** The bench of a rule. */
  addressOf: (id: string) => string;
}): JSX.Element | null {
  const client = useQueryClient();
  const { at } = useAsked();
  const found = useQuery(answerTo(listExpiring));
  const renew = useMutation({
    mutationFn: (body: Renewal) => call(renewExpiring, { body }),
    onSettled: () => Promise.all(['tuning', 'lists'].map((of) => client.invalidateQueries(about(of)))),
  });
  const all = found.data?.expiring ?? [];
  if (all.length === 0) return null;
  return (
    <section aria-label="Left out for a time" className="running-out ruled">
      <div className="sub-head">
        <h2 className="section-head grow mb-0">Left out for a time</h2>
        <span className="xs soft">{counted(all.length, 'value asks', 'values ask')} to be renewed</span>
      </div>
      {renew.isError && <Failed title="It stays as it was">{renew.error.message}</Failed>}
      <ul className="list-plain">
        {all.map((one) => (
          <li key={`${one.list} ${one.value}`} className="inset sm">
            <span className="grow anywhere">
              <span className={`mono ${one.over ? 'bad' : ''}`}>{one.value}</span>{' '}
              <span className="soft">
                {whenOf(one, at)}; on <Link to={`/lists/${one.list}${search}`}>{one.list}</Link>, which{' '}
                {one.rules.slice(0, 2).map(({ id, title }, i) => (
                  <span key={id}>
                    {i > 0 && ', '}
                    <Link to={addressOf(id)}>{title}</Link>
                  </span>
                ))}
                {one.rules.length > 2 && ` and ${one.rules.length - 2} more`}{' '}
                {one.rules.length === 1 ? 'asks' : 'ask'}
              </span>
            </span>
            {mayChange && (
              <>
                <button
                  type="button"
                  className="link nowrap"
                  aria-label={`Renew ${one.value} for ${RENEWED_DAYS} days`}
                  disabled={renew.isPending}
                  onClick={() =>
                    renew.mutate({
                      list: one.list,
                      value: one.value,
                      until: new Date(at + RENEWED_DAYS * DAY).toISOString(),
                    })
                  }
                >
                  Renew for {RENEWED_DAYS} days
                </button>
                <RemoveButton
                  label="Let it go"
                  what={`${one.value} on ${one.list}`}
                  consequence="Rules that ask the list speak of it again."
                  onRemove={() => renew.mutate({ list: one.list, value: one.value, until: null })}
                />
              </>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
