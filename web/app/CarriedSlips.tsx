import { X } from '@phosphor-icons/react/dist/csr/X';
import type { JSX } from 'react';
import { turnedRound } from '../../core/wick/write-step.js';
import type { Beam, BeamChange } from '../beam/beam.js';

/** Pages that are narrowed by what the Beam carries. */
const NARROWED = ['/hunt', '/dossier', '/desk', '/dashboards/'];

/** What the Beam carries, a slip each: pressing one turns it round, its cross lets it go. */
export function CarriedSlips({
  beam: { carried },
  path,
  change,
}: {
  readonly beam: Beam;
  /** The page that is looked at. */
  readonly path: string;
  readonly change: (change: BeamChange) => void;
}): JSX.Element | null {
  if (carried.length === 0) return null;
  const holds = NARROWED.some((place) => path.startsWith(place));
  const put = (at: number, condition: string | null): void =>
    change({
      carried: carried.flatMap((one, i) => (i !== at ? [one] : condition === null ? [] : [condition])),
    });
  return (
    <span className="slips" role="group" aria-label="Carried conditions">
      {carried.map((condition, i) => {
        const turned = turnedRound(condition);
        return (
          <span key={condition} className={`slip${holds ? '' : ' resting'}`}>
            <button
              type="button"
              className="mono cut"
              disabled={turned === null}
              title={`${condition}${holds ? '' : '. This page is not narrowed by it'}${turned === null ? '' : `. Press for: ${turned}`}`}
              onClick={() => turned !== null && put(i, turned)}
            >
              <Words condition={condition} />
            </button>
            <button type="button" aria-label={`Let go of ${condition}`} onClick={() => put(i, null)}>
              <X aria-hidden />
            </button>
          </span>
        );
      })}
    </span>
  );
}

/** "is not" stands out, so that nobody reads past it. */
function Words({ condition }: { condition: string }): JSX.Element {
  const found = /^(.*?) (!?=) (.*)$/s.exec(condition);
  if (found === null) return <>{condition}</>;
  return (
    <>
      {found[1]} {found[2] === '=' ? 'is' : <b>is not</b>} {found[3]}
    </>
  );
}
