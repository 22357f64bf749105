import { lazy, Suspense, useRef, type JSX } from 'react';
import { count, counted } from '../../ui/format.js';
import { Empty, Reading } from '../../ui/State.js';
import { BarsPicture } from './BarsPicture.js';
import { savePicture } from './save-picture.js';
import { FlowPicture } from './FlowPicture.js';
import { HeatPicture } from './HeatPicture.js';
import { NumberPicture } from './NumberPicture.js';
import type { PictureProps } from './picture.js';
import { flowOf, heatOf, nameOf, shapeOf, type View } from './shape.js';
import { ShapesPicture } from './ShapesPicture.js';
import { BarLines } from './BarLines.js';
import { DotsPicture } from './DotsPicture.js';
import { HoursPicture } from './HoursPicture.js';
import { PairedPicture } from './PairedPicture.js';
import { RankedPicture } from './RankedPicture.js';
import { SentencesPicture } from './SentencesPicture.js';
import { TimePicture } from './TimePicture.js';
import { viewNames, whyNot } from './views.js';
import { WordsPicture } from './WordsPicture.js';

/** The outlines of the world are heavy, and only fetched where a map is looked at. */
const MapPicture = lazy(async () => ({ default: (await import('./MapPicture.js')).MapPicture }));

type PicturesProps = PictureProps & { readonly view: View };

/** A result as a picture; every picture says in words what it shows, and can be had as a file. */
export function Pictures(props: PicturesProps): JSX.Element {
  const figure = useRef<HTMLElement>(null);
  const words = inWords(props);
  const save = (format: 'svg' | 'png'): void => {
    if (figure.current !== null) void savePicture(figure.current, words, `hunt-${props.view}`, format);
  };
  return (
    <figure ref={figure} className="picture scrolls" aria-label={words}>
      <Drawing {...props} />
      <figcaption className="xs soft inset">
        {words}{' '}
        <span className="nowrap">
          Save as{' '}
          <button type="button" className="link xs" onClick={() => save('svg')}>
            SVG
          </button>{' '}
          <button type="button" className="link xs" onClick={() => save('png')}>
            PNG
          </button>
        </span>
      </figcaption>
    </figure>
  );
}

/** A result as a picture, without anything around it; where it cannot be shown so, why. */
export function Drawing(props: PicturesProps): JSX.Element {
  const { view, columns, rows, question } = props;
  const why = whyNot(view, columns, rows, question.text);
  if (why !== null) return <Empty title={`No ${viewNames[view].toLowerCase()} of this`}>{why}</Empty>;
  switch (view) {
    case 'bars':
      return props.room === undefined ? <BarsPicture {...props} /> : <BarLines {...props} />;
    case 'line':
    case 'area':
    case 'stacked':
      return <TimePicture {...props} mode={view} />;
    case 'heat':
      return <HeatPicture {...props} />;
    case 'hours':
      return <HoursPicture {...props} />;
    case 'paired':
      return <PairedPicture {...props} />;
    case 'ranked':
      return <RankedPicture {...props} />;
    case 'words':
      return <WordsPicture {...props} />;
    case 'sentences':
      return <SentencesPicture {...props} />;
    case 'dots':
      return <DotsPicture {...props} />;
    case 'flow':
      return <FlowPicture {...props} />;
    case 'shapes':
      return <ShapesPicture {...props} />;
    case 'map':
      return (
        <Suspense fallback={<Reading title="Fetching the outlines of the world" />}>
          <MapPicture {...props} />
        </Suspense>
      );
    case 'number':
    case 'table':
      return <NumberPicture {...props} />;
  }
}

/** What a picture shows, for whoever cannot see it. */
export function inWords({ view, columns, rows }: PicturesProps): string {
  if (view === 'map') return 'Places of the rows on a map; the table below it names them all.';
  if (view === 'shapes')
    return `${counted(rows.length, 'shape')} of text, the rarest first; what changes is written as *.`;
  const { keys, time, figure } = shapeOf(columns);
  const name = columns[figure ?? 0]?.name ?? '';
  const by = [...keys.map((at) => columns[at]?.name ?? ''), ...(time === null ? [] : ['time'])].join(', ');
  const [most] = [...rows].sort((a, b) => Number(b[figure ?? 0] ?? 0) - Number(a[figure ?? 0] ?? 0));
  const heaviest =
    most === undefined
      ? ''
      : ` The largest is ${count(Number(most[figure ?? 0] ?? 0))} for ${keys.map((at) => nameOf(most[at])).join(', ') || nameOf(most[time ?? 0])}.`;
  const dropped =
    view === 'heat' ? heatOf(columns, rows).left : view === 'flow' ? flowOf(columns, rows).left : 0;
  const left =
    dropped === 0 ? '' : ` ${count(dropped)} lighter names are left out or put together; the table has all.`;
  return view === 'number' ? name : `${name} by ${by}, ${counted(rows.length, 'row')}.${heaviest}${left}`;
}
