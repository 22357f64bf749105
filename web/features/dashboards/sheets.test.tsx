import { fireEvent, screen, waitFor } from '@testing-library/react';
import fc from 'fast-check';
import type { Board } from '../../../core/boards/board.js';
import { refuse, fakeApi, show } from '../../tests/page.js';
import { DashboardPage } from './DashboardPage.js';
import { cronOf, cronWords, readCron, type ScheduleDays } from './schedule-words.js';

it('days and a time are a cron expression, and back; others stay as they are written', () => {
  const days = fc.constantFrom<Exclude<ScheduleDays, 'cron'>>('daily', 'workdays', 'mondays', 'firsts');
  fc.assert(
    fc.property(
      days,
      fc.integer({ min: 0, max: 23 }),
      fc.integer({ min: 0, max: 59 }),
      (name, hour, minute) => {
        const time = `${String(hour).padStart(2, '0')}:${String(minute).padStart(2, '0')}`;
        expect(readCron(cronOf(name, time))).toEqual({ days: name, time });
      },
    ),
  );
  expect(readCron('*/5 7 * * *').days).toBe('cron');
  expect(readCron('0 7 2 * *').days).toBe('cron');
  expect(cronWords('5 7 * * 1-5')).toBe('Monday to Friday at 07:05');
  expect(cronWords('0 0 * * *')).toBe('every day at 00:00');
  expect(cronWords('0 7 2 * *')).toBe('at the times 0 7 2 * *');
});

const board: Board = { title: 'Nights', cards: [], layout: [] };
const stored = { id: '7', owner: 'admin', shared: 'me', version: 4, changed: '2026-11-28T00:00:00Z', board };
const sheet = {
  id: 3,
  due: '2026-11-28T07:00:00Z',
  version: 4,
  made: '2026-11-28T07:00:02Z',
  cards: 5,
  failed: 1,
  problem: null,
  page: true,
  mailed: [{ to: 'desk', state: 'dead', said: 'The mail was not taken.' }],
};

it('a board is put on a schedule, and what it showed can be opened', async () => {
  const api = fakeApi({
    'GET /boards/7': stored,
    'GET /boards/7/sheets': { next: null, sheets: [] },
    'GET /destinations': { destinations: [] },
    'PUT /boards/7': refuse(400, '"cron" names times that are less than an hour apart.'),
  });
  show(<DashboardPage />, { pattern: '/dashboards/:id', at: '/dashboards/7?sheets=1' });
  expect(await screen.findByText('No sheet yet')).toBeTruthy();
  fireEvent.change(screen.getByLabelText('On'), { target: { value: 'cron' } });
  fireEvent.change(screen.getByLabelText('Cron'), {
    target: { value: '* * * * *' },
  });
  fireEvent.click(screen.getByRole('button', { name: 'Put it on this schedule' }));
  expect((await screen.findAllByText(/less than an hour apart/)).length).toBeGreaterThan(0);
  fireEvent.change(screen.getByLabelText('On'), { target: { value: 'workdays' } });
  fireEvent.change(screen.getByLabelText('At'), { target: { value: '06:30' } });
  fireEvent.change(screen.getByLabelText('Time zone'), { target: { value: 'Europe/Lisbon' } });
  fireEvent.change(screen.getByLabelText('Mailed to'), { target: { value: 'desk, desk; night' } });
  api.answer('PUT /boards/7', (body: { board: Board }) => {
    const next = { ...stored, version: 5, board: body.board };
    api.answer('GET /boards/7', next);
    return next;
  });
  api.answer('GET /boards/7/sheets', { next: '2026-11-30T06:30:00Z', sheets: [sheet] });
  fireEvent.click(screen.getByRole('button', { name: 'Put it on this schedule' }));
  await waitFor(() =>
    expect(api.changes().at(-1)?.body).toMatchObject({
      basedOn: 4,
      board: {
        schedule: { cron: '30 6 * * 1-5', zone: 'Europe/Lisbon', last: '24h', mail: ['desk', 'night'] },
      },
    }),
  );
  expect(await screen.findByText(/Answered Monday to Friday at 06:30 Europe\/Lisbon/)).toBeTruthy();
  const link = await screen.findByRole('link', { name: /28 Nov/ });
  expect(link.getAttribute('href')).toBe('/api/v1/boards/7/sheets/3');
  expect(screen.getByText(/5 cards, 1 could not be counted/)).toBeTruthy();
  expect(screen.getByText(/mail to desk was given up: The mail was not taken/)).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: 'Take it off its schedule' }));
  await waitFor(() => expect(api.changes().at(-1)?.body).toMatchObject({ board: { title: 'Nights' } }));
  expect((api.changes().at(-1)?.body as { board: Board }).board.schedule).toBeUndefined();
});
