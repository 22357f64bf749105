import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { listRules } from '../../../core/wire/endpoints/rules.js';
import type { RuleSummary } from '../../../core/wire/rules.js';
import { answerTo, keyOf } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { beamSearch } from '../../beam/beam.js';
import { NEW_RULE } from '../../make-rule/rule-text.js';
import { choiceLead } from '../../ui/choice-lead.js';
import { CurlLink } from '../../ui/Curl.js';
import { useDataTable } from '../../ui/data-table.js';
import { DataTable, TableMenu } from '../../ui/DataTable.js';
import { count } from '../../ui/format.js';
import { Key } from '../../ui/Key.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
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

/** One array for all renderings while there are none. */
const NONE: readonly RuleSummary[] = [];

const fits = (rule: RuleSummary, looked: string): boolean =>
  [rule.title, rule.owner ?? '', rule.type, ...rule.tags, ...rule.sources]
    .join(' ')
    .toLowerCase()
    .includes(looked.toLowerCase());

/** All rules: what they do, whether they run, and how loud they are. */
export function RulesPage(): JSX.Element {
  const [parameters, setParameters] = useSearchParams();
  const navigate = useNavigate();
  const person = usePerson();
  const mayChange = person.role !== 'reader';
  const search = beamSearch(parameters);
  const [looked, setLooked] = useState(parameters.get('find') ?? '');
  const only = show.find((one) => one === parameters.get('only')) ?? 'all';
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
  const put = (name: string, value: string, usual: string): void =>
    setParameters(
      (before) => {
        const next = new URLSearchParams(before);
        if (value === usual) next.delete(name);
        else next.set(name, value);
        return next;
      },
      { replace: true },
    );
  const [lit, setLit] = useState(0);
  const at = Math.min(lit, shown.length - 1);
  const open = (): void => {
    const rule = shown[at];
    if (rule !== undefined) void navigate(`/rules/${rule.id}${search}`);
  };
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  // What is not in sight is not chosen either: nobody switches on what they do not see.
  const picked = shown.filter(({ id }) => chosen.has(id));
  const choose = (id: string | undefined): void => {
    if (id === undefined || !mayChange) return;
    const next = new Set(chosen);
    if (!next.delete(id)) next.add(id);
    setChosen(next);
  };
  useKeys({
    x: () => choose(shown[at]?.id),
    Escape: () => setChosen(new Set()),
    j: () => setLit(Math.min(at + 1, shown.length - 1)),
    k: () => setLit(Math.max(at - 1, 0)),
    Enter: open,
  });
  const on = all.filter(({ state }) => state === 'on').length;
  const broken = all.filter(({ problem }) => problem !== null).length;
  return (
    <main className="bench" style={{ gridTemplateColumns: 'minmax(0, 1fr)' }}>
      <section className="sheet" aria-label="Rules">
        <div className="sheet-head" style={{ alignItems: 'center' }}>
          <h1 className="page-title">Rules</h1>
          <span className="sm soft grow">
            {rules.data !== undefined &&
              `${count(all.length)} in all, ${count(on)} on${broken === 0 ? '' : `, ${count(broken)} that cannot run`}`}
          </span>
          <Link className="sm" to={`/rules/destinations${search}`}>
            Destinations
          </Link>
          <Link className="sm" to={`/rules/log-sources${search}`}>
            Log sources
          </Link>
          <a className="sm" href="/api/v1/rules/export" download>
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
        </div>
        <div className="inset d-flex gap-2 align-items-center pb-2">
          <Form.Control
            size="sm"
            style={{ width: 300 }}
            aria-label="Find a rule"
            placeholder="Title, technique, source, owner"
            value={looked}
            onChange={(event) => {
              setLooked(event.target.value);
              put('find', event.target.value, '');
            }}
          />
          <Tabs
            label="Show"
            names={show}
            chosen={only}
            onChoose={(one) => put('only', one, 'all')}
            show={(one) => showWords[one]}
          />
        </div>
        {mayChange && <ManyRulesBar chosen={picked} many={many} onNone={() => setChosen(new Set())} />}
        {rules.isPending && <Reading title="Fetching rules" />}
        {rules.isError && <Failed title="Rules cannot be shown">{rules.error.message}</Failed>}
        {rules.data !== undefined && all.length === 0 && (
          <Empty title="No rules yet">
            Write the first one, import a pack of rules in the open Sigma format, or make one of a hunt.
          </Empty>
        )}
        {all.length > 0 && shown.length === 0 && (
          <Empty title="No rule fits">
            There are {count(all.length)}.{' '}
            <button
              type="button"
              className="link"
              onClick={() => {
                setLooked('');
                setParameters(new URLSearchParams(search), { replace: true });
              }}
            >
              Show them all
            </button>
          </Empty>
        )}
        <div className="scrolls">
          {shown.length > 0 && (
            <DataTable
              table={table}
              keyOf={({ id }) => id}
              isLit={(rule) => rule === shown[at]}
              onOpen={({ id }) => void navigate(`/rules/${id}${search}`)}
              lead={
                mayChange
                  ? choiceLead({
                      rows: shown,
                      idOf: ({ id }) => id,
                      nameOf: ({ title }) => title,
                      chosen,
                      onChosen: setChosen,
                    })
                  : undefined
              }
            />
          )}
        </div>
        <div className="sheet-foot">
          <Key keys={['J', 'K']}>next, before</Key>
          <Key keys={['Enter']}>open</Key>
          {mayChange && <Key keys={['X']}>choose</Key>}
          <span className="grow" />
          <TableMenu table={table} />
          <CurlLink path="/rules" />
        </div>
      </section>
    </main>
  );
}
