import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState, type JSX } from 'react';
import { Button } from 'react-bootstrap';
import type { RuleCheck, RuleWire } from '../../../core/wire/rules.js';
import { ApiFailure, askJson } from '../../api/client.js';
import { keys } from '../../api/keys.js';
import { CurlLink } from '../../ui/Curl.js';
import { DocumentEditor } from '../../ui/DocumentEditor.js';
import { Severity, TextMark } from '../../ui/Glyphs.js';
import { Failed, Reading } from '../../ui/State.js';

/** Checking follows typing by so much. */
const CHECK_MILLISECONDS = 350;

/** One rule: its text, what it says in plain words, and its mistakes where they are. */
export function RuleSheet({ id, mayChange }: { id: string; mayChange: boolean }): JSX.Element {
  const rule = useQuery({ queryKey: keys.rule(id), queryFn: () => askJson<RuleWire>(`/rules/${id}`) });
  if (rule.isError) {
    return (
      <section className="sheet" aria-label="Rule">
        <Failed title="The rule cannot be shown">{rule.error.message}</Failed>
      </section>
    );
  }
  if (rule.data === undefined) {
    return (
      <section className="sheet" aria-label="Rule">
        <Reading title="Fetching the rule" />
      </section>
    );
  }
  return <RuleText rule={rule.data} mayChange={mayChange} />;
}

function useCheck(text: string): RuleCheck | null {
  const [check, setCheck] = useState<RuleCheck | null>(null);
  useEffect(() => {
    const controller = new AbortController();
    const timer = setTimeout(() => {
      askJson<RuleCheck>('/rules/check', { method: 'POST', body: { text }, signal: controller.signal })
        .then(setCheck)
        // Without an answer the last one stands; keeping the text checks it again.
        .catch(() => undefined);
    }, CHECK_MILLISECONDS);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [text]);
  return check;
}

function RuleText({ rule, mayChange }: { rule: RuleWire; mayChange: boolean }): JSX.Element {
  const client = useQueryClient();
  const [text, setText] = useState(rule.text);
  const [from, setFrom] = useState(rule);
  // A version that someone else kept replaces the text only while nothing has been typed here.
  if (from.version !== rule.version && text === from.text) {
    setFrom(rule);
    setText(rule.text);
  }
  const check = useCheck(text);
  const keep = useMutation({
    mutationFn: () =>
      askJson<RuleWire>(`/rules/${rule.id}`, { method: 'PATCH', body: { text, version: from.version } }),
    onSuccess: (kept) => {
      setFrom(kept);
      client.setQueryData(keys.rule(rule.id), kept);
      void client.invalidateQueries({ queryKey: keys.rules });
    },
  });
  const changed = text !== from.text;
  const mistake = check?.mistake ?? null;
  const tryKeep = (): void => {
    if (changed && mayChange && mistake === null) keep.mutate();
  };
  const refusal = keep.error instanceof ApiFailure ? keep.error.problem : null;
  return (
    <section className="sheet" aria-label="Rule">
      <div className="sheet-head pb-1" style={{ alignItems: 'center' }}>
        <h2 className="sheet-title grow">{from.title}</h2>
        <Severity level={from.level} />
      </div>
      <p className="inset xs soft pb-2">
        {changed ? `Draft of version ${from.version + 1}` : `Version ${from.version}`} ·{' '}
        {from.enabled ? 'on: matched on every record as it comes in' : 'off'} · open Sigma format
      </p>
      <DocumentEditor
        language="yaml"
        label="Text of the rule"
        text={text}
        mistake={mistake}
        readOnly={!mayChange}
        onChange={setText}
        onKeep={tryKeep}
      />
      <div className="inset ruled py-2" aria-live="polite" style={{ maxHeight: 170, overflow: 'auto' }}>
        {mistake !== null && (
          <p className="margin-note bad">
            <TextMark mark="bad" />
            <span>
              Line {mistake.line}: {mistake.message}.
            </span>
          </p>
        )}
        {check?.documents.map((document) => (
          <p key={document.line} className="margin-note">
            <TextMark mark="fine" />
            <span>
              <b>{document.title}</b>: {document.says}
            </span>
          </p>
        ))}
        {check === null && <p className="sm soft">Reading the text…</p>}
      </div>
      {refusal !== null && <Failed title={refusal.title}>{refusal.detail}</Failed>}
      <div className="inset d-flex gap-2 pb-2">
        {mayChange && (
          <>
            <Button
              variant="primary"
              onClick={tryKeep}
              disabled={!changed || mistake !== null || keep.isPending}
            >
              Keep as version {from.version + (changed ? 1 : 0)}
              <kbd>Ctrl S</kbd>
            </Button>
            {changed && (
              <Button variant="outline-secondary" onClick={() => setText(from.text)}>
                Take back the changes
              </Button>
            )}
          </>
        )}
      </div>
      <div className="sheet-foot">
        <span>
          {mistake === null
            ? check === null
              ? 'being read'
              : `${check.documents.length} ${check.documents.length === 1 ? 'document' : 'documents'}, no mistake`
            : '1 mistake'}
        </span>
        <span className="grow" />
        <CurlLink path={`/rules/${rule.id}`} />
      </div>
    </section>
  );
}
