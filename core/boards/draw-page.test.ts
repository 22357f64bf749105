import { parseInstant } from '../base/instant.js';
import { noLists } from '../wick/in-memory/environment.js';
import { makeEvents } from '../wick/tests/events.js';
import { answerInMemory, unfilled } from './answer-in-memory.js';
import type { Board, Card } from './board.js';
import { toToldCard } from './draw-card.js';
import { drawPage } from './draw-page.js';
import { laidOut } from './read-board.js';

const window = {
  from: parseInstant('2026-11-14T00:00:00Z') ?? 0,
  to: parseInstant('2026-11-15T00:00:00Z') ?? 0,
};
const events = makeEvents([
  {
    time: '2026-11-14T01:00:00Z',
    kind: 'web',
    host: 'gate-01',
    finding: '<b>sql',
    user: 'teo',
    bytes_out: 5,
  },
  {
    time: '2026-11-14T01:30:00Z',
    kind: 'web',
    host: 'gate-02',
    finding: 'path',
    user: 'runa',
    bytes_out: 50,
  },
  {
    time: '2026-11-14T05:00:00Z',
    kind: 'web',
    host: 'gate-01',
    finding: 'path',
    user: 'a\u202Eb',
    bytes_out: 1234,
  },
]);

/** A page of one card. */
function page(hunt: string, picture: NonNullable<Card['picture']>, more: Partial<Card> = {}): string {
  const board: Board = laidOut({
    title: 'Gates & quays',
    cards: [{ id: 'a', title: 'One', hunt, picture, ...more }],
    layout: [],
  });
  const answers = answerInMemory(
    board,
    events,
    { window, zone: 'UTC', carried: [], inputs: {} },
    { now: window.to, lists: [], environment: noLists, parse: parseInstant },
  );
  return drawPage(board, answers.map(toToldCard), {
    window: { from: '2026-11-14', to: '2026-11-15' },
    zone: 'UTC',
    inputs: { gate: '<x>' },
    counted: 'now',
  });
}

it('says what it is of: title, window, zone, inputs, and when it was counted', () => {
  const html = page('from web\ntally count() as n', { kind: 'number' });
  expect(html).toContain('<title>Gates &amp; quays</title>');
  expect(html).toContain('2026-11-14 to 2026-11-15 · UTC · gate = &lt;x&gt; · counted now');
  expect(html).toContain('<p class="big">3</p>');
});

it('a ranked list has a bar for each row, as long as its share of the most', () => {
  const html = page('from web\ntally sum(bytes_out) as bytes per host\nsort bytes desc', { kind: 'ranked' });
  expect(html).toContain('<td class="num">1,239</td><td class="bar"><i style="width:100.0%">');
  expect(html).toContain('<i style="width:4.0%">');
});

it('figures over time are bars, with the sum of each series', () => {
  const html = page('from web\ntally count() as n per finding, every 1h', { kind: 'stacked' });
  expect(html.match(/<rect /g)).toHaveLength(3);
  expect(html).toContain('path 2</span>');
  expect(html).toContain('most 2');
});

it('two keys are a table of shades; words are as large as they are many; sentences keep their names', () => {
  const heat = page('from web\ntally count() as n per host, finding', { kind: 'heat' });
  expect(heat).toContain('<th>gate-01</th>');
  expect(heat.match(/background:#ede0c2/g)).toHaveLength(1);
  const words = page('from web\ntally count() as n per finding', { kind: 'words' });
  expect(words).toContain('<span style="font-size:20.0px">path <small>2</small></span>');
  const said = page('from web\nsort time\nfirst 1\nshow user, host', {
    kind: 'sentences',
    template: '{user} at *{host}*',
  });
  expect(said).toContain('<li><code>teo</code> at <b>gate-01</b></li>');
});

it('whatever events hold is text, and what misleads is visible; hidden columns stay away', () => {
  const html = page('from web\nsort time\nshow finding, user, host', { kind: 'rows' }, { hide: ['host'] });
  expect(html).toContain('&lt;b&gt;sql');
  expect(html).not.toContain('\u202E');
  expect(html).toContain('⟨U+202E⟩');
  expect(html).not.toContain('gate-01');
});

it('a card that cannot be drawn so is its table; one without rows, or with a mistake, says so', () => {
  expect(page('from web\ntally count() as n per host', { kind: 'line' })).toContain('<th>host</th>');
  expect(page("from web\nwhere host = 'none'", { kind: 'rows' })).toContain('No rows in this window.');
  expect(page('from web\nwhere hst = 1', { kind: 'rows' })).toContain('Line 2, column 7: No field');
});

it('knows which inputs are still to be given', () => {
  const card = (id: string, ask: string): Card => ({
    id,
    title: id,
    hunt: `ask who 'User'${ask}\nfrom all\nwhere user = $who`,
    picture: { kind: 'rows' },
  });
  const board = (ask: string): Board => laidOut({ title: 'T', cards: [card('a', ask)], layout: [] });
  expect(unfilled(board(''), {})).toEqual(['who']);
  expect(unfilled(board(''), { who: 'teo' })).toEqual([]);
  expect(unfilled(board(' any'), {})).toEqual([]);
  expect(unfilled(board(" default 'x'"), {})).toEqual([]);
});
