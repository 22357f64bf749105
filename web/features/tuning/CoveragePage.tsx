import { useQuery } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { exportCoverage, readCoverage } from '../../../core/wire/endpoints/tuning.js';
import type { CoverageWire } from '../../../core/wire/tuning.js';
import { addressOf, answerTo } from '../../api/call.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { useAsked } from '../../beam/asked.js';
import { CurlLink } from '../../kit/Curl.js';
import { Dialog } from '../../kit/Dialog.js';
import { count, counted, showTime } from '../../ui/format.js';
import { Empty, Failed, Reading } from '../../ui/State.js';

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

/** Which techniques are looked for, by tactic: told from rules and their sources. A cell opens its rules. */
export function CoveragePage(): JSX.Element {
  const [parameters] = useSearchParams();
  const search = beamSearch(parameters);
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const covered = useQuery(answerTo(readCoverage));
  const [open, setOpen] = useState<Covered | null>(null);
  const tactics = covered.data?.tactics ?? [];
  const all = tactics.flatMap(({ techniques }) => techniques);
  const seen = new Set(all.filter(({ standing }) => standing === 'seen').map(({ id }) => id)).size;
  const blind = new Set(all.filter(({ standing }) => standing === 'blind').map(({ id }) => id)).size;
  return (
    <main className="bench">
      <section className="sheet" aria-label="Coverage">
        <div className="sheet-head">
          <h1 className="page-title grow mb-0">Coverage</h1>
          <span className="sm soft">
            {covered.data !== undefined &&
              `${counted(new Set(all.map(({ id }) => id)).size, 'technique')}, ${count(seen)} looked for${blind === 0 ? '' : `, ${count(blind)} blind`}`}
          </span>
          <Link className="sm" to={`/rules${search}`}>
            All rules
          </Link>
          <a className="sm" href={`/api/v1${addressOf(exportCoverage)}`} download>
            As CSV
          </a>
        </div>
        {covered.isError && <Failed title="Coverage cannot be told">{covered.error.message}</Failed>}
        {covered.isPending && <Reading title="Reading rules" />}
        {covered.isSuccess && all.length === 0 && (
          <Empty title="No rule names a technique">
            Tag rules with tactics and techniques of ATT&CK, such as attack.t1110.
          </Empty>
        )}
        <div className="scrolls">
          <div className="technique-board">
            {all.length > 0 &&
              tactics.map(({ tactic, techniques }) => (
                <div key={tactic} className="technique-tactic">
                  <h2 className="section-head mb-0">
                    {spell(tactic)} <span className="soft num">{count(techniques.length)}</span>
                  </h2>
                  {techniques.length === 0 && <p className="xs soft mb-0">no rule looks for any</p>}
                  <ul className="list-plain">
                    {techniques.map((one) => (
                      <li key={one.id}>
                        <button
                          type="button"
                          className={`technique-cell ${one.standing}`}
                          onClick={() => setOpen(one)}
                          aria-label={`${one.id} ${one.name}: ${STANDINGS[one.standing]}, ${counted(one.rules.length, 'rule')}`}
                        >
                          <span className="mono xs">{one.id}</span>
                          <span className="name">{one.name}</span>
                          <span className="xs soft">
                            {STANDINGS[one.standing]} · {counted(one.rules.length, 'rule')}
                          </span>
                        </button>
                      </li>
                    ))}
                  </ul>
                </div>
              ))}
          </div>
        </div>
        <div className="sheet-foot">
          <span>Told from what rules say of themselves and what their sources give.</span>
          <span className="grow" />
          <CurlLink path={addressOf(readCoverage)} />
        </div>
      </section>
      {open !== null && (
        <Dialog title={`${open.id}, ${open.name}`} size="lg" onClose={() => setOpen(null)}>
          <ul className="list-plain d-grid gap-2">
            {open.rules.map((rule) => (
              <li key={rule.id}>
                <Link to={`/rules/${rule.id}${search}`}>{rule.title}</Link>
                <span className="sm soft d-block">
                  {rule.state === 'draft' ? 'a draft' : rule.state}
                  {rule.onMatch === 'mark'
                    ? ', only marks'
                    : rule.onMatch === 'count'
                      ? ', only counted'
                      : ', raises alerts'}
                  {`, ${counted(rule.tests, 'test')}`}
                  {rule.lastReal === null
                    ? ', nothing real yet'
                    : `, last real ${showTime(rule.lastReal, beam.zone, 'minute')}`}
                </span>
                {rule.blind !== null && <span className="sm bad d-block">Blind: {rule.blind}</span>}
              </li>
            ))}
          </ul>
        </Dialog>
      )}
    </main>
  );
}
