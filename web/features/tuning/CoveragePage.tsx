import { useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Link, useSearchParams } from 'react-router';
import { exportCoverage, readCoverage } from '../../../core/wire/endpoints/tuning.js';
import { addressOf, answerTo } from '../../api/call.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { useAsked } from '../../beam/asked.js';
import { coverageWords, TechniqueMap } from '../../boards/TechniqueMap.js';
import { useAddressState } from '../../kit/address-state.js';
import { CurlLink } from '../../kit/Curl.js';
import { Dialog } from '../../kit/Dialog.js';
import { counted, showTime } from '../../ui/format.js';
import { Empty, Failed, Reading } from '../../ui/State.js';

const NONE_OPEN = { tactic: '', technique: '' } as const;

/** Which techniques are looked for, by tactic: told from rules and their sources. A cell opens its rules. */
export function CoveragePage(): JSX.Element {
  const [parameters] = useSearchParams();
  const search = beamSearch(parameters);
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const covered = useQuery(answerTo(readCoverage));
  const shown = useAddressState(NONE_OPEN);
  const tactics = covered.data?.tactics ?? [];
  const named = tactics.some(({ techniques }) => techniques.length > 0);
  const open =
    tactics
      .filter(({ tactic }) => shown.values.tactic === '' || tactic === shown.values.tactic)
      .flatMap(({ techniques }) => techniques)
      .find(({ id }) => id === shown.values.technique) ?? null;
  const addressWith = (tactic: string, technique: string): string => {
    const next = new URLSearchParams(parameters);
    next.set('tactic', tactic);
    next.set('technique', technique);
    return `/coverage?${next.toString()}`;
  };
  return (
    <main className="bench">
      <section className="sheet" aria-label="Coverage">
        <div className="sheet-head">
          <h1 className="page-title grow mb-0">Coverage</h1>
          <span className="sm soft">{covered.data !== undefined && coverageWords(covered.data)}</span>
          <Link className="sm" to={`/dashboards/coverage${search}`}>
            As a board
          </Link>
          <Link className="sm" to={`/rules${search}`}>
            All rules
          </Link>
          <a className="sm" href={`/api/v1${addressOf(exportCoverage)}`} download>
            As CSV
          </a>
        </div>
        {covered.isError && <Failed title="Coverage cannot be told">{covered.error.message}</Failed>}
        {covered.isPending && <Reading title="Reading rules" />}
        {covered.isSuccess && !named && (
          <Empty title="No rule names a technique">
            Tag rules with tactics and techniques of ATT&CK, such as attack.t1110.
          </Empty>
        )}
        <div className="scrolls">
          {covered.data !== undefined && named && (
            <TechniqueMap coverage={covered.data} addressOf={addressWith} />
          )}
        </div>
        <div className="sheet-foot">
          <span>Told from what rules say of themselves and what their sources give.</span>
          <span className="grow" />
          <CurlLink path={addressOf(readCoverage)} />
        </div>
      </section>
      {open !== null && (
        <Dialog title={`${open.id}, ${open.name}`} size="lg" onClose={() => shown.put(NONE_OPEN)}>
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
