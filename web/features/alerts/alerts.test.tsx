import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { alert, dossierOf } from '../../tests/examples.js';
import { findBy, fakeApi, refuse, show } from '../../tests/page.js';
import { AlertsPage } from './AlertsPage.js';

const first = alert();
const second = alert({
  id: 2,
  title: 'Travel nobody can make',
  subject: `user ${'x'.repeat(300)}`,
  subjectFields: { user: 'x'.repeat(300) },
  state: 'looking',
  owner: 'joris.penhale',
});
const answers = {
  'GET /alerts': {
    alerts: [
      { ...first, spark: [1, 0, 3] },
      { ...second, spark: [] },
    ],
    found: 2,
    unread: 1,
  },
  'GET /alerts/1': first,
  'GET /alerts/2': second,
};
const page = { at: '/alerts?last=7d&zone=UTC', pattern: '/alerts/:id?' };
const press = (key: string): boolean => fireEvent.keyDown(document.body, { key });
const address = (): string => screen.getByTestId('address').textContent ?? '';
/** The sheet beside the queue, once it shows an alert. */
const reader = async (title: string): Promise<HTMLElement> => {
  const heading = await screen.findByRole('heading', { name: title });
  return heading.closest('section') ?? heading;
};

describe('the queue', () => {
  it('says how many wait, with whom each is, and opens the gravest', async () => {
    fakeApi(answers);
    show(<AlertsPage />, page);
    expect(await screen.findByText('2 open, 1 unread')).toBeTruthy();
    expect(screen.getByText('with joris.penhale')).toBeTruthy();
    expect(within(await reader(first.title)).getByText(/31 matches from/)).toBeTruthy();
  });

  it('is walked by J and K, and stops at its ends', async () => {
    fakeApi(answers);
    show(<AlertsPage />, page);
    await reader(first.title);
    press('k');
    expect(address()).toBe('/alerts?last=7d&zone=UTC');
    press('j');
    await reader(second.title);
    expect(address()).toBe('/alerts/2?last=7d&zone=UTC');
    press('j');
    expect(address()).toBe('/alerts/2?last=7d&zone=UTC');
    press('K');
    await reader(first.title);
  });

  it.each([
    ['t', { state: 'looking' }],
    ['u', { state: 'unread' }],
  ])('the key %s asks for %j', async (key, to) => {
    const api = fakeApi({ ...answers, 'PATCH /alerts/1': first });
    show(<AlertsPage />, page);
    await reader(first.title);
    press(key);
    await waitFor(() => expect(api.changes()).toEqual([{ method: 'PATCH', path: '/alerts/1', body: to }]));
  });

  it.each([
    ['r', 'as real. Why?', '', { state: 'settled', verdict: 'real' }],
    ['h', 'as harmless. Why?', 'a test', { state: 'settled', verdict: 'harmless', reason: 'a test' }],
    ['w', 'as wrong. Why?', '', { state: 'settled', verdict: 'wrong' }],
    ['o', 'Hand the alert over to', 'ines.vaal', { owner: 'ines.vaal' }],
    ['n', 'Note', 'asked him', { note: 'asked him' }],
  ])('the key %s asks for a word more, and Enter does it', async (key, label, word, to) => {
    const api = fakeApi({
      ...answers,
      'PATCH /alerts/1': first,
      'GET /alerts/people': { people: ['ines.vaal'] },
    });
    show(<AlertsPage />, page);
    await reader(first.title);
    press(key);
    const field = await screen.findByLabelText(new RegExp(label.replace('?', '\\?')), { selector: 'input' });
    fireEvent.change(field, { target: { value: word } });
    fireEvent.submit(field.closest('form') ?? field);
    await waitFor(() => expect(api.changes()).toEqual([{ method: 'PATCH', path: '/alerts/1', body: to }]));
  });

  it('several are chosen and changed alike, or merged into the open one', async () => {
    const api = fakeApi({
      ...answers,
      'PATCH /alerts': { changed: [1], refused: [{ id: 2, why: 'Alert 7 about the same is open.' }] },
      'POST /alerts/merge': first,
    });
    show(<AlertsPage />, page);
    await reader(first.title);
    fireEvent.click(screen.getByLabelText('Choose all that are shown'));
    expect(screen.getByText('2 chosen')).toBeTruthy();
    press('t');
    expect(await screen.findByText(/Alert 2: Alert 7 about the same is open/)).toBeTruthy();
    for (const box of screen.getAllByLabelText(/^Choose (Many|Travel)/)) fireEvent.click(box);
    press('m');
    await waitFor(() =>
      expect(api.changes()).toEqual([
        { method: 'PATCH', path: '/alerts', body: { ids: [1, 2], change: { state: 'looking' } } },
        { method: 'POST', path: '/alerts/merge', body: { ids: [2], into: 1 } },
      ]),
    );
  });

  it('filters stand in the address', async () => {
    const api = fakeApi(answers);
    show(<AlertsPage />, page);
    await reader(first.title);
    fireEvent.change(screen.getByLabelText('Severity'), { target: { value: 'critical' } });
    findBy('Find an alert', 'teo');
    await waitFor(() => expect(address()).toContain('level=critical&find=teo'));
    expect(await screen.findByText(/open; in all 1 unread/)).toBeTruthy();
    await waitFor(() =>
      expect(api.asked.some(({ path }) => path === '/alerts?state=open&level=critical&find=teo')).toBe(true),
    );
  });

  it('where nothing waits it leads to the rules', async () => {
    fakeApi({ ...answers, 'GET /alerts?state=open': { alerts: [], found: 0, unread: 0 } });
    show(<AlertsPage />, page);
    expect((await screen.findByRole('link', { name: 'See the rules' })).getAttribute('href')).toContain(
      '/rules',
    );
    expect(screen.getByText('There is none in the queue to choose.')).toBeTruthy();
  });

  it('a refused change is told beside the alert', async () => {
    fakeApi({ ...answers, 'PATCH /alerts/1': refuse(409, 'Joris Penhale has taken it meanwhile.') });
    show(<AlertsPage />, page);
    fireEvent.click(within(await reader(first.title)).getByRole('button', { name: /Take it/ }));
    expect(await screen.findByText('Joris Penhale has taken it meanwhile.')).toBeTruthy();
  });

  it('readers see everything and change nothing, by key neither', async () => {
    const api = fakeApi(answers);
    show(<AlertsPage />, { ...page, role: 'reader' });
    const sheet = await reader(first.title);
    expect(within(sheet).queryByRole('button', { name: /Settle|Take/ })).toBeNull();
    for (const key of ['t', 'r', 'h', 'w', 'u', 'o', 'm', 'c']) press(key);
    expect(api.changes()).toEqual([]);
  });

  it('settled ones are a tab of their own, which says so when it is empty', async () => {
    const api = fakeApi({ ...answers, 'GET /alerts?state=settled': { alerts: [], unread: 1 } });
    show(<AlertsPage />, page);
    fireEvent.click(await screen.findByRole('tab', { name: 'Settled' }));
    expect(await screen.findByText('Nothing is settled yet')).toBeTruthy();
    expect(address()).toContain('state=settled');
    expect(api.asked.some(({ path }) => path === '/alerts?state=settled')).toBe(true);
  });
});

describe('one alert', () => {
  it('leads to its rule, the dossier, a hunt for its subject around its time, and each event', async () => {
    const id = 'e'.repeat(32);
    const rich = alert({
      evidence: [
        {
          id,
          time: '2026-11-14T06:41:00Z',
          received: '2026-11-14T06:41:01Z',
          source: 'harbour-id',
          kind: 'signin',
          operation: 'session.start',
          outcome: 'failure',
          user: 'teo.marrash',
          original: {},
          raw: '<b>raw</b>',
        },
      ],
      evidenceTotal: 31,
      changes: [{ at: '2026-11-14T07:00:00Z', who: 'ottilie.brandt', what: 'took it' }],
      why: [{ event: id, document: 'Failed', field: 'reason', value: 'wrong password', says: 'is there' }],
      similar: [
        {
          id: 9,
          title: 'Before',
          subject: 'teo.marrash',
          verdict: 'harmless',
          reason: 'a new telephone',
          owner: null,
          lastEvent: '2026-11-10T07:00:00Z',
        },
      ],
      deliveries: [
        {
          id: 3,
          does: 'a mail to desk',
          state: 'dead',
          tries: 10,
          said: 'It answers 503.',
          created: '2026-11-14T06:47:00Z',
          finished: null,
        },
      ],
      responses: [
        {
          id: 4,
          does: 'force-password-change',
          label: 'Force a password change',
          subject: 'teo.marrash',
          state: 'asked',
          askedBy: 'joris.penhale',
          asked: '2026-11-14T06:50:00Z',
          decidedBy: null,
          reason: null,
          said: null,
          ends: null,
          undo: null,
        },
      ],
    });
    const api = fakeApi({
      ...answers,
      'GET /alerts/1': rich,
      'POST /alerts/1/responses/4': {},
      'GET /dossiers/user/teo.marrash': dossierOf('user', 'teo.marrash'),
    });
    show(<AlertsPage />, page);
    const sheet = await reader(first.title);
    await within(sheet).findByText(/41 failed sign-ins/);
    const link = (name: string | RegExp): URL =>
      new URL(within(sheet).getByRole('link', { name }).getAttribute('href') ?? '', 'http://here');
    expect(link('Open the rule').pathname).toBe(`/rules/${first.rule}`);
    expect(link('Open dossier').pathname).toBe('/dossier/user/teo.marrash');
    const hunt = link('Follow in a hunt').searchParams;
    expect(Object.fromEntries(hunt)).toEqual({
      zone: 'UTC',
      from: '2026-11-14T06:26:00.000Z',
      to: '2026-11-14T07:02:00.000Z',
      q: "from all\nwhere user = 'teo.marrash'",
    });
    const event = link(/06:41:00/).searchParams;
    expect([event.get('event'), event.get('from'), event.get('to')]).toEqual([
      id,
      '2026-11-14T06:40:00.000Z',
      '2026-11-14T06:42:00.000Z',
    ]);
    expect(within(sheet).getByText('the latest 1 of 31 events')).toBeTruthy();
    expect(within(sheet).getByText('wrong password').tagName).toBe('MARK');
    expect(within(sheet).getByText('harmless')).toBeTruthy();
    expect(within(sheet).getByText(/given up/)).toBeTruthy();
    fireEvent.click(within(sheet).getByRole('button', { name: 'Approve' }));
    await waitFor(() =>
      expect(api.changes()).toEqual([
        { method: 'POST', path: '/alerts/1/responses/4', body: { approve: true } },
      ]),
    );
    expect(within(sheet).getByText('took it')).toBeTruthy();
  });

  it('that is not there is told', async () => {
    fakeApi({ ...answers, 'GET /alerts/9': refuse(404, 'There is no alert 9.') });
    show(<AlertsPage />, { ...page, at: '/alerts/9' });
    expect(await screen.findByText('There is no alert 9.')).toBeTruthy();
  });
});
