import type { JSX } from 'react';
import { severities } from '../../../core/events/kinds.js';
import type { RuleSummary } from '../../../core/wire/rules.js';
import { count } from '../../ui/format.js';
import { Severity, TextMark } from '../../ui/Glyphs.js';
import { RowLink } from '../../ui/RowLink.js';
import type { TableColumn } from '../../ui/data-table.js';
import { onMatchWords, stateWords, techniquesOf, typeWords } from './rule-words.js';
import type { Ran } from './use-many-rules.js';

const onMatchOf = ({ type, onMatch }: RuleSummary): string =>
  type === 'filter' ? 'leaves out' : onMatchWords[onMatch];

/** What was replayed of the newest text, in short. */
function replayWords({ replayed }: RuleSummary): string {
  if (replayed === null) return 'never replayed';
  const days = Math.round((Date.parse(replayed.until) - Date.parse(replayed.since)) / 86_400_000);
  return `${count(replayed.alerts)} ${replayed.alerts === 1 ? 'alert' : 'alerts'} in ${count(days)} d`;
}

function StateCell({ rule, ran }: { rule: RuleSummary; ran: Ran | undefined }): JSX.Element {
  const { state, liveVersion, version } = rule;
  const versions =
    liveVersion !== null && liveVersion !== version
      ? `version ${liveVersion} of ${version}`
      : `version ${version}`;
  return (
    <>
      <b className="fw-medium">{stateWords[state]}</b>{' '}
      {ran === undefined || ran.how === 'waits' ? (
        <span className="queue-subject">
          {ran !== undefined
            ? 'waits its turn'
            : state === 'on' && liveVersion === version
              ? versions
              : `${versions} · ${replayWords(rule)}`}
        </span>
      ) : ran.how === 'runs' ? (
        <span className="queue-subject">at it, {Math.round(ran.done * 100)}%</span>
      ) : (
        <span
          className={`queue-subject${ran.how === 'failed' ? ' problem' : ''}`}
          title={ran.how === 'failed' ? ran.why : ran.said}
        >
          {ran.how === 'failed' ? ran.why : ran.said}
        </span>
      )}
    </>
  );
}

/**
 * What the table of rules shows of each.
 * @param search of links, with its question mark
 * @param ran how it went with those that something was done with
 */
export const ruleColumns = (
  search: string,
  ran: ReadonlyMap<string, Ran>,
): readonly TableColumn<RuleSummary>[] => [
  {
    id: 'title',
    head: 'rule',
    names: true,
    value: ({ title }) => title,
    cell: ({ id, title, problem, type, sources }) => (
      <>
        <RowLink to={`/rules/${id}${search}`} title={title}>
          {title}
        </RowLink>
        {problem === null ? (
          <span className="queue-subject">
            {typeWords[type]}
            {type === 'hunt' ? '' : ` · ${sources.length === 0 ? 'no source' : sources.join(', ')}`}
          </span>
        ) : (
          <span className="queue-subject problem" title={problem}>
            <TextMark mark="bad" /> {problem}
          </span>
        )}
      </>
    ),
  },
  {
    id: 'severity',
    head: 'severity',
    width: 130,
    value: ({ level }) => level,
    // The gravest first.
    order: (a, b) => severities.indexOf(b.level) - severities.indexOf(a.level),
    cell: ({ level }) => <Severity level={level} />,
  },
  {
    id: 'on-match',
    head: 'a match',
    width: 120,
    value: onMatchOf,
    className: ({ onMatch }) => (onMatch === 'alert' ? '' : 'soft'),
  },
  {
    id: 'state',
    head: 'state',
    width: 176,
    value: ({ state }) => state,
    cell: (rule) => <StateCell rule={rule} ran={ran.get(rule.id)} />,
  },
  {
    id: 'replayed',
    head: 'replayed',
    width: 130,
    spare: true,
    value: (rule) => (rule.replayed === null ? null : replayWords(rule)),
    order: (a, b) => (a.replayed?.alerts ?? -1) - (b.replayed?.alerts ?? -1),
  },
  { id: 'type', head: 'type', width: 120, spare: true, value: ({ type }) => typeWords[type] },
  {
    id: 'sources',
    head: 'sources',
    width: 150,
    spare: true,
    value: ({ sources }) => sources.join(' '),
    className: () => 'cut',
  },
  {
    id: 'techniques',
    head: 'techniques',
    width: 130,
    value: ({ tags }) => techniquesOf(tags).join(' '),
    className: () => 'mono cut',
  },
  {
    id: 'tags',
    head: 'tags',
    width: 170,
    spare: true,
    value: ({ tags }) => tags.join(' '),
    className: () => 'mono cut',
  },
  { id: 'owner', head: 'owner', width: 120, value: ({ owner }) => owner, className: () => 'cut' },
  {
    id: 'problem',
    head: 'cannot run',
    width: 160,
    spare: true,
    value: ({ problem }) => problem,
    className: () => 'cut',
  },
  {
    id: 'matches',
    head: 'matches, 7 d',
    width: 110,
    numeric: true,
    value: ({ recent }) => recent,
    cell: ({ recent }) => count(recent),
  },
  {
    id: 'alerts',
    head: 'open alerts',
    width: 106,
    numeric: true,
    value: ({ alerts }) => alerts,
    cell: ({ alerts }) => count(alerts),
  },
  { id: 'id', head: 'id', width: 150, spare: true, value: ({ id }) => id, className: () => 'mono cut' },
];
