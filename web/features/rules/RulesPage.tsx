import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { exportRules } from '../../../core/wire/endpoints/rule-files.js';
import { listRules } from '../../../core/wire/endpoints/rules.js';
import type { RuleSummary } from '../../../core/wire/rules.js';
import { addressOf, answerTo, keyOf } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { beamSearch } from '../../beam/beam.js';
import { oneOf, useAddressState } from '../../kit/address-state.js';
import { useChosenRows } from '../../kit/chosen-rows.js';
import { FindBox } from '../../kit/FindBox.js';
import { ListPane } from '../../kit/ListPane.js';
import { rowKeys } from '../../kit/row-keys.js';
import { NEW_RULE } from '../../make-rule/rule-text.js';
import { useDataTable } from '../../ui/data-table.js';
import { count } from '../../ui/format.js';
import { Key } from '../../ui/Key.js';
import { Empty } from '../../ui/State.js';
import { Tabs } from '../../ui/Tabs.js';
import { useKeys } from '../../ui/use-keys.js';
import { ImportRules } from './ImportRules.js';
import { ManyRulesBar } from './ManyRulesBar.js';
import { ruleColumns } from './rule-columns.js';
import { useManyRules } from './use-many-rules.js';

const show = ['all', 'on', 'draft', 'off', 'problem'] as const;
const showWords: Readonly<Record<(typeof show)[number], string>> = {
  all: 'all',
  on: 'on',
  draft: 'drafts',
  off: 'off',
  problem: 'cannot run',
};

/** What the address leaves out. */
const USUAL = { find: '', only: 'all' } as const;
const idOf = ({ id }: RuleSummary): string => id;

/** One array for all renderings while there are none. */
const NONE: readonly RuleSummary[] = [];

const fits = (rule: RuleSummary, looked: string): boolean =>
  [rule.title, rule.owner ?? '', rule.type, ...rule.tags, ...rule.sources]
    .join(' ')
    .toLowerCase()
    .includes(looked.toLowerCase());

/** All rules: what they do, whether they run, and how loud they are. */
export function RulesPage(): JSX.Element {
  const [parameters] = useSearchParams();
  const state = useAddressState(USUAL);
  const navigate = useNavigate();
  const person = usePerson();
  const mayChange = person.role !== 'reader';
  const search = beamSearch(parameters);
  const looked = state.values.find;
  const only = oneOf(show, state.values.only) ?? 'all';
  const rules = useQuery(answerTo(listRules));
  const all = rules.data?.rules ?? NONE;
  const fitting = useMemo(
    () =>
      all
        .filter(
          (rule) => only === 'all' || (only === 'problem' ? rule.problem !== null : rule.state === only),
        )
        .filter((rule) => fits(rule, looked))
        .sort((a, b) => a.title.localeCompare(b.title, 'en')),
    [all, only, looked],
  );
  const client = useQueryClient();
  const many = useManyRules(() => void client.invalidateQueries({ queryKey: keyOf(listRules) }));
  const { ran } = many;
  const columns = useMemo(() => ruleColumns(search, ran), [search, ran]);
  const table = useDataTable('rules', columns, fitting);
  const shown = table.rows;
  const [lit, setLit] = useState(0);
  const at = Math.min(lit, shown.length - 1);
  const open = ({ id }: RuleSummary): void => void navigate(`/rules/${id}${search}`);
  const chosen = useChosenRows(shown, idOf, ({ title }) => title);
  useKeys({
    ...rowKeys({
      rows: shown,
      at,
      onGo: (rule) => setLit(shown.indexOf(rule)),
      onOpen: open,
      onChoose: mayChange ? chosen.toggle : undefined,
    }),
    Escape: chosen.none,
  });
  const on = all.filter(({ state }) => state === 'on').length;
  const broken = all.filter(({ problem }) => problem !== null).length;
  return (
    <main className="bench">
      <ListPane
        title="Rules"
        said={
          rules.data !== undefined &&
          `${count(all.length)} in all, ${count(on)} on${broken === 0 ? '' : `, ${count(broken)} that cannot run`}`
        }
        actions={
          <>
            <Link className="sm" to={`/tuning${search}`}>
              Tuning bench
            </Link>
            <Link className="sm" to={`/coverage${search}`}>
              Coverage
            </Link>
            <Link className="sm" to={`/runbooks${search}`}>
              Runbooks
            </Link>
            <Link className="sm" to={`/rules/destinations${search}`}>
              Destinations
            </Link>
            <Link className="sm" to={`/rules/log-sources${search}`}>
              Log sources
            </Link>
            <a className="sm" href={`/api/v1${addressOf(exportRules)}`} download>
              Export all
            </a>
            {mayChange && <ImportRules />}
            {mayChange && (
              <Button
                variant="primary"
                onClick={() => void navigate(`/rules/new${search}`, { state: { ruleText: NEW_RULE } })}
              >
                New rule
              </Button>
            )}
          </>
        }
        filters={
          <>
            <FindBox
              className="wide"
              label="Find a rule"
              hint="Title, technique, source, owner"
              value={looked}
              onFind={(word) => state.put({ find: word })}
            />
            <Tabs
              label="Show"
              names={show}
              chosen={only}
              onChoose={(one) => state.put({ only: one })}
              show={(one) => showWords[one]}
            />
          </>
        }
        answer={rules}
        reading="Fetching rules"
        failed="Rules cannot be shown"
        total={all.length}
        none={
          <Empty title="No rules yet">
            Write the first one, import a pack of rules in the open Sigma format, or make one of a hunt.
          </Empty>
        }
        unfitting={{ title: 'No rule fits', onAll: state.clear }}
        table={table}
        keyOf={({ id }) => id}
        isLit={(rule) => rule === shown[at]}
        onOpen={open}
        lead={mayChange ? chosen.lead : undefined}
        foot={
          <>
            <Key keys={['J', 'K']}>next, before</Key>
            <Key keys={['Enter']}>open</Key>
            {mayChange && <Key keys={['X']}>choose</Key>}
          </>
        }
        address={addressOf(listRules)}
      >
        {mayChange && <ManyRulesBar chosen={chosen.rows} many={many} onNone={chosen.none} />}
      </ListPane>
    </main>
  );
}
