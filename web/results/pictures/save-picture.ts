/** What of an element's look goes into the file: the file has no style sheet. */
const KEPT = [
  'fill',
  'fill-opacity',
  'stroke',
  'stroke-width',
  'stroke-opacity',
  'stroke-dasharray',
  'font-family',
  'font-size',
  'font-weight',
  'text-anchor',
  'opacity',
] as const;

const PADDING = 16;
const LINE = 20;
const PAPER = '#fbf3df';
const INK = '#281d13';

/** A copy of a drawing with its look written into each of its parts. */
function withLook(svg: SVGElement): SVGElement {
  const copy = svg.cloneNode(true) as SVGElement;
  const originals = [svg, ...svg.querySelectorAll('*')];
  [copy, ...copy.querySelectorAll('*')].forEach((element, i) => {
    const original = originals[i];
    if (original === undefined) return;
    const look = getComputedStyle(original);
    for (const name of KEPT) {
      const value = look.getPropertyValue(name);
      if (value !== '') element.setAttribute(name, value);
    }
    for (const name of ['style', 'class', 'tabindex', 'role']) element.removeAttribute(name);
  });
  return copy;
}

/**
 * A picture as a drawing that stands alone: the largest drawing of the figure, its legend, and what it shows in words.
 * @returns null where there is none; the size is in pixels
 */
export function drawingOf(
  figure: HTMLElement,
  words: string,
): { readonly text: string; readonly width: number; readonly height: number } | null {
  const drawings = [...figure.querySelectorAll('svg')];
  const area = (svg: SVGElement): number => {
    const { width, height } = svg.getBoundingClientRect();
    return width * height;
  };
  const [largest = written(figure)] = drawings
    .filter((svg) => svg.closest('.bar-lines, .words-picture, .sentences, .dots-picture, table') === null)
    .sort((a, b) => area(b) - area(a));
  if (largest === null) return null;
  const box = largest.isConnected
    ? largest.getBoundingClientRect()
    : { width: Number(largest.getAttribute('width')), height: Number(largest.getAttribute('height')) };
  const legend = [...figure.querySelectorAll<HTMLElement>('[data-legend]')];
  const width = Math.ceil(box.width) + 2 * PADDING;
  const height = Math.ceil(box.height) + 2 * PADDING + LINE * (legend.length + 1);
  const drawing = largest.isConnected ? withLook(largest) : largest;
  drawing.setAttribute('x', String(PADDING));
  drawing.setAttribute('y', String(PADDING));
  drawing.setAttribute('width', String(box.width));
  drawing.setAttribute('height', String(box.height));
  const whole = document.createElementNS('http://www.w3.org/2000/svg', 'svg');
  whole.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  whole.setAttribute('width', String(width));
  whole.setAttribute('height', String(height));
  const add = (name: string, attributes: Record<string, string | number>, text?: string): void => {
    const element = document.createElementNS('http://www.w3.org/2000/svg', name);
    for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, String(value));
    if (text !== undefined) element.textContent = text;
    whole.append(element);
  };
  add('title', {}, words);
  add('rect', { width, height, fill: PAPER });
  whole.append(drawing);
  const below = PADDING + box.height + LINE;
  const font = { 'font-family': 'sans-serif', 'font-size': 12, fill: INK };
  legend.forEach(({ dataset }, i) => {
    const colour = getComputedStyle(figure).getPropertyValue(
      /var\((.*)\)/.exec(dataset['colour'] ?? '')?.[1] ?? '',
    );
    add('rect', { x: PADDING, y: below + i * LINE - 10, width: 10, height: 10, fill: colour || INK });
    add('text', { x: PADDING + 16, y: below + i * LINE, ...font }, dataset['legend'] ?? '');
  });
  add('text', { x: PADDING, y: below + legend.length * LINE, ...font }, words);
  return { text: new XMLSerializer().serializeToString(whole), width, height };
}

/**
 * A picture that is written, not drawn, as a drawing: its texts and bars where they stand on the page.
 * @returns null where there is nothing
 */
function written(figure: HTMLElement): SVGElement | null {
  const place = figure.firstElementChild;
  if (place === null || place.tagName === 'FIGCAPTION') return null;
  const whole = place.getBoundingClientRect();
  const svg = document.createElementNS('http://www.w3.org/2000/svg', 'svg');
  svg.setAttribute('width', String(Math.ceil(whole.width)));
  svg.setAttribute('height', String(Math.ceil(whole.height)));
  const add = (
    name: string,
    box: DOMRect,
    attributes: Record<string, string | number>,
    text?: string,
  ): void => {
    const element = document.createElementNS('http://www.w3.org/2000/svg', name);
    for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, String(value));
    element.setAttribute('x', (box.left - whole.left).toFixed(1));
    element.setAttribute(
      'y',
      (name === 'text' ? box.bottom - whole.top - box.height / 4 : box.top - whole.top).toFixed(1),
    );
    if (text !== undefined) element.textContent = text;
    svg.append(element);
  };
  for (const bar of place.querySelectorAll('i, circle, path')) {
    const box = bar.getBoundingClientRect();
    if (bar.tagName !== 'I') {
      const look = getComputedStyle(bar);
      add('rect', box, {
        width: Math.max(1, box.width),
        height: Math.max(1, box.height),
        fill: look.fill === 'none' ? look.stroke : look.fill,
        rx: bar.tagName === 'circle' ? box.width / 2 : 0,
      });
    } else
      add('rect', box, { width: box.width, height: box.height, fill: getComputedStyle(bar).backgroundColor });
  }
  const texts = document.createTreeWalker(place, NodeFilter.SHOW_TEXT);
  while (texts.nextNode()) {
    const { currentNode: node } = texts;
    const parent = node.parentElement;
    if (
      parent === null ||
      (node.textContent ?? '').trim() === '' ||
      parent.closest('.visually-hidden') !== null
    )
      continue;
    const range = document.createRange();
    range.selectNodeContents(node);
    const look = getComputedStyle(parent);
    add(
      'text',
      range.getBoundingClientRect(),
      {
        'font-family': look.fontFamily,
        'font-size': look.fontSize,
        'font-weight': look.fontWeight,
        fill: look.color,
      },
      node.textContent ?? '',
    );
  }
  return svg;
}

function download(address: string, name: string): void {
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
}

/** Twice as many pixels as on screen, so that it can be printed. */
const SCALE = 2;

/** Saves a picture as a file. Log content in it is text only: the drawing is put together from elements. */
export async function savePicture(
  figure: HTMLElement,
  words: string,
  name: string,
  format: 'svg' | 'png',
): Promise<void> {
  const drawing = drawingOf(figure, words);
  if (drawing === null) return;
  const address = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(drawing.text)}`;
  if (format === 'svg') return download(address, `${name}.svg`);
  const image = new Image();
  image.src = address;
  await image.decode();
  const canvas = document.createElement('canvas');
  canvas.width = drawing.width * SCALE;
  canvas.height = drawing.height * SCALE;
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
  download(canvas.toDataURL('image/png'), `${name}.png`);
}
