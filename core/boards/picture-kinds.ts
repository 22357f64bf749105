/** Every way to draw a result. The pages hold a drawing for each, and the command line one in plain HTML. */
export const pictureKinds = [
  'rows',
  'ranked',
  'bars',
  'stacked',
  'paired',
  'line',
  'area',
  'number',
  'map',
  'heat',
  'hours',
  'words',
  'sentences',
  'dots',
  'flow',
  'shapes',
] as const;
export type PictureKind = (typeof pictureKinds)[number];

/** The smallest a card may be with each picture, in columns and rows. */
export const smallest: Readonly<Record<PictureKind, { readonly w: number; readonly h: number }>> = {
  rows: { w: 4, h: 3 },
  ranked: { w: 3, h: 3 },
  bars: { w: 3, h: 3 },
  stacked: { w: 3, h: 4 },
  paired: { w: 3, h: 4 },
  line: { w: 3, h: 4 },
  area: { w: 3, h: 4 },
  number: { w: 2, h: 2 },
  map: { w: 4, h: 5 },
  heat: { w: 4, h: 4 },
  hours: { w: 4, h: 5 },
  words: { w: 4, h: 2 },
  sentences: { w: 3, h: 3 },
  dots: { w: 3, h: 4 },
  flow: { w: 4, h: 5 },
  shapes: { w: 4, h: 4 },
};
