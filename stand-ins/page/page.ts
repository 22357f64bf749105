import { formatInstant, type Instant } from '../../core/base/instant.js';
import { scenes } from '../../demo/scenes/index.js';
import type { Playing } from '../scenes.js';

/** What the page shows. */
export interface PageState {
  readonly workbench: string;
  readonly tide: { readonly sentUntil: Instant; readonly trouble: string | null };
  readonly sent: ReadonlyMap<string, number>;
  readonly playing: ReadonlyMap<string, Playing>;
  readonly feed: number;
  readonly people: number;
  readonly assets: number;
}

const escape = (text: string): string => text.replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`);

const clock = (time: Instant): string => `${formatInstant(time).slice(11, 19)} UTC`;

const STYLE = `
  body { margin: 0; background: #211912; color: #281d13; font: 14px/1.4 system-ui, sans-serif; }
  main { max-width: 860px; margin: 24px auto; background: #f4ead3; border-radius: 3px; padding: 16px 24px 24px; }
  h1 { font: 500 28px/1.15 Georgia, serif; margin: 8px 0 4px; }
  h2 { font-size: 14px; margin: 24px 0 4px; }
  p { margin: 4px 0; }
  .soft { color: #55442f; }
  table { width: 100%; border-collapse: collapse; }
  td, th { text-align: left; padding: 8px 12px 8px 0; border-top: 1px solid #d9c8a5; vertical-align: top; font-weight: 400; }
  td.number { text-align: right; font-variant-numeric: tabular-nums; }
  code { font: 13px/19px ui-monospace, monospace; }
  button { background: #f4ead3; border: 1px solid #8a7450; border-radius: 3px; padding: 4px 12px; font: inherit; cursor: pointer; }
  button:hover { background: #fffaec; }
  :focus-visible { outline: 2px solid #1d4274; outline-offset: 2px; }
  a { color: #1d4274; }
  .trouble { border-left: 3px solid #832f33; padding-left: 8px; }`;

function sceneRow(name: string, title: string, what: string, played: Playing | undefined): string {
  const running = played !== undefined && played.sent < played.total;
  const state =
    played === undefined
      ? ''
      : running
        ? `playing: ${played.sent} of ${played.total} records sent`
        : `played at ${clock(played.started)}, ${played.total} records`;
  return `<tr><th scope="row"><b>${escape(title)}</b><br><span class="soft">${escape(what)}</span>${
    state === '' ? '' : `<br>${escape(state)}`
  }</th><td class="number"><form method="post" action="/scenes/${escape(name)}/play"><button${
    running ? ' disabled' : ''
  }>Play</button></form></td></tr>`;
}

/** The stand-ins' page: what they do, and scenes to play. */
export function renderPage(state: PageState): string {
  const running = [...state.playing.values()].some(({ sent, total }) => sent < total);
  const total = [...state.sent.values()].reduce((sum, count) => sum + count, 0);
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>Stand-ins of Skerry Line</title>
<meta name="viewport" content="width=device-width">${running ? '<meta http-equiv="refresh" content="2">' : ''}
<style>${STYLE}</style></head><body><main>
<h1>Stand-ins of Skerry Line</h1>
<p class="soft">Small programs that stand for the systems of the demo world. The workbench is at <a href="${escape(
    state.workbench,
  )}">${escape(state.workbench)}</a>.</p>
<h2>Scenes</h2>
<p class="soft">Press Play and watch: in Hunt with Follow live on, and in Alerts.</p>
<table>${scenes.map(({ name, title, what }) => sceneRow(name, title, what, state.playing.get(name))).join('')}</table>
<h2>The tide</h2>
<p>Ordinary life goes on: ${total.toLocaleString('en')} records sent since the start, all until ${clock(state.tide.sentUntil)}.</p>
${state.tide.trouble === null ? '' : `<p class="trouble">The last round could not be sent and is tried again: ${escape(state.tide.trouble)}</p>`}
<table>${[...state.sent]
    .sort()
    .map(
      ([source, count]) =>
        `<tr><th scope="row"><code>${escape(source)}</code></th><td class="number">${count.toLocaleString('en')}</td></tr>`,
    )
    .join('')}</table>
<h2>To be pulled</h2>
<table>
<tr><th scope="row"><a href="/feed/bookings"><code>/feed/bookings</code></a><br><span class="soft">half of what the booking application logs, three to six hours late; <code>?cursor=</code> goes on from <code>next</code></span></th><td class="number">${state.feed.toLocaleString('en')} records</td></tr>
<tr><th scope="row"><a href="/directory/people"><code>/directory/people</code></a><br><span class="soft">everyone with an account: name, department, manager, privileged, left on</span></th><td class="number">${state.people} people</td></tr>
<tr><th scope="row"><a href="/directory/assets"><code>/directory/assets</code></a><br><span class="soft">machines and their addresses</span></th><td class="number">${state.assets} machines</td></tr>
</table>
</main></body></html>`;
}
