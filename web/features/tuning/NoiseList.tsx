import type { JSX } from 'react';
import { Link } from 'react-router';
import type {
  NoiseRanking,
  RankedRuleWire,
  RankedSubjectWire,
  SilentRuleWire,
} from '../../../core/wire/tuning.js';
import { count, counted } from '../../ui/format.js';
import { Key } from '../../ui/Key.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { Tabs } from '../../ui/Tabs.js';
import { RunningOut } from './RunningOut.js';
import { VerdictBar, VerdictKey } from './VerdictBar.js';

export const SHOWN = ['rules', 'subjects', 'silent'] as const;
export type Shown = (typeof SHOWN)[number];
const SHOWN_WORDS: Readonly<Record<Shown, string>> = {
  rules: 'Rules',
  subjects: 'Subjects',
  silent: 'Never matched',
};

const KIND_WORDS = { alerts: 'raises alerts', marks: 'only marks', counted: 'is counted' } as const;

const minutes = (work: number | null): string => (work === null ? 'unknown' : `${count(work)} min`);

/** More or less alerts than as long a time before. */
function trendOf({ alerts, alertsBefore }: RankedRuleWire): string {
  if (alerts === alertsBefore) return '';
  return alerts > alertsBefore
    ? `, ${count(alertsBefore)} before: more`
    : `, ${count(alertsBefore)} before: less`;
}

interface NoiseListProps {
  readonly ranking: NoiseRanking | undefined;
  readonly failure: Error | null;
  readonly silent: readonly SilentRuleWire[] | undefined;
  readonly silentFailure: Error | null;
  readonly shown: Shown;
  readonly onShow: (shown: Shown) => void;
  readonly rules: readonly RankedRuleWire[];
  readonly chosen: string | null;
  readonly days: number;
  readonly search: string;
  readonly addressOf: (id: string) => string;
  readonly mayChange: boolean;
}

/** Rules by the noise they make; turned round, subjects; and rules that never matched, with the reason. */
export function NoiseList(props: NoiseListProps): JSX.Element {
  const { ranking, failure, shown, onShow, rules, chosen, days } = props;
  const at = rules.findIndex(({ id }) => id === chosen);
  return (
    <section className="sheet" aria-label="Rules by noise">
      <div className="sheet-head pb-1">
        <h1 className="page-title grow mb-0">Tuning bench</h1>
        <span className="sm soft">
          {ranking !== undefined &&
            `${counted(rules.length, 'rule')} in ${days === 1 ? 'a day' : `${days} days`}`}
        </span>
      </div>
      <div className="inset d-flex align-items-end justify-content-between">
        <Tabs label="Show" names={SHOWN} chosen={shown} onChoose={onShow} show={(one) => SHOWN_WORDS[one]} />
        <span className="xs soft pb-1">
          {shown === 'rules' ? 'most work first' : shown === 'subjects' ? 'most rules first' : ''}
        </span>
      </div>
      {failure !== null && <Failed title="Noise cannot be ranked">{failure.message}</Failed>}
      {ranking === undefined && failure === null && <Reading title="Ranking rules" />}
      {ranking !== undefined && shown === 'rules' && <RuleRows {...props} />}
      {ranking !== undefined && shown === 'subjects' && (
        <SubjectRows subjects={ranking.subjects} search={props.search} />
      )}
      {shown === 'silent' && <SilentRows {...props} />}
      <div className="mt-auto">
        {shown !== 'silent' && (
          <RunningOut mayChange={props.mayChange} search={props.search} addressOf={props.addressOf} />
        )}
        {shown !== 'silent' && <VerdictKey />}
        <div className="sheet-foot">
          <Key keys={['J', 'K']}>next, before</Key>
          <Key keys={['S']}>subjects</Key>
          <span className="grow" />
          {shown === 'rules' && at >= 0 && (
            <span>
              {at + 1} of {count(rules.length)}
            </span>
          )}
        </div>
      </div>
    </section>
  );
}

function RuleRows({ rules, chosen, addressOf }: NoiseListProps): JSX.Element {
  if (rules.length === 0)
    return (
      <Empty title="Nothing matched in this time">
        Take a longer time in the Beam, or look at the rules that never matched.
      </Empty>
    );
  return (
    <>
      <div className="noise-row top" aria-hidden="true">
        <span>rule</span>
        <span className="num">matches</span>
        <span className="num">alerts</span>
        <span className="verdicts">verdicts</span>
        <span className="num">work</span>
      </div>
      <ul className="scrolls list-plain" aria-label="Rules, most work first">
        {rules.map((rule) => (
          <li key={rule.id} className={`noise-row ${rule.id === chosen ? 'lit' : ''}`}>
            <Link
              className="name"
              to={addressOf(rule.id)}
              aria-current={rule.id === chosen ? 'true' : undefined}
              title={`${rule.title}${trendOf(rule)}${rule.lastReal === null ? ', nothing real yet' : ''}`}
            >
              {rule.title}
            </Link>
            <span className="soft">{KIND_WORDS[rule.kind]}</span>
            <span className="num">{count(rule.matches)}</span>
            <span className={`num ${rule.alerts === 0 ? 'soft' : ''}`}>
              {rule.alerts === 0 ? 'none' : count(rule.alerts)}
            </span>
            <span className="verdicts">{rule.alerts > 0 && <VerdictBar verdicts={rule.verdicts} />}</span>
            <span className={`num ${rule.work === null ? 'soft' : ''}`}>
              {rule.kind === 'alerts' ? minutes(rule.work) : '0 min'}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

function SubjectRows({
  subjects,
  search,
}: {
  subjects: readonly RankedSubjectWire[];
  search: string;
}): JSX.Element {
  if (subjects.length === 0) return <Empty title="No alert names anybody in this time" />;
  return (
    <>
      <div className="noise-row top" aria-hidden="true">
        <span>subject</span>
        <span className="num">rules</span>
        <span className="num">alerts</span>
        <span className="verdicts">verdicts</span>
        <span className="num">work</span>
      </div>
      <ul className="scrolls list-plain" aria-label="Subjects, most rules first">
        {subjects.map((one) => {
          const within = new URLSearchParams(search);
          within.set('find', one.subject);
          within.set('state', 'all');
          return (
            <li key={one.subject} className="noise-row">
              <Link className="name mono" to={`/alerts?${within}`} title={one.rules.join(', ')}>
                {one.subject}
              </Link>
              <span className="soft">{one.verdicts.real > 0 ? 'a real one' : 'none real'}</span>
              <span className="num">{count(one.rules.length)}</span>
              <span className="num">{count(one.alerts)}</span>
              <span className="verdicts">
                <VerdictBar verdicts={one.verdicts} />
              </span>
              <span className="num">{minutes(one.work)}</span>
            </li>
          );
        })}
      </ul>
    </>
  );
}

const SILENT_WORDS: Readonly<Record<SilentRuleWire['kind'], string>> = {
  'source-absent': 'source absent',
  'source-quiet': 'source quiet',
  'list-empty': 'list empty',
  'field-empty': 'field never filled',
  'nothing-met': 'nothing met it',
};

function SilentRows({ silent, silentFailure, search }: NoiseListProps): JSX.Element {
  if (silentFailure !== null) return <Failed title="It cannot be told">{silentFailure.message}</Failed>;
  if (silent === undefined) return <Reading title="Looking why" />;
  if (silent.length === 0) return <Empty title="Every rule that is on matched something" />;
  return (
    <ul className="scrolls list-plain" aria-label="Rules that never matched">
      {silent.map((rule) => (
        <li key={rule.id} className="silent-row">
          <Link className="name" to={`/rules/${rule.id}${search}`}>
            {rule.title}
          </Link>
          <span className="sm">
            <b>{SILENT_WORDS[rule.kind]}</b>
            <span className="soft">: {rule.why}</span>
          </span>
        </li>
      ))}
    </ul>
  );
}
