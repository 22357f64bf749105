import { useState, type JSX } from 'react';
import type { RecipeTried } from '../../../core/wire/sources.js';
import { counted } from '../../ui/format.js';
import { Empty, Reading } from '../../ui/State.js';

type Tried = RecipeTried['records'][number];

const words: Readonly<Record<Tried['became'], string>> = {
  event: 'event',
  discarded: 'left out',
  'set-aside': 'set aside',
};

const shown = (value: unknown): string => (typeof value === 'string' ? value : JSON.stringify(value));

/** The records of the sample one by one, each with the event it becomes or why it becomes none. */
export function TriedRecords({ tried, sample }: { tried: RecipeTried | null; sample: string }): JSX.Element {
  const [chosen, setChosen] = useState(0);
  if (tried === null) return <Reading title="Trying the recipe" />;
  if (tried.mistake !== null)
    return (
      <Empty title="The recipe has a mistake">What it makes of the sample is shown when it is mended.</Empty>
    );
  if (tried.records.length === 0)
    return (
      <Empty title="There are no records to try it on">
        {sample.trim() === ''
          ? 'Paste some as the source writes them.'
          : 'Nothing in the sample is a record.'}
      </Empty>
    );
  const one = tried.records[Math.min(chosen, tried.records.length - 1)];
  const count = (became: Tried['became']): number =>
    tried.records.filter((record) => record.became === became).length;
  return (
    <>
      <p className="inset xs soft pb-2">
        {counted(tried.records.length, 'record')}: {count('event')} events, {count('set-aside')} set aside,{' '}
        {count('discarded')} left out · it looks like {tried.recognised.format}
      </p>
      <div className="inset pb-2 d-flex flex-wrap gap-1" role="group" aria-label="Records of the sample">
        {tried.records.map((record, i) => (
          <button
            key={i}
            type="button"
            className={`record-chip ${record.became}`}
            aria-pressed={record === one}
            title={words[record.became]}
            onClick={() => setChosen(i)}
          >
            {i + 1}
            <span className="visually-hidden"> {words[record.became]}</span>
          </button>
        ))}
      </div>
      <div className="scrolls ruled-top">{one !== undefined && <OneRecord record={one} />}</div>
    </>
  );
}

function OneRecord({ record }: { record: Tried }): JSX.Element {
  return (
    <>
      {record.reason !== null && (
        <p className="inset sm py-2" role="status">
          <b>{record.became === 'discarded' ? 'Left out: ' : 'Set aside: '}</b>
          {record.reason}
        </p>
      )}
      {record.unread.length > 0 && (
        <p className="inset sm py-1 problem">
          The value of <span className="mono">{record.unread.join(', ')}</span> could not be read; it stays
          under original.
        </p>
      )}
      {Object.entries(record.event ?? {}).map(([name, value]) => (
        <div key={name} className="row-line">
          <span className="soft mono">{name}</span>
          <span className="mono anywhere">{shown(value)}</span>
        </div>
      ))}
      <div className="sub-head">
        <h3 className="section-head">As it came</h3>
      </div>
      <p className="inset mono xs soft pb-2 anywhere">
        {record.raw.length > 4000 ? `${record.raw.slice(0, 4000)}…` : record.raw}
      </p>
    </>
  );
}
