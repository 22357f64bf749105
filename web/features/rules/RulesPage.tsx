import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import type { RuleSummary, RuleWire } from '../../../core/wire/rules.js';
import { askJson } from '../../api/client.js';
import { keys } from '../../api/keys.js';
import { usePerson } from '../../api/session.js';
import { beamSearch } from '../../beam/beam.js';
import { CurlLink } from '../../ui/Curl.js';
import { count } from '../../ui/format.js';
import { Severity } from '../../ui/Glyphs.js';
import { Key } from '../../ui/Key.js';
import { RowLink } from '../../ui/RowLink.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { RuleSheet } from './RuleSheet.js';

/** What a new rule begins as: a small rule that is right. */
const NEW_RULE = `title: A name for the rule
status: experimental
level: medium
logsource:
  category: authentication
detection:
  selection:
    kind: signin
    outcome: failure
    user: someone
  condition: selection
`;

/** All rules, and the text of the one that is open. */
export function RulesPage(): JSX.Element {
  const { id } = useParams();
  const [parameters] = useSearchParams();
  const navigate = useNavigate();
  const client = useQueryClient();
  const person = usePerson();
  const mayChange = person.role !== 'reader';
  const search = beamSearch(parameters);
  const rules = useQuery({
    queryKey: keys.rules,
    queryFn: () => askJson<{ rules: RuleSummary[] }>('/rules'),
  });
  const open = id ?? rules.data?.rules[0]?.id;
  const add = useMutation({
    mutationFn: () => askJson<RuleWire>('/rules', { method: 'POST', body: { text: NEW_RULE } }),
    onSuccess: async (rule) => {
      await client.invalidateQueries({ queryKey: keys.rules });
      void navigate(`/rules/${rule.id}${search}`);
    },
  });
  const toggle = useMutation({
    mutationFn: ({ rule, enabled }: { rule: string; enabled: boolean }) =>
      askJson<RuleWire>(`/rules/${rule}`, { method: 'PATCH', body: { enabled } }),
    onSettled: () => client.invalidateQueries({ queryKey: keys.rules }),
  });
  return (
    <main className="bench" style={{ gridTemplateColumns: '490px minmax(0, 1fr)' }}>
      <section className="sheet" aria-label="Rules">
        <div className="sheet-head">
          <h1 className="page-title grow">Rules</h1>
          {mayChange && (
            <Button variant="outline-secondary" onClick={() => add.mutate()} disabled={add.isPending}>
              New rule
            </Button>
          )}
        </div>
        {rules.isPending && <Reading title="Fetching rules" />}
        {rules.isError && <Failed title="Rules cannot be shown">{rules.error.message}</Failed>}
        {toggle.isError && <Failed title="The rule was not switched">{toggle.error.message}</Failed>}
        {add.isError && <Failed title="No rule was made">{add.error.message}</Failed>}
        {rules.data?.rules.length === 0 && (
          <Empty title="No rules yet">
            Write the first one: a rule in the open Sigma format, matched on every record as it comes in.
          </Empty>
        )}
        <div className="scrolls">
          {(rules.data?.rules.length ?? 0) > 0 && (
            <table className="table queue" style={{ tableLayout: 'fixed' }}>
              <thead>
                <tr>
                  <th>rule</th>
                  <th style={{ width: 116 }}>severity</th>
                  <th className="num" style={{ width: 62 }}>
                    alerts
                  </th>
                  <th style={{ width: 58 }}>on</th>
                </tr>
              </thead>
              <tbody>
                {rules.data?.rules.map((rule) => (
                  <tr
                    key={rule.id}
                    data-opens
                    className={rule.id === open ? 'lit' : ''}
                    onClick={() => void navigate(`/rules/${rule.id}${search}`)}
                  >
                    <td>
                      <RowLink to={`/rules/${rule.id}${search}`} title={rule.title}>
                        {rule.title}
                      </RowLink>
                      <span className="queue-subject">version {rule.version}</span>
                    </td>
                    <td>
                      <Severity level={rule.level} />
                    </td>
                    <td className="num">{count(rule.alerts)}</td>
                    <td onClick={(event) => event.stopPropagation()}>
                      <Form.Check
                        type="switch"
                        aria-label={`${rule.title} is on`}
                        checked={rule.enabled}
                        disabled={!mayChange || toggle.isPending}
                        onChange={(event) => toggle.mutate({ rule: rule.id, enabled: event.target.checked })}
                      />
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </div>
        <div className="sheet-foot">
          <Key keys={['Ctrl S']}>keep the text</Key>
          <span className="grow" />
          <CurlLink path="/rules" />
        </div>
      </section>
      {open === undefined ? (
        <section className="sheet" aria-label="Rule">
          <Empty title="No rule is open">Choose one, or write a new one.</Empty>
        </section>
      ) : (
        <RuleSheet key={open} id={open} mayChange={mayChange} />
      )}
    </main>
  );
}
