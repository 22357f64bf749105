import { formatInstant, type Instant } from '../../core/base/instant.js';
import { scenes } from '../../demo/scenes/index.js';
import { escape, renderFrame } from './frame.js';
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

const clock = (time: Instant): string => `${formatInstant(time).slice(11, 19)} UTC`;

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
  return renderFrame(
    'Stand-ins of Skerry Line',
    `<p class="soft">Small programs that stand for the systems of the demo world. The workbench is at <a href="${escape(
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
</table>`,
    running ? 2 : 0,
  );
}
