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
      onPick={() => undefined}
      onClose={() => undefined}
      also={[]}
      onRead={() => undefined}
      onNext={() => undefined}
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
      onPick={() => undefined}
      onClose={() => undefined}
      also={[
        { name: 'this event', id, time: event.time },
        { name: 'from', id: '2'.repeat(32), time: event.time },
      ]}
      onRead={(next) => read.push(next)}
      onNext={(way) => read.push(String(way))}
    />,
  );
  fireEvent.click(await screen.findByRole('button', { name: 'from' }));
  fireEvent.keyDown(window, { key: 'j' });
  fireEvent.keyDown(window, { key: 'k' });
  expect(read).toEqual(['2'.repeat(32), '1', '-1']);
});

it('shows codes in words, what was changed before and after, and a field of the source to keep', async () => {
  const steps: unknown[] = [];
  fakeApi({
    [`GET /events/${id}`]: {
      ...event,
      status_code: '403',
      explained: { status_code: 'not allowed' },
      changes: [{ field: 'owner', before: 'runa.keel', after: '0ttilie.brandt' }],
    },
  });
  show(
    <ReadingPanel
      id={id}
      zone="UTC"
      search=""
      onStep={(action, picked) => steps.push([action, picked.column.name, picked.value])}
      onPick={() => undefined}
      onClose={() => undefined}
      also={[]}
      onRead={() => undefined}
      onNext={() => undefined}
    />,
  );
  expect(await screen.findByText(': not allowed')).toBeTruthy();
  expect(screen.getByRole('cell', { name: 'runa.keel' })).toBeTruthy();
  expect(screen.getByRole('cell', { name: '0ttilie.brandt' })).toBeTruthy();
  expect(screen.getByText('3 fields, as the source wrote them')).toBeTruthy();
  fireEvent.change(screen.getByLabelText('Find in original fields'), { target: { value: 'tries' } });
  expect(screen.queryByText('login')).toBeNull();
  const [leaf] = document.querySelectorAll('.original-fields .leaf');
  fireEvent.click(leaf?.querySelector('button') as Element);
  expect(steps).toEqual([['keep', 'original.tries.0', 1]]);
});
