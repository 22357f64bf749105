import { useQuery } from '@tanstack/react-query';
import { diffLines } from 'diff';
import { type JSX, useState } from 'react';
import { listRuleVersions } from '../../../core/wire/endpoints/rules.js';
import type { RuleWire } from '../../../core/wire/rules.js';
import { answerTo } from '../../api/call.js';
import { showTime } from '../../ui/format.js';
import { Failed, Reading } from '../../ui/State.js';

/** Lines that did not change are shown so many beside those that did. */
const BESIDE = 2;

interface DiffLine {
  readonly sign: '+' | '-' | ' ';
  readonly text: string;
}

/** What changed from one text to another, line by line; stretches that did not are left out. */
export function changedLines(before: string, after: string): DiffLine[] {
  const all = diffLines(before, after).flatMap(({ added, removed, value }) =>
    value
      .replace(/\n$/, '')
      .split('\n')
      .map((text): DiffLine => ({ sign: added ? '+' : removed ? '-' : ' ', text })),
  );
  const near = (i: number): boolean =>
    all.slice(Math.max(0, i - BESIDE), i + BESIDE + 1).some(({ sign }) => sign !== ' ');
  return all.flatMap((line, i) =>
    near(i) ? [line] : near(i - 1) ? [{ sign: ' ' as const, text: '…' }] : [],
  );
}

/** The versions of a rule, each with what it changed, who and why; and what the text on screen would change. */
export function RuleVersionList({
  rule,
  text,
  mayChange,
  onTake,
}: {
  rule: RuleWire;
  text: string;
  mayChange: boolean;
  onTake: (text: string) => void;
}): JSX.Element {
  const [open, setOpen] = useState<number | null>(null);
  const found = useQuery(answerTo(listRuleVersions, { params: { id: rule.id } }));
  const versions = found.data?.versions ?? [];
  return (
    <>
      {found.isPending && <Reading title="Fetching the versions" />}
      {found.isError && <Failed title="They cannot be shown">{found.error.message}</Failed>}
      {text !== rule.text && (
        <div className="inset pb-2">
          <h3 className="section-head">Not kept yet</h3>
          <Diff before={rule.text} after={text} />
        </div>
      )}
      {versions.map(({ version, author, at, why, text: kept }, i) => {
        const before = versions[i + 1];
        return (
          <div key={version} className="inset pb-2 ruled pt-1">
            <p className="sm mb-0 d-flex gap-2">
              <b className="fw-medium">Version {version}</b>
              {version === rule.liveVersion && <span>is on</span>}
              <span className="grow" />
              {mayChange && kept !== text && (
                <button type="button" className="link" onClick={() => onTake(kept)}>
                  Take up
                </button>
              )}
              <button
                type="button"
                className="link"
                aria-expanded={open === version}
                onClick={() => setOpen(open === version ? null : version)}
              >
                {before === undefined ? 'Text' : 'Changes'}
              </button>
            </p>
            <p className="xs soft mb-0">
              <span className="mono">{author}</span>, {showTime(at, 'UTC', 'minute')} UTC
            </p>
            {why !== '' && <p className="sm mb-0 anywhere">{why}</p>}
            {open === version && <Diff before={before?.text ?? ''} after={kept} />}
          </div>
        );
      })}
    </>
  );
}

const Diff = ({ before, after }: { before: string; after: string }): JSX.Element => (
  <pre className="rule-diff">
    {changedLines(before, after).map(({ sign, text }, i) => (
      <div key={i} className={sign === '+' ? 'added' : sign === '-' ? 'removed' : ''}>
        {sign} {text}
      </div>
    ))}
  </pre>
);
