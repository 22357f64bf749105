import { escapeHtml as safe } from '../text/escape-html.js';
import { type Board, BOARD_COLUMNS, ROW_PIXELS } from './board.js';
import { CARD_STYLE, drawCard, type ToldCard } from './draw-card.js';
import { inReadingOrder } from './layout.js';

// A board as one page of HTML that needs nothing else: no scripts, no files beside it.

/** What a page says of when and of what it was counted. */
export interface PageFacts {
  readonly window: { readonly from: string; readonly to: string };
  readonly zone: string;
  readonly inputs: Readonly<Record<string, string>>;
  readonly counted: string;
}

/** Draws the answers of a board as one self-contained page of HTML. */
export function drawPage(board: Board, answers: readonly ToldCard[], facts: PageFacts): string {
  const byId = new Map(answers.map((answer) => [answer.card.id, answer]));
  const inputs = Object.entries(facts.inputs).map(([name, value]) => ` · ${safe(name)} = ${safe(value)}`);
  const cards = inReadingOrder(board.layout).flatMap(({ card, x, y, w, h }) => {
    const answer = byId.get(card);
    return answer === undefined
      ? []
      : [
          `<article style="grid-column:${x + 1}/span ${w};grid-row:${y + 1}/span ${h}"><h2>${safe(answer.card.title)}</h2>${drawCard(answer)}</article>`,
        ];
  });
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'">
<title>${safe(board.title)}</title><style>${STYLE}${CARD_STYLE}</style></head><body>
<header><h1>${safe(board.title)}</h1><p>${safe(board.about ?? '')}</p>
<p class="facts">${safe(facts.window.from)} to ${safe(facts.window.to)} · ${safe(facts.zone)}${inputs.join('')} · counted ${safe(facts.counted)}</p></header>
<main>${cards.join('\n')}</main></body></html>
`;
}

const STYLE = `
body{margin:0;background:#f4ead3;color:#281d13;font:14px/1.4 system-ui,sans-serif}
header{padding:12px 16px;border-bottom:1px solid #b9a47c}h1{margin:0;font:500 28px/1.15 Georgia,serif}header p{margin:2px 0 0;color:#55442f}.facts,.soft{color:#6a573e;font-size:12px}
main{display:grid;grid-template-columns:repeat(${BOARD_COLUMNS},minmax(0,1fr));grid-auto-rows:minmax(${ROW_PIXELS}px,auto)}
article{min-width:0;padding:6px 16px;border-right:1px solid #d9c8a5;border-bottom:1px solid #d9c8a5;overflow:auto;break-inside:avoid}h2{margin:0 0 4px;font-size:14px}
@media (width<900px){main{display:block}}@media print{body{background:#fff}}
`;
