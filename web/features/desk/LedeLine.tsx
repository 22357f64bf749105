import { useQuery } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Link } from 'react-router';
import type { LedeWire } from '../../../core/wire/boards.js';
import { readLede } from '../../../core/wire/endpoints/boards.js';
import { answerTo } from '../../api/call.js';
import { type Beam, beamSearch } from '../../beam/beam.js';
import { addressOfQuestion } from '../../results/hunt-address.js';

type Fact = LedeWire['sentences'][number];

/** Where a sentence leads: the hunt behind it, or the page. */
function addressOfFact(fact: Fact, beam: Beam, search: string): string {
  if (fact.hunt === null) return `/${fact.page ?? 'hunt'}${search}`;
  const follows = fact.window.from === beam.window.from && fact.window.to === beam.window.to;
  const begin = new URLSearchParams(beamSearch(new URLSearchParams(search)));
  const address = addressOfQuestion(begin, {
    text: fact.hunt,
    window: fact.window,
    parameters: {},
    carried: [...beam.carried],
    ...(follows && beam.last !== null && { last: beam.last }),
  });
  return `/hunt?${address.toString()}`;
}

/** What stands out, in a few sentences made from figures; each opens the hunt behind it. */
export function LedeLine({ beam, search }: { readonly beam: Beam; readonly search: string }): JSX.Element {
  const [all, setAll] = useState(false);
  const asked = useQuery({
    ...answerTo(readLede, {
      body: {
        window: beam.last === null ? beam.window : { last: beam.last as '24h' },
        zone: beam.zone,
        carried: beam.carried,
      },
    }),
    placeholderData: (before) => before,
    retry: false,
  });
  if (asked.isError)
    return <p className="lede soft">What stands out could not be counted: {asked.error.message}</p>;
  if (asked.data === undefined) return <p className="lede soft">Counting what stands out…</p>;
  const { sentences, more } = asked.data;
  const shown = all ? [...sentences, ...more] : sentences;
  return (
    <p className="lede" aria-live="polite">
      {shown.map((fact, i) => (
        <span key={i}>
          {fact.hunt === null && fact.page === null ? (
            <Words fact={fact} />
          ) : (
            <Link className="plain-link" to={addressOfFact(fact, beam, search)}>
              <Words fact={fact} />
            </Link>
          )}{' '}
        </span>
      ))}
      {more.length > 0 && (
        <button type="button" className="link sm" aria-expanded={all} onClick={() => setAll(!all)}>
          {all ? 'less' : `${more.length} more`}
        </button>
      )}
    </p>
  );
}

const Words = ({ fact }: { fact: Fact }): JSX.Element => (
  <>
    {fact.words.map((word, i) =>
      typeof word === 'string' ? (
        word
      ) : (
        <span key={i} className="mono">
          {word.name}
        </span>
      ),
    )}
  </>
);
