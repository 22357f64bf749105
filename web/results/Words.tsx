import type { JSX } from 'react';
import type { Dossier } from '../../core/wire/dossiers.js';

/** A sentence; names that machines made stand as such. */
export function Words({
  words,
  first = false,
}: {
  readonly words: Dossier['sentence'];
  /** Whether its first word is strong. */
  readonly first?: boolean;
}): JSX.Element {
  return (
    <>
      {words.map((word, i) =>
        typeof word !== 'string' ? (
          <span key={i} className="mono">
            {word.name}
          </span>
        ) : first && i === 0 ? (
          <span key={i}>
            <b>{word.split(' ')[0]}</b>
            {word.slice(word.split(' ')[0]?.length ?? 0)}
          </span>
        ) : (
          word
        ),
      )}
    </>
  );
}
