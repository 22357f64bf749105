import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { useLocation, useNavigate, useParams, useSearchParams } from 'react-router';
import { addRule, changeRule, readRule, removeRule } from '../../../core/wire/endpoints/rules.js';
import type { RuleWire } from '../../../core/wire/rules.js';
import { about, answerTo, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { beamSearch } from '../../beam/beam.js';
import { NEW_RULE, type NewRuleState } from '../../make-rule/rule-text.js';
import { Failed, Reading } from '../../ui/State.js';
import { useKeys } from '../../ui/use-keys.js';
import { ReplaySheet } from './ReplaySheet.js';
import { RuleSidebar } from './RuleSidebar.js';
import { RuleTextSheet } from './RuleTextSheet.js';
import { useReplay } from './use-replay.js';
import { useRuleCheck, useRulePreview } from './use-rule-check.js';

/** One rule: its text, what it would have said, and what it says, rests on and was before. */
export function RulePage(): JSX.Element {
  const { id = '' } = useParams();
  const { state } = useLocation() as { state: Partial<NewRuleState> | null };
  const isNew = id === 'new';
  const rule = useQuery({ ...answerTo(readRule, { params: { id } }), enabled: !isNew });
  if (isNew) return <OpenRule key={state?.ruleText ?? ''} kept={null} begin={state?.ruleText ?? NEW_RULE} />;
  if (rule.data !== undefined) return <OpenRule key={id} kept={rule.data} begin={rule.data.text} />;
  return (
    <main className="bench">
      <section className="sheet" aria-label="Rule">
        {rule.isError ? (
          <Failed title="The rule cannot be shown">{rule.error.message}</Failed>
        ) : (
          <Reading title="Fetching the rule" />
        )}
      </section>
    </main>
  );
}

function OpenRule({ kept, begin }: { kept: RuleWire | null; begin: string }): JSX.Element {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [parameters] = useSearchParams();
  const search = beamSearch(parameters);
  const person = usePerson();
  const mayChange = person.role !== 'reader';
  const [text, setText] = useState(begin);
  const [from, setFrom] = useState(kept);
  // A version that someone else kept replaces the text only while nothing has been typed here.
  if (kept !== null && from !== null && from.version !== kept.version && text === from.text) {
    setFrom(kept);
    setText(kept.text);
  }
  const id = kept?.id ?? null;
  const { replay, run, stop } = useReplay(id);
  const checked = useRuleCheck(text, id, replay.status === 'complete');
  const check = checked?.answer ?? null;
  const right = checked?.text === text && checked.answer.mistake === null;
  const preview = useRulePreview(text, id, right);
  const tell = async (rule: RuleWire): Promise<void> => {
    client.setQueryData(answerTo(readRule, { params: { id: rule.id } }).queryKey, rule);
    await client.invalidateQueries(about('rules'));
  };
  const keep = useMutation({
    mutationFn: async ({ why, on }: { why: string; on: boolean }) => {
      const before = from?.id;
      if (before === undefined) {
        const added = await call(addRule, { body: { text, why } });
        return on ? switchTo(added, 'on') : added;
      }
      return call(changeRule, {
        params: { id: before },
        body: {
          ...(text !== from?.text && { text, why }),
          ...(on && { state: 'on' }),
          ...(from !== null && { version: from.version }),
        },
      });
    },
    onSuccess: async (rule) => {
      setFrom(rule);
      await tell(rule);
      if (kept === null) void navigate(`/rules/${rule.id}${search}`, { replace: true });
    },
  });
  const off = useMutation({
    mutationFn: (rule: RuleWire) => switchTo(rule, 'off'),
    onSuccess: async (rule) => {
      setFrom(rule);
      await tell(rule);
    },
  });
  const remove = useMutation({
    mutationFn: (rule: RuleWire) => call(removeRule, { params: { id: rule.id } }),
    onSuccess: async () => {
      await client.invalidateQueries(about('rules'));
      void navigate(`/rules${search}`);
    },
  });
  useKeys({ Escape: () => void navigate(`/rules${search}`) });
  const [days, setDays] = useState(30);
  const replayNow = (): void => {
    const to = Date.now();
    run(text, {
      from: new Date(to - days * 86_400_000).toISOString(),
      to: new Date(to).toISOString(),
    });
  };
  return (
    <main className="bench bench-rule">
      <RuleTextSheet
        rule={from}
        text={text}
        check={check}
        right={right}
        mayChange={mayChange}
        keep={keep}
        off={off}
        remove={remove}
        search={search}
        onChange={setText}
        onReplay={replayNow}
      />
      <ReplaySheet
        replay={replay}
        text={text}
        rule={from}
        check={check}
        right={right}
        mayChange={mayChange}
        days={days}
        search={search}
        onDays={setDays}
        onReplay={replayNow}
        onStop={stop}
        onPutOn={() => keep.mutate({ why: '', on: true })}
        puttingOn={keep.isPending}
      />
      <RuleSidebar
        rule={from}
        check={check}
        preview={preview?.answer ?? null}
        text={text}
        search={search}
        onTake={setText}
        mayChange={mayChange}
      />
    </main>
  );
}

const switchTo = (rule: RuleWire, state: 'on' | 'off'): Promise<RuleWire> =>
  call(changeRule, { params: { id: rule.id }, body: { state } });
