import type { UseMutationResult } from '@tanstack/react-query';
import { type JSX, useEffect, useRef, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import type { RuleCheck, RuleWire } from '../../../core/wire/rules.js';
import { ApiFailure } from '../../api/client.js';
import { CurlLink } from '../../kit/Curl.js';
import { RemoveButton } from '../../kit/RemoveButton.js';
import { DocumentEditor } from '../../ui/DocumentEditor.js';
import { Severity, TextMark } from '../../ui/Glyphs.js';
import { Failed } from '../../ui/State.js';
import { completeRule } from './rule-completion.js';
import { typeWords } from './rule-words.js';

interface RuleTextProps {
  /** As it was kept last; null for one that was never kept. */
  readonly rule: RuleWire | null;
  readonly text: string;
  readonly check: RuleCheck | null;
  /** Whether the text as it stands was checked and has no mistake. */
  readonly right: boolean;
  readonly mayChange: boolean;
  readonly keep: UseMutationResult<RuleWire, Error, { why: string; on: boolean }>;
  readonly off: UseMutationResult<RuleWire, Error, RuleWire>;
  readonly remove: UseMutationResult<unknown, Error, RuleWire>;
  readonly search: string;
  readonly onChange: (text: string) => void;
  readonly onReplay: () => void;
}

/** Where a rule stands: its version, and which one runs. */
function standing({ state, version, liveVersion, type }: RuleWire, changed: boolean): string {
  const draft = changed ? `Draft of version ${version + 1}` : `Version ${version}`;
  const runs =
    liveVersion === null
      ? state === 'draft'
        ? 'never switched on'
        : 'switched off'
      : liveVersion === version
        ? changed
          ? `version ${liveVersion} is on`
          : 'on'
        : `version ${liveVersion} is on, this one waits for its replay`;
  return `${draft} · ${runs} · ${typeWords[type]}`;
}

/** The text of a rule, its mistakes where they are, and what can be done with it. */
export function RuleTextSheet(props: RuleTextProps): JSX.Element {
  const { rule, text, check, right, mayChange, keep, off, remove } = props;
  const [why, setWhy] = useState('');
  const changed = rule === null || text !== rule.text;
  const mistake = check?.mistake ?? null;
  /** A text that is to be kept as soon as it was read: who presses Ctrl+S does not wait for that. */
  const wanted = useRef<string | null>(null);
  const keepNow = (): void => keep.mutate({ why, on: false }, { onSuccess: () => setWhy('') });
  const tryKeep = (): void => {
    if (!changed || !mayChange) return;
    if (right) keepNow();
    else wanted.current = text;
  };
  useEffect(() => {
    if (wanted.current === null || (wanted.current === text && !right)) return;
    const still = wanted.current === text;
    wanted.current = null;
    if (still) keepNow();
  });
  const failed = [keep.error, off.error, remove.error].find((error) => error instanceof ApiFailure);
  const tests = check?.tests.filter(({ passed }) => !passed) ?? [];
  const title = rule?.title ?? check?.documents.at(-1)?.title ?? 'New rule';
  return (
    <section className="sheet" aria-label="Rule">
      <div className="sheet-head pb-1 align-items-center">
        <h1 className="sheet-title grow anywhere">{title}</h1>
        {rule !== null && <Severity level={rule.level} />}
      </div>
      <p className="inset xs soft pb-2">
        <Link to={`/rules${props.search}`}>All rules</Link> ·{' '}
        {rule === null ? 'Not kept yet' : standing(rule, changed)}
        {rule !== null && (
          <>
            {' '}
            · <Link to={`/tuning/${rule.id}${props.search}`}>Tune</Link>
          </>
        )}
      </p>
      <DocumentEditor
        language="yaml"
        label="Text of the rule"
        text={text}
        mistake={mistake}
        readOnly={!mayChange}
        onChange={props.onChange}
        onKeep={tryKeep}
        onRun={props.onReplay}
        complete={completeRule}
      />
      <div className="inset ruled py-2 scroll-box" aria-live="polite">
        {mistake !== null && (
          <p className="margin-note bad">
            <TextMark mark="bad" />
            <span>
              Line {mistake.line}: {mistake.message}.
            </span>
          </p>
        )}
        {tests.map(({ name, line, said }) => (
          <p key={`${line} ${name}`} className="margin-note bad">
            <TextMark mark="bad" />
            <span>
              Line {line}: the test “{name}” fails: {said}.
            </span>
          </p>
        ))}
        {check?.notes.map(({ line, message }) => (
          <p key={`${line} ${message}`} className="margin-note">
            <TextMark mark="note" />
            <span>
              Line {line}: {message}.
            </span>
          </p>
        ))}
        {right && tests.length === 0 && (check?.notes.length ?? 0) === 0 && (
          <p className="margin-note">
            <TextMark mark="fine" />
            <span>No mistake, and every test holds.</span>
          </p>
        )}
        {check === null && <p className="sm soft">Reading the text…</p>}
      </div>
      {failed instanceof ApiFailure && <Failed title={failed.problem.title}>{failed.problem.detail}</Failed>}
      <div className="inset d-flex flex-wrap gap-2 py-2 ruled align-items-center">
        <Button variant="primary" onClick={props.onReplay} disabled={!right}>
          Replay<kbd>Ctrl Enter</kbd>
        </Button>
        {mayChange && (
          <Button
            variant="outline-secondary"
            onClick={tryKeep}
            disabled={!changed || !right || keep.isPending}
          >
            {rule === null ? 'Keep as a draft' : `Keep as version ${rule.version + (changed ? 1 : 0)}`}
          </Button>
        )}
        {mayChange && rule?.state === 'on' && (
          <Button variant="outline-secondary" onClick={() => off.mutate(rule)} disabled={off.isPending}>
            Switch off
          </Button>
        )}
        {mayChange && rule !== null && rule.state !== 'on' && rule.alerts === 0 && !changed && (
          <RemoveButton what={`the rule ${rule.title}`} onRemove={() => remove.mutate(rule)} />
        )}
      </div>
      {mayChange && changed && rule !== null && (
        <div className="inset d-flex gap-2 pb-2 align-items-center">
          <Form.Control
            size="sm"
            aria-label="Why it was changed"
            placeholder="Why: it stands beside the version"
            value={why}
            maxLength={1000}
            onChange={(event) => setWhy(event.target.value)}
          />
          <button type="button" className="link sm nowrap" onClick={() => props.onChange(rule.text)}>
            Take back
          </button>
        </div>
      )}
      <div className="sheet-foot">
        <span>
          {mistake === null
            ? check === null
              ? 'being read'
              : `${check.documents.length} ${check.documents.length === 1 ? 'document' : 'documents'}, ${check.tests.length} ${check.tests.length === 1 ? 'test' : 'tests'}`
            : '1 mistake'}
        </span>
        <span className="grow" />
        {rule !== null && (
          <a href={`/api/v1/rules/${rule.id}/export`} download>
            As a file
          </a>
        )}
        {rule !== null && <CurlLink path={`/rules/${rule.id}`} />}
      </div>
    </section>
  );
}
