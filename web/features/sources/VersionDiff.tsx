import { useQuery } from '@tanstack/react-query';
import { diffLines } from 'diff';
import type { JSX } from 'react';
import { readRecipe } from '../../../core/wire/endpoints/recipes.js';
import { answerTo } from '../../api/call.js';
import { Failed, Reading } from '../../ui/State.js';

/** What has changed since a version of a recipe, line by line. */
export function VersionDiff({
  name,
  version,
  text,
  onClose,
}: {
  name: string;
  version: number;
  text: string;
  onClose: () => void;
}): JSX.Element {
  const older = useQuery(answerTo(readRecipe, { params: { recipe: name }, query: { version } }));
  if (older.isError) return <Failed title="That version cannot be shown">{older.error.message}</Failed>;
  if (older.data === undefined) return <Reading title="Fetching that version" />;
  const parts = diffLines(`${JSON.stringify(older.data.recipe, null, 2)}\n`, text);
  const lines = parts.flatMap(({ value, added, removed }) =>
    value
      .replace(/\n$/, '')
      .split('\n')
      .map((line) => ({ line, sign: added ? '+' : removed ? '−' : ' ' })),
  );
  const changed = lines.filter(({ sign }) => sign !== ' ').length;
  return (
    <div className="rule-editor overflow-auto">
      <p className="inset sm py-1">
        {changed === 0
          ? `The same as version ${version}.`
          : `${changed} lines differ from version ${version}.`}{' '}
        <button type="button" className="link" onClick={onClose}>
          Back to the text
        </button>
      </p>
      <pre className="diff mono xs" role="group" aria-label="Both versions, line by line">
        {lines.map(({ line, sign }, i) => (
          <span key={i} className={sign === '+' ? 'new' : sign === ' ' ? '' : 'old'}>
            {sign} {line}
            {'\n'}
          </span>
        ))}
      </pre>
    </div>
  );
}
