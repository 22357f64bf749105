import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useFormContext } from 'react-hook-form';
import {
  addIntakeRule,
  changeIntakeRule,
  forwardAgain,
  removeIntakeRule,
  tryIntakeRule,
} from '../../../core/wire/endpoints/intake-rules.js';
import { listRecipes } from '../../../core/wire/endpoints/recipes.js';
import { listSources } from '../../../core/wire/endpoints/sources.js';
import type { IntakeRuleTried, IntakeRuleWire } from '../../../core/wire/intake-rules.js';
import { about, answerTo, call } from '../../api/call.js';
import { AreaField, ChoiceField, FieldsForm, SwitchField, TextField } from '../../kit/form.js';
import { RemoveButton } from '../../kit/RemoveButton.js';
import { count, showTime } from '../../ui/format.js';
import { Failed } from '../../ui/State.js';
import { type RuleFields, toBody, toFields } from './rule-form.js';

/** One rule as a form, how it has been doing, and what it would have done with stored records. */
export function RuleSheet({
  rule,
  zone,
  mayChange,
  onDone,
}: {
  rule: IntakeRuleWire | null;
  zone: string;
  mayChange: boolean;
  onDone: (open: number | null) => void;
}): JSX.Element {
  const client = useQueryClient();
  const refresh = (): Promise<void> => client.invalidateQueries(about('intake-rules'));
  const sources = useQuery(answerTo(listSources));
  const recipes = useQuery(answerTo(listRecipes));
  const [tried, setTried] = useState<IntakeRuleTried | null>(null);
  const save = useMutation({
    mutationFn: async (fields: RuleFields) =>
      rule === null
        ? call(addIntakeRule, { body: toBody(fields) })
        : call(changeIntakeRule, { params: { id: rule.id }, body: toBody(fields) }),
    onSuccess: async ({ id }) => {
      await refresh();
      onDone(id);
    },
  });
  const attempt = useMutation({
    mutationFn: async (fields: RuleFields) =>
      call(tryIntakeRule, { body: toBody({ ...fields, title: fields.title || 'tried' }) }),
    onSuccess: setTried,
  });
  const remove = useMutation({
    mutationFn: () => call(removeIntakeRule, { params: { id: rule?.id ?? 0 } }),
    onSuccess: async () => {
      await refresh();
      onDone(null);
    },
  });
  const again = useMutation({
    mutationFn: () => call(forwardAgain, { params: { id: rule?.id ?? 0 } }),
    onSuccess: refresh,
  });
  return (
    <section className="sheet" aria-label="Rule">
      <div className="sheet-head">
        <h2 className="sheet-title grow">{rule?.title ?? 'New rule'}</h2>
      </div>
      <div className="scrolls">
        {rule !== null && (
          <Standing rule={rule} zone={zone} onAgain={mayChange ? () => again.mutate() : null} />
        )}
        <FieldsForm<RuleFields>
          label="Rule of the way in"
          begin={toFields(rule)}
          onSend={(fields) => save.mutate(fields)}
          send={rule === null ? 'Add the rule' : 'Keep the rule'}
          isSending={save.isPending || !mayChange}
          failure={save.error ?? remove.error ?? attempt.error ?? again.error}
          also={
            <>
              <TryButton onTry={(fields) => attempt.mutate(fields)} isTrying={attempt.isPending} />
              {rule !== null && mayChange && (
                <RemoveButton
                  what="this rule"
                  consequence="What it did stays as it is; records that come from now on meet it no more."
                  onRemove={() => remove.mutate()}
                />
              )}
              <span className="sm soft" role="status">
                {save.isSuccess && 'Kept: it holds from the next record on.'}
                {!mayChange && 'Only an admin may change this.'}
              </span>
            </>
          }
        >
          <TextField<RuleFields> name="title" label="What it is for" required maxLength={200} />
          <SwitchField<RuleFields> name="on" label="On" />
          <h3 className="section-head mb-0">Which records</h3>
          <ChoiceField<RuleFields>
            name="source"
            label="Of the source"
            choices={[
              ['', 'all sources'],
              ...(sources.data?.sources ?? []).map(
                ({ name, title }) => [name, `${title} (${name})`] as const,
              ),
            ]}
          />
          <AreaField<RuleFields>
            name="when"
            label="Fields, as the source names them"
            placeholder={'agent = balancer-check*\nstatus = 503'}
            hint="A line each; * stands for any run of characters. Several lines of one field: any of them. No value: the field is not there."
          />
          <TextField<RuleFields>
            name="holds"
            label="A text that the record holds"
            className="mono"
            maxLength={500}
          />
          <h3 className="section-head mb-0">What is done</h3>
          <TextField<RuleFields>
            name="tags"
            label="Tags, with commas between"
            hint="Found by tags = 'word' in every hunt."
          />
          <TextField<RuleFields>
            name="forward"
            label="Forward to destinations, with commas between"
            className="mono"
            hint="Of the kinds syslog and webhook; the record goes as it came."
          />
          <ChoiceField<RuleFields>
            name="recipe"
            label="Read by"
            choices={[
              ['', 'the recipe of its source'],
              ...(recipes.data?.recipes ?? []).map(({ name, title }) => [name, title] as const),
            ]}
          />
          <SwitchField<RuleFields> name="discard" label="Discard: it becomes no event, and is counted" />
        </FieldsForm>
        {tried !== null && <Tried tried={tried} />}
      </div>
    </section>
  );
}

/** Tries the rule as the form holds it. */
function TryButton({
  onTry,
  isTrying,
}: {
  onTry: (fields: RuleFields) => void;
  isTrying: boolean;
}): JSX.Element {
  const { getValues } = useFormContext<RuleFields>();
  return (
    <Button size="sm" variant="outline-secondary" disabled={isTrying} onClick={() => onTry(getValues())}>
      Try on stored records
    </Button>
  );
}

function Standing({
  rule,
  zone,
  onAgain,
}: {
  rule: IntakeRuleWire;
  zone: string;
  onAgain: (() => void) | null;
}): JSX.Element {
  const lost = rule.givenUp + rule.notForwarded;
  return (
    <>
      <p className="inset sm mb-1">
        {rule.met === 0
          ? 'No record has met it yet.'
          : `${count(rule.met)} records met it, the last ${showTime(rule.lastMet ?? '', zone, 'log')}.`}
        {rule.forward.length > 0 &&
          ` ${count(rule.forwarded)} were taken by their receiver, ${count(rule.waiting)} are on their way.`}
      </p>
      {lost > 0 && (
        <Failed title={`${count(lost)} records were not forwarded`}>
          {rule.said ?? 'Too many were on their way.'}{' '}
          {onAgain !== null && rule.givenUp > 0 && (
            <button type="button" className="link" onClick={onAgain}>
              Try again
            </button>
          )}
        </Failed>
      )}
    </>
  );
}

/** What the rule would have done. */
function Tried({ tried }: { tried: IntakeRuleTried }): JSX.Element {
  return (
    <section className="ruled-top" aria-label="What it would have done">
      <div className="sub-head">
        <h3 className="section-head">On stored records</h3>
        <span className="sm" role="status">
          {tried.looked === 0
            ? 'there are none yet'
            : `${count(tried.met)} of the newest ${count(tried.looked)} meet it`}
        </span>
      </div>
      {tried.records.map(({ source, raw, became, what }, i) => (
        <div key={i} className="inset py-1 ruled">
          <span className="xs">
            <span className="mono">{source}</span>{' '}
            {became === 'event' ? `event: ${what}` : `${became}: ${what}`}
          </span>
          <pre className="raw-line mb-0">{raw}</pre>
        </div>
      ))}
    </section>
  );
}
