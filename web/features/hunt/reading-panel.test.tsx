import { fireEvent, screen } from '@testing-library/react';
import { fakeApi, show } from '../../tests/page.js';
import { ReadingPanel } from './ReadingPanel.js';

const id = '1'.repeat(32);
const event = {
  id,
  time: '2026-11-14T08:00:00Z',
  received: '2026-11-14T08:00:01Z',
  source: 'harbour-id',
  kind: 'signin',
  operation: 'session.start',
  outcome: 'failure',
  user: "o'hara",
  src_ip: '198.18.40.77',
  original: { actor: { login: "o'hara" }, tries: [1, 2] },
  raw: '{"hostile":"<script>alert(1)</script>"}',
};

it('leads to what else happened then, anywhere and to the same user', async () => {
  fakeApi({ [`GET /events/${id}`]: event });
  show(
    <ReadingPanel
      id={id}
      zone="UTC"
      search="?last=7d&zone=UTC"
      onStep={() => undefined}
      onClose={() => undefined}
      also={[]}
      onRead={() => undefined}
    />,
  );
  const all = await screen.findByRole('link', { name: 'All sources, two minutes around' });
  const address = new URL(all.getAttribute('href') ?? '', 'http://here');
  expect(Object.fromEntries(address.searchParams)).toEqual({
    zone: 'UTC',
    from: '2026-11-14T07:58:00.000Z',
    to: '2026-11-14T08:02:00.000Z',
    q: 'from all\nsort time',
  });
  const own = new URL(
    screen.getByRole('link', { name: 'this user' }).getAttribute('href') ?? '',
    'http://here',
  );
  expect(own.searchParams.get('q')).toBe("from all\nwhere user = 'o''hara'\nsort time");
  expect(screen.queryByRole('link', { name: 'this host' })).toBeNull();
  // What a log says stays text.
  expect(document.querySelector('script')).toBeNull();
});

it('goes between the events that one row opens', async () => {
  fakeApi({ [`GET /events/${id}`]: event });
  const read: string[] = [];
  show(
    <ReadingPanel
      id={id}
      zone="UTC"
      search=""
      onStep={() => undefined}
      onClose={() => undefined}
      also={[
        { name: 'this event', id, time: event.time },
        { name: 'from', id: '2'.repeat(32), time: event.time },
      ]}
      onRead={(next) => read.push(next)}
    />,
  );
  fireEvent.click(await screen.findByRole('button', { name: 'from' }));
  expect(read).toEqual(['2'.repeat(32)]);
});
