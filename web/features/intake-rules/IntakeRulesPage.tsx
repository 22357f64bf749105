import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useSearchParams } from 'react-router';
import { listIntakeRules, orderIntakeRules } from '../../../core/wire/endpoints/intake-rules.js';
import type { IntakeRuleWire } from '../../../core/wire/intake-rules.js';
import { about, answerTo, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { Changes } from '../../changes/Changes.js';
import { NothingOpen } from '../../kit/Detail.js';
import { ListPane } from '../../kit/ListPane.js';
import { rowKeys } from '../../kit/row-keys.js';
import { TagSlips } from '../../tags/TagSlip.js';
import { type TableColumn, useDataTable } from '../../ui/data-table.js';
import { count, showTime } from '../../ui/format.js';
import { Empty, Failed } from '../../ui/State.js';
import { useKeys } from '../../ui/use-keys.js';
import { asksWords, doesWords } from './rule-form.js';
import { RuleSheet } from './RuleSheet.js';
import { TagMeanings } from './TagMeanings.js';

/** One array for all renderings while there are none. */
const NONE: readonly IntakeRuleWire[] = [];

const ruleColumns = (
  zone: string,
  onOpen: (id: number) => void,
): readonly TableColumn<IntakeRuleWire & { readonly place: number }>[] => [
  { id: 'place', head: '', width: 34, numeric: true, value: ({ place }) => place },
  {
    id: 'rule',
    head: 'rule',
    names: true,
    value: ({ title }) => title,
    cell: (rule) => (
      <>
        <button type="button" className="link text-start" onClick={() => onOpen(rule.id)}>
          {rule.title}
        </button>
        <span className="queue-subject mono">{asksWords(rule)}</span>
      </>
    ),
  },
  {
    id: 'does',
    head: 'does',
    width: 230,
    value: (rule) => [...rule.tags, doesWords(rule)].join(' '),
    cell: (rule) => (
      <>
        {rule.tags.length > 0 && <TagSlips names={rule.tags} />} {doesWords(rule)}
      </>
    ),
  },
  {
    id: 'source',
    head: 'records of',
    width: 120,
    value: ({ source }) => source ?? 'all sources',
    className: ({ source }) => (source === null ? 'soft' : 'mono cut'),
  },
  {
    id: 'met',
    head: 'met',
    width: 84,
    numeric: true,
    value: ({ met }) => met,
    cell: ({ met, lastMet }) => (
      <span title={lastMet === null ? 'never yet' : `last ${showTime(lastMet, zone, 'minute')}`}>
        {count(met)}
      </span>
    ),
  },
  {
    id: 'state',
    head: 'state',
    width: 96,
    value: ({ on, givenUp, notForwarded }) =>
      givenUp + notForwarded > 0 ? 'not forwarded' : on ? 'on' : 'off',
    cell: ({ on, givenUp, notForwarded }) =>
      givenUp + notForwarded > 0 ? (
        <span className="problem">{count(givenUp + notForwarded)} not sent</span>
      ) : (
        <span className={on ? '' : 'soft'}>{on ? 'on' : 'off'}</span>
      ),
  },
];

/** What is done to records before they become events, in the order in which they meet it. */
export function IntakeRulesPage(): JSX.Element {
  const [parameters] = useSearchParams();
  const search = beamSearch(parameters);
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const mayChange = usePerson().role === 'admin';
  const client = useQueryClient();
  const [openId, setOpenId] = useState<number | 'new' | null>(null);
  const found = useQuery({ ...answerTo(listIntakeRules), refetchInterval: 10_000 });
  const all = found.data?.rules ?? NONE;
  const placed = useMemo(() => all.map((rule, i) => ({ ...rule, place: i + 1 })), [all]);
  const columns = useMemo(() => ruleColumns(beam.zone, setOpenId), [beam.zone]);
  const table = useDataTable('intake-rules', columns, placed);
  const open = all.find(({ id }) => id === openId);
  useKeys(
    rowKeys({
      rows: table.rows,
      at: table.rows.findIndex(({ id }) => id === openId),
      onGo: ({ id }) => setOpenId(id),
    }),
  );
  const move = useMutation({
    mutationFn: (by: -1 | 1) => {
      const ids = all.map(({ id }) => id);
      const from = ids.indexOf(open?.id ?? -1);
      const [moved] = ids.splice(from, 1);
      if (moved !== undefined) ids.splice(Math.max(0, from + by), 0, moved);
      return call(orderIntakeRules, { body: { ids } });
    },
    onSuccess: () => client.invalidateQueries(about('intake-rules')),
  });
  return (
    <main className="bench bench-log-sources">
      <ListPane
        title="Way in"
        said="What is done to records before they become events, from the top"
        actions={
          <>
            <Link className="sm" to={`/sources${search}`}>
              All sources
            </Link>
            {mayChange && (
              <Button variant="primary" onClick={() => setOpenId('new')}>
                New rule
              </Button>
            )}
          </>
        }
        answer={found}
        reading="Fetching the rules"
        failed="The rules cannot be shown"
        total={all.length}
        none={
          <Empty title="No rules of the way in yet">
            A rule tags records, forwards them, discards them with a count, or has them read by another
            recipe.
          </Empty>
        }
        table={table}
        keyOf={({ id }) => id}
        isLit={({ id }) => id === openId}
        onOpen={({ id }) => setOpenId(id)}
        rowClass={({ on }) => (on ? '' : 'soft')}
        after={
          <>
            {open !== undefined && mayChange && (
              <p className="inset sm py-2 mb-0 d-flex gap-3">
                <button type="button" className="link" onClick={() => move.mutate(-1)}>
                  Move up
                </button>
                <button type="button" className="link" onClick={() => move.mutate(1)}>
                  Move down
                </button>
                <span className="soft">{open.title}</span>
              </p>
            )}
            {move.isError && <Failed title="The order stays">{move.error.message}</Failed>}
            <TagMeanings />
          </>
        }
        below={<Changes kind="intake rule" zone={beam.zone} />}
        foot={
          <span>Tags gather; the first other recipe reads; what is discarded meets no further rule.</span>
        }
        address="/intake-rules"
      />
      {open === undefined && openId !== 'new' ? (
        <NothingOpen
          label="Rule"
          title="No rule is open"
          hint="Choose one to see what it asks and does, and what it would have done."
        />
      ) : (
        <RuleSheet
          key={openId}
          rule={open ?? null}
          zone={beam.zone}
          mayChange={mayChange}
          onDone={setOpenId}
        />
      )}
    </main>
  );
}
