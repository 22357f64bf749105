import { screen, within } from '@testing-library/react';
import type { Job } from '../../../core/wire/jobs.js';
import { fakeApi, refuse, show } from '../../tests/page.js';
import { ClockPage } from './ClockPage.js';

const job = (more: Partial<Job> = {}): Job => ({
  name: 'pulls',
  title: 'Ask the addresses that are pulled',
  pause: 1,
  runningSince: null,
  lastEnded: '2026-11-14T08:00:00Z',
  nextDue: '2026-11-14T08:00:01Z',
  failure: null,
  failed: null,
  ...more,
});
const rowOf = (title: string): HTMLElement => {
  const row = screen.getByText(title).closest('tr');
  if (row === null) throw new Error(`"${title}" stands in no row.`);
  return row;
};

it('tells what waits, what runs, and what failed and why', async () => {
  fakeApi({
    'GET /jobs': {
      jobs: [
        job(),
        job({ name: 'rereads', title: 'Read again', pause: 900, runningSince: '2026-11-14T08:01:00Z' }),
        job({
          name: 'outbox',
          title: 'Hand over',
          pause: 7200,
          failure: 'The relay refuses.',
          failed: '2026-11-14T08:00:00Z',
        }),
      ],
    },
  });
  show(<ClockPage />);
  await screen.findByText('Read again');
  expect(within(rowOf('Ask the addresses that are pulled')).getByText('waits')).toBeTruthy();
  expect(within(rowOf('Ask the addresses that are pulled')).getByText('every 1 s')).toBeTruthy();
  expect(within(rowOf('Read again')).getByText('runs')).toBeTruthy();
  expect(within(rowOf('Read again')).getByText('every 15 min')).toBeTruthy();
  expect(within(rowOf('Read again')).getByText(/^since /)).toBeTruthy();
  expect(within(rowOf('Hand over')).getByText('failed')).toBeTruthy();
  expect(within(rowOf('Hand over')).getByText('The relay refuses.')).toBeTruthy();
  expect(screen.getByText('1 failed')).toBeTruthy();
});

it('says so before anything has run, and where it cannot be fetched', async () => {
  fakeApi({ 'GET /jobs': { jobs: [] } });
  const { unmount } = show(<ClockPage />);
  expect(await screen.findByText('Nothing has run yet')).toBeTruthy();
  unmount();
  fakeApi({ 'GET /jobs': refuse(503, 'The database is away for a moment.') });
  show(<ClockPage />);
  expect(await screen.findByText('The database is away for a moment.')).toBeTruthy();
});
