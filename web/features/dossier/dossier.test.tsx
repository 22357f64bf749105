import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { subjectBoards } from '../../../core/boards/subjects/index.js';
import { lanesHunt } from '../../../core/boards/subjects/subject-board.js';
import { dossierOf } from '../../tests/examples.js';
import { fakeApi, lines, refuse, show, whereAmI } from '../../tests/page.js';
import { DossierPage } from './DossierPage.js';
import { gatherAlerts, laneMarks, laneRemark, markHeight, placeOfRemark, usualBands } from './lane-marks.js';

const window = { from: '2026-11-28T00:00:00Z', to: '2026-11-29T00:00:00Z' };
const column = (name: string, type: string) => ({ name, type, field: null });
const columns = [
  column('time', 'time'),
  column('lane', 'text'),
  column('outcome', 'text'),
  column('events', 'number'),
  column('records', 'number'),
];
const rows = [
  ['2026-11-28T06:30:00Z', 'sign-in', 'failure', 31, null],
  ['2026-11-28T07:00:00Z', 'sign-in', 'success', 1, null],
  ['2026-11-28T07:00:00Z', 'sign-in', 'blocked', 2, null],
  ['2026-11-28T08:00:00Z', 'data', 'success', 2, 184_000],
];
const answered = () =>
  lines(
    {
      card: 'lanes',
      piece: 'columns',
      columns,
      notes: [],
      how: [],
      text: lanesHunt(subjectBoards.user, 30),
      window,
      marked: [],
    },
    { card: 'lanes', piece: 'rows', rows, events: rows.map(() => null) },
    { card: 'lanes', piece: 'end', complete: true, counted: window.to, milliseconds: 9, kept: false },
    { piece: 'done', cards: 1, failed: 0, milliseconds: 40 },
  );
const answers = {
  'GET /dossiers/user/teo.marrash': dossierOf('user', 'teo.marrash', {
    looksLike: [{ name: 'teo.marrish', distance: 1, confused: [] }],
  }),
  'POST /boards/answers': answered,
  'GET /lists': { lists: [] },
  'GET /sources': { sources: [] },
};
const at = {
  at: '/dossier/user/teo.marrash?zone=UTC&from=2026-11-28T00:00:00Z&to=2026-11-29T00:00:00Z',
  pattern: '/dossier/:kind/:name',
};

describe('a dossier', () => {
  it('says who it is, what is different and what is usual, and what happened on lanes', async () => {
    fakeApi(answers);
    show(<DossierPage />, at);
    expect(
      await screen.findByText(/First sign-in ever from Canada; 41 failed sign-ins; acted as/),
    ).toBeTruthy();
    expect(screen.getByText('ottilie.brandt')).toBeTruthy();
    expect(screen.getByText(/Monday to Friday 08:00 – 17:00/)).toBeTruthy();
    expect(screen.getByRole('link', { name: 'runa.keel' }).getAttribute('href')).toContain(
      '/dossier/user/runa.keel',
    );
    expect(screen.getByText('u-1002')).toBeTruthy();
    expect(screen.getByRole('link', { name: 'teo.marrish' })).toBeTruthy();
    const lanes = await screen.findByRole('img', { name: /sign-in 34, .*data 184,000/ });
    expect(lanes.getAttribute('aria-label')).toContain('36 events by lane');
    expect(within(lanes).getByText('33 refused, then in')).toBeTruthy();
  });

  it('what is new names who else ever did it, and opens its hunt', async () => {
    fakeApi(answers);
    show(<DossierPage />, at);
    const card = await screen.findByRole('article', { name: 'New in this Beam' });
    expect(await within(card).findByText('nobody else')).toBeTruthy();
    expect(within(card).getByText('3 others, later')).toBeTruthy();
    const hunt = within(card).getByRole('link', { name: 'Canada' }).getAttribute('href') ?? '';
    expect(new URL(hunt, 'http://here').searchParams.get('q')).toBe(
      "from all\nwhere about user 'teo.marrash' and country = 'Canada'",
    );
  });

  it('neighbours can be walked by keyboard, those with alerts marked', async () => {
    fakeApi(answers);
    show(<DossierPage />, at);
    const graph = await screen.findByRole('group', { name: /nearest neighbours/ });
    const [first, second] = within(graph).getAllByRole('link');
    expect(first?.getAttribute('aria-label')).toBe('host quay-tk-07, nobody else, 5 open alerts');
    first?.focus();
    fireEvent.keyDown(graph, { key: 'ArrowRight' });
    expect(document.activeElement).toBe(second);
  });

  it('what is brushed narrows all blocks, and the Beam where that is wanted', async () => {
    const api = fakeApi(answers);
    show(<DossierPage />, at);
    const lanes = await screen.findByRole('img', { name: /sign-in 34/ });
    fireEvent.keyDown(lanes, { key: 'ArrowRight' });
    expect(await screen.findByText(/^Brushed/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Keep only these' }));
    await waitFor(() =>
      expect(api.asked.filter(({ path }) => path.startsWith('/dossiers/')).at(-1)?.path).toContain(
        'from=2026-11-28T00%3A30%3A00.000Z&to=2026-11-28T01%3A00%3A00.000Z',
      ),
    );
    fireEvent.click(screen.getByRole('button', { name: 'Move the Beam here' }));
    await waitFor(() => expect(whereAmI()).toContain('from=2026-11-28T00%3A30'));
  });

  it('names are joined with a reason; a reader only sees them', async () => {
    const api = fakeApi(answers);
    api.answer('POST /dossiers/user/teo.marrash/names', { subject: {}, names: [], told: [] });
    show(<DossierPage />, at);
    fireEvent.click(await screen.findByRole('button', { name: 'Names' }));
    const dialog = await screen.findByRole('dialog');
    expect(within(dialog).getByText('1 letter apart', { exact: false })).toBeTruthy();
    fireEvent.change(within(dialog).getByLabelText('Another name or id'), { target: { value: 'adm-teo' } });
    fireEvent.change(within(dialog).getByLabelText('Reason, kept beside it'), {
      target: { value: 'his own' },
    });
    fireEvent.click(within(dialog).getByRole('button', { name: 'Say so' }));
    await waitFor(() =>
      expect(api.changes().find(({ path }) => path.endsWith('/names'))?.body).toEqual({
        other: 'adm-teo',
        joined: true,
        reason: 'his own',
      }),
    );
  });

  it('of nobody it says so, and fails in words', async () => {
    fakeApi({
      ...answers,
      'GET /dossiers/user/teo.marrash': dossierOf('user', 'teo.marrash', { known: null }),
    });
    show(<DossierPage />, at);
    expect(await screen.findByText('No user of this name was seen')).toBeTruthy();
  });

  it('what cannot be gathered says why; a kind that is none, too', async () => {
    fakeApi({ ...answers, 'GET /dossiers/user/teo.marrash': refuse(503, 'The database is away.') });
    show(<DossierPage />, at);
    expect(await screen.findByText(/The database is away/)).toBeTruthy();
    show(<DossierPage />, { at: '/dossier/ship/gannet', pattern: '/dossier/:kind/:name' });
    expect(await screen.findByText(/is no kind of subject/)).toBeTruthy();
  });
});

describe('marks on lanes', () => {
  const [signIn, , , , data] = subjectBoards.user.lanes;
  const marks = laneMarks(columns as never, rows);

  it('tell what got through from what did not', () => {
    expect(marks.get('sign-in')).toEqual([
      { time: Date.parse('2026-11-28T06:30:00Z'), through: false, events: 31, records: 0, tells: [] },
      { time: Date.parse('2026-11-28T07:00:00Z'), through: true, events: 1, records: 0, tells: [] },
      { time: Date.parse('2026-11-28T07:00:00Z'), through: false, events: 2, records: 0, tells: [] },
    ]);
  });

  it('are logarithmic, and never higher than their lane', () => {
    if (signIn === undefined || data === undefined) throw new Error('lanes are missing');
    const mark = (events: number, records = 0) => ({ time: 0, through: true, events, records, tells: [] });
    expect(markHeight(signIn, mark(1))).toBe(5.5);
    expect(markHeight(signIn, mark(1e6))).toBe(10);
    expect(markHeight(data, mark(2, 100))).toBeCloseTo(4.74);
    expect(laneRemark(signIn, marks.get('sign-in') ?? [], 3)?.text).toBe('33 refused, then in');
    expect(laneRemark(signIn, marks.get('sign-in') ?? [], 40)).toBeNull();
    expect(laneRemark(data, marks.get('data') ?? [], 200)?.text).toBe('184,000 records');
  });

  it('a lane tells in words what was more than usual', () => {
    const of = (name: string) => subjectBoards.user.lanes.find((lane) => lane.name === name) as never;
    const mark = (time: number, ...tells: string[]) => ({
      time,
      through: true,
      events: 1,
      records: 0,
      tells,
    });
    const acted = [mark(200, 'adm-penhale'), mark(100, 'ottilie.brandt', 'ottilie.brandt')];
    expect(laneRemark(of('acting'), acted, 0)).toEqual({
      after: 200,
      before: 100,
      text: 'ottilie.brandt, adm-penhale',
      names: true,
    });
    expect(laneRemark(of('acting'), acted, 2)).toBeNull();
    expect(laneRemark(of('programs'), [mark(1, 'limited'), mark(2, 'full')], 0)?.text).toBe(
      'limited, then full rights',
    );
    // Rights that never change say nothing; what was refused still does.
    const alike = [mark(1, 'default'), mark(2, 'default')];
    expect(laneRemark(of('programs'), alike, 0)).toBeNull();
    const refused = { ...mark(3, 'default'), through: false, events: 9 };
    expect(laneRemark(of('programs'), [...alike, refused], 0)?.text).toBe('9 refused');
    const many = ['a', 'b', 'c', 'd', 'e'].map((name, i) => mark(i, name));
    expect(laneRemark(of('acting'), many, 0)?.text).toBe('a, b, c and 2 more');
    // What a stranger may have written is made visible, and ends.
    const long = laneRemark(of('acting'), [mark(1, `\u202e${'x'.repeat(300)}`)], 0)?.text ?? '';
    expect(long).not.toContain('\u202e');
    expect(long.length).toBeLessThan(50);
  });

  it('what is written on a lane crosses no mark', () => {
    const at = (marks: number[], own: number) =>
      placeOfRemark(marks, { after: own, before: own, width: 80 }, [0, 400]);
    expect(at([100], 100)).toEqual({ x: 108, textAnchor: 'start' });
    expect(at([100, 130, 150], 100)).toEqual({ x: 158, textAnchor: 'start' });
    expect(at([100, 380], 380)).toEqual({ x: 372, textAnchor: 'end' });
    expect(at([100, 350, 380], 380)).toEqual({ x: 342, textAnchor: 'end' });
    // Nearer before than behind.
    expect(at([150, 170, 240, 300], 170)).toEqual({ x: 142, textAnchor: 'end' });
    const crowded = Array.from({ length: 40 }, (_, i) => i * 10);
    expect(at(crowded, 200)).toBeNull();
  });

  it('alerts near each other share a fan', () => {
    const alerts = ['07:00', '07:05', '09:00'].map((time) => ({ lastEvent: `2026-11-28T${time}:00Z` }));
    expect(gatherAlerts(alerts, 600_000).map((group) => group.alerts.length)).toEqual([2, 1]);
  });

  it('usual hours are bands by the clock of the zone', () => {
    const [from, to] = [Date.parse('2026-11-28T06:30:00Z'), Date.parse('2026-11-28T12:00:00Z')];
    const bands = usualBands([8, 9, 11], { from, to }, 'Europe/Oslo');
    const hour = (time: number): string => new Date(time).toISOString().slice(11, 16);
    expect(bands.map(([begin, end]) => `${hour(begin)}-${hour(end)}`)).toEqual([
      '07:00-09:00',
      '10:00-11:00',
    ]);
  });
});
