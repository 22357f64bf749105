import type { JSX } from 'react';
import type { PictureKind } from '../../core/boards/picture-kinds.js';

/** What each picture looks like, small. */
const paths: Readonly<Record<PictureKind, JSX.Element>> = {
  rows: <path d="M2 3.5h16M2 7.5h16M2 11.5h16" strokeWidth="1.6" />,
  ranked: (
    <>
      <path d="M2 3h4M2 7.5h4M2 12h4" strokeWidth="1.3" />
      <path d="M8 3h10M8 7.5h6.5M8 12h3" strokeWidth="2.6" />
    </>
  ),
  bars: <path d="M3 3h14M3 7.5h9M3 12h5" strokeWidth="3" />,
  stacked: (
    <>
      <path d="M4 14V8M10 14V5M16 14V9" strokeWidth="3.4" />
      <path d="M4 7V4M10 4V1M16 8V5" strokeWidth="3.4" opacity=".5" />
    </>
  ),
  paired: (
    <>
      <path d="M4 14V4M13 14V7" strokeWidth="2.8" />
      <path d="M8 14V9M17 14V3" strokeWidth="2.8" opacity=".5" />
    </>
  ),
  line: <path d="M1 12l5-5 4 3 4-8 5 4" strokeWidth="1.6" />,
  area: <path d="M1 14V10l5-4 4 3 4-6 5 4v7z" strokeWidth="1" fill="currentColor" fillOpacity=".45" />,
  number: (
    <text x="10" y="12.5" textAnchor="middle" fontSize="13" fill="currentColor" stroke="none">
      12
    </text>
  ),
  map: <path d="M2 3l5-1.500 6 2 5-1.500v10l-5 1.500-6-2-5 1.500zM7 2v10M13 4v10" strokeWidth="1.2" />,
  heat: (
    <>
      <path d="M2 2h5v5H2zM13 2h5v5h-5zM7.500 8h5v5h-5z" strokeWidth="1" fill="currentColor" />
      <path d="M7.500 2h5v5h-5zM2 8h5v5H2zM13 8h5v5h-5z" strokeWidth="1" />
    </>
  ),
  hours: (
    <>
      <rect x="2" y="2" width="16" height="11" strokeWidth="1.2" />
      <path d="M2 6h16M6 2v11M10 2v11M14 2v11" strokeWidth="1" />
    </>
  ),
  words: (
    <>
      <path d="M1 5h9" strokeWidth="3.6" />
      <path d="M12 5h6" strokeWidth="2.2" />
      <path d="M1 11h5M8 11h4M14 11h4" strokeWidth="1.400" />
    </>
  ),
  sentences: <path d="M2 3h16M2 6h10M2 10h16M2 13h7" strokeWidth="1.3" />,
  dots: (
    <>
      <path d="M6 4h8M5 11h11" strokeWidth="1.3" />
      <circle cx="4" cy="4" r="2" strokeWidth="1.3" />
      <circle cx="16" cy="4" r="2.300" fill="currentColor" />
      <circle cx="3" cy="11" r="2" strokeWidth="1.3" />
      <circle cx="17" cy="11" r="2.300" fill="currentColor" />
    </>
  ),
  flow: <path d="M1 3c8 0 8 8 18 8M1 12c8 0 8-8 18-8" strokeWidth="2.400" opacity=".8" />,
  shapes: <path d="M1 4h5M8 4h2M12 4h7M1 10h3M6 10h6M14 10h2" strokeWidth="1.500" />,
};

export const PictureGlyph = ({ kind }: { readonly kind: PictureKind }): JSX.Element => (
  <svg width="20" height="15" viewBox="0 0 20 15" fill="none" stroke="currentColor" aria-hidden>
    {paths[kind]}
  </svg>
);

/** What each picture is called on a card. */
export const pictureNames: Readonly<Record<PictureKind, string>> = {
  rows: 'Rows',
  ranked: 'Ranked',
  bars: 'Bars',
  stacked: 'Stacked',
  paired: 'Paired',
  line: 'Line',
  area: 'Area',
  number: 'Number',
  map: 'Map',
  heat: 'Heat',
  hours: 'Week',
  words: 'Words',
  sentences: 'Sentences',
  dots: 'Dots',
  flow: 'Flow',
  shapes: 'Shapes',
};
