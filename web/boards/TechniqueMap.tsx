import type { JSX } from 'react';
import { Link } from 'react-router';
import type { CoverageWire } from '../../core/wire/tuning.js';
import { count, counted } from '../ui/format.js';

type Covered = CoverageWire['tactics'][number]['techniques'][number];

const STANDINGS: Readonly<Record<Covered['standing'], string>> = {
  seen: 'looked for',
  marked: 'only marked',
  blind: 'blind',
  off: 'off',
  none: 'none',
};

const spell = (tactic: string): string => {
  const words = tactic.replaceAll('_', ' ');
  return words.charAt(0).toUpperCase() + words.slice(1);
};

/** How many techniques rules look for, and of how many their sources tell nothing, in words. */
export function coverageWords({ tactics }: CoverageWire): string {
  const all = new Map(tactics.flatMap(({ techniques }) => techniques).map((one) => [one.id, one.standing]));
  const of = (standing: Covered['standing']): number =>
    [...all.values()].filter((one) => one === standing).length;
  const blind = of('blind');
  return `${counted(all.size, 'technique')}, ${count(of('seen'))} looked for${blind === 0 ? '' : `, ${count(blind)} blind`}`;
}

/** Techniques by tactic, each with how it stands; each opens its rules. @param addressOf where those are told */
export function TechniqueMap({
  coverage,
  addressOf,
}: {
  readonly coverage: CoverageWire;
  readonly addressOf: (tactic: string, technique: string) => string;
}): JSX.Element {
  return (
    <div className="technique-board">
      {coverage.tactics.map(({ tactic, techniques }) => (
        <div key={tactic} className="technique-tactic">
          <h3 className="section-head mb-0">
            {spell(tactic)} <span className="soft num">{count(techniques.length)}</span>
          </h3>
          {techniques.length === 0 && <p className="xs soft mb-0">no rule looks for any</p>}
          <ul className="list-plain">
            {techniques.map((one) => (
              <li key={one.id}>
                <Link
                  className={`technique-cell ${one.standing}`}
                  to={addressOf(tactic, one.id)}
                  aria-label={`${one.id} ${one.name}: ${STANDINGS[one.standing]}, ${counted(one.rules.length, 'rule')}`}
                >
                  <span className="mono xs">{one.id}</span>
                  <span className="name">{one.name}</span>
                  <span className="xs soft">
                    {STANDINGS[one.standing]} · {counted(one.rules.length, 'rule')}
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        </div>
      ))}
    </div>
  );
}
