import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, type JSX, useState } from 'react';
import { Form } from 'react-bootstrap';
import { listPaths, namePoint, readPath } from '../../../../core/wire/endpoints/paths.js';
import type { HuntPoint } from '../../../../core/wire/paths.js';
import { about, answerTo, call } from '../../../api/call.js';
import { count, showTime } from '../../../ui/format.js';
import { Empty, Failed } from '../../../ui/State.js';
import { Compare } from './Compare.js';
import { type LaidRow, layPath } from './lanes.js';
import { turnWords } from './turn-words.js';

interface PathPanelProps {
  /** The point that was reached last; null before the first run has come to its end. */
  readonly at: number | null;
  readonly zone: string;
  readonly onGo: (point: HuntPoint) => void;
}

/** Where a hunt has been: each run a dot, each turn off a branch. Going back asks the same again. */
export function PathPanel({ at, zone, onGo }: PathPanelProps): JSX.Element {
  const client = useQueryClient();
  const [naming, setNaming] = useState<number | null>(null);
  const [compared, setCompared] = useState<readonly [HuntPoint, HuntPoint] | null>(null);
  const path = useQuery({
    ...answerTo(readPath, { params: { id: at ?? 0 } }),
    enabled: at !== null,
    placeholderData: (before) => before,
  });
  const beginnings = useQuery(answerTo(listPaths));
  const rename = useMutation({
    mutationFn: ({ id, name }: { id: number; name: string }) =>
      call(namePoint, { params: { id }, body: { name } }),
    onSuccess: () => {
      setNaming(null);
      void client.invalidateQueries(about('hunt-points'));
    },
  });
  const points = path.data?.points ?? [];
  const byId = new Map(points.map((point) => [point.id, point]));
  const here = at === null ? undefined : byId.get(at);
  const laid = layPath(points);
  const lanes = Math.max(1, ...laid.map(({ lane }) => lane + 1));
  const others = (beginnings.data?.points ?? []).filter(({ path: of }) => of !== points[0]?.path);
  return (
    <section aria-label="Path">
      {path.isError && <Failed title="The path cannot be shown">{path.error.message}</Failed>}
      {points.length === 0 && (
        <Empty title="No turn taken yet">Each run becomes a point here, to go back to.</Empty>
      )}
      <ol className="path">
        {laid.map((row) => {
          const point = byId.get(row.id);
          if (point === undefined) return null;
          const parent = point.parent === null ? null : (byId.get(point.parent)?.question ?? null);
          const words = turnWords(point.question, parent, zone);
          return (
            <li key={row.id} className={row.id === at ? 'here' : ''}>
              <Lanes row={row} lanes={lanes} here={row.id === at} />
              <div className="grow">
                {naming === row.id ? (
                  <NameForm name={point.name} onName={(name) => rename.mutate({ id: row.id, name })} />
                ) : (
                  <button
                    type="button"
                    className="link path-go"
                    aria-current={row.id === at ? 'step' : undefined}
                    title={`${point.question.text}\n${showTime(point.made, zone, 'log')} ${zone}`}
                    onClick={() => onGo(point)}
                  >
                    {point.name !== '' && <b>{point.name} </b>}
                    <span className="mono">{words}</span>
                  </button>
                )}
                <span className="path-more xs soft">
                  <Thumbnail bars={point.bars} />
                  {count(point.rows)}
                  {point.complete ? '' : '+'} {point.complete && point.rows === 1 ? 'row' : 'rows'}
                  <span className="own-actions">
                    <button type="button" className="link xs" onClick={() => setNaming(row.id)}>
                      name
                    </button>
                    {here !== undefined && row.id !== at && (
                      <button type="button" className="link xs" onClick={() => setCompared([point, here])}>
                        compare with here
                      </button>
                    )}
                  </span>
                </span>
              </div>
            </li>
          );
        })}
      </ol>
      {others.length > 0 && (
        <>
          <h2 className="inset xs soft pt-2 mb-0">Earlier paths, by where they began</h2>
          {others.map((point) => (
            <div key={point.id} className="row-line saved-hunt">
              <button
                type="button"
                className="link mono cut"
                title={point.question.text}
                onClick={() => onGo(point)}
              >
                {point.name === '' ? point.question.text.replaceAll('\n', ' · ') : point.name}
              </button>
              <span className="xs soft nowrap">{showTime(point.made, zone, 'minute')}</span>
            </div>
          ))}
        </>
      )}
      {compared !== null && (
        <Compare before={compared[0]} after={compared[1]} zone={zone} onClose={() => setCompared(null)} />
      )}
    </section>
  );
}

function NameForm({ name, onName }: { name: string; onName: (name: string) => void }): JSX.Element {
  const [next, setNext] = useState(name);
  const send = (event: FormEvent): void => {
    event.preventDefault();
    onName(next.trim());
  };
  return (
    <Form onSubmit={send}>
      <Form.Control
        size="sm"
        autoFocus
        aria-label="Name of this point"
        value={next}
        maxLength={120}
        onChange={(event) => setNext(event.target.value)}
        onBlur={() => onName(next.trim())}
      />
    </Form>
  );
}

const LANE = 12;
const ROW = 44;
const DOT = 12;

function Lanes({ row, lanes, here }: { row: LaidRow; lanes: number; here: boolean }): JSX.Element {
  const x = (lane: number): number => lane * LANE + 8;
  return (
    <svg className="lanes" width={lanes * LANE + 8} height={ROW} aria-hidden="true">
      {row.passing.map((lane) => (
        <path key={lane} d={`M${x(lane)} 0V${ROW}`} />
      ))}
      {row.from !== null && <path d={`M${x(row.lane)} 0V${DOT}`} />}
      {row.goesOn && <path d={`M${x(row.lane)} ${DOT}V${ROW}`} />}
      {row.turnsOff.map((lane) => (
        <path
          key={lane}
          d={`M${x(row.lane)} ${DOT}C${x(lane)} ${DOT} ${x(lane)} ${DOT + 6} ${x(lane)} ${ROW}`}
        />
      ))}
      <circle cx={x(row.lane)} cy={DOT} r={here ? 5 : 4} className={here ? 'here' : ''} />
    </svg>
  );
}

/** The timeline of a point, as small as a word. */
function Thumbnail({ bars }: { bars: readonly number[] }): JSX.Element {
  const most = Math.max(1, ...bars);
  return (
    <svg
      className="thumbnail"
      width="64"
      height="14"
      viewBox={`0 0 ${Math.max(1, bars.length)} 14`}
      preserveAspectRatio="none"
      aria-hidden="true"
    >
      {bars.map((events, i) =>
        events === 0 ? null : (
          <rect
            key={i}
            x={i}
            width="0.8"
            y={14 - Math.max(1, (events / most) * 14)}
            height={Math.max(1, (events / most) * 14)}
          />
        ),
      )}
    </svg>
  );
}
