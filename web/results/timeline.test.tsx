import { fireEvent, screen, waitFor } from '@testing-library/react';
import { type JSX, useState } from 'react';
import { fakeApi, refuse, show } from '../tests/page.js';
import type { PickedValue } from './menus/CellMenu.js';
import { HuntTimeline } from './HuntTimeline.js';

const window = { from: '2026-11-28T00:00:00Z', to: '2026-11-29T00:00:00Z' };
const bar = (time: string, split: string | null, count: number, other = false): object => ({
  time,
  split,
  other,
  count,
});
const answers: Record<string, object[]> = {
  outcome: [
    bar('2026-11-28T01:00:00Z', 'failure', 53),
    bar('2026-11-28T01:00:00Z', 'success', 7),
    bar('2026-11-28T02:00:00Z', null, 2),
  ],
  dst_port: [
    bar('2026-11-28T01:00:00Z', '53', 40),
    bar('2026-11-28T01:00:00Z', '443', 20),
    bar('2026-11-28T02:00:00Z', null, 2, true),
  ],
};
const counted = (body: unknown): unknown => {
  const { split } = body as { split: string };
  return { window, seconds: 3600, split, bars: answers[split] ?? [] };
};

/** The timeline with its field in hand, as the page has it. */
function Shown({
  onPick,
  before = false,
}: {
  onPick: (picked: PickedValue) => void;
  before?: boolean;
}): JSX.Element {
  const [split, setSplit] = useState<string | null>(null);
  return (
    <HuntTimeline
      text="from network"
      blanks={{}}
      window={window}
      carried={[]}
      zone="UTC"
      brush={null}
      onBrush={() => undefined}
      split={split}
      onSplit={setSplit}
      before={before}
      onBefore={() => undefined}
      onPick={onPick}
    />
  );
}

const parts = (): string[] =>
  [...document.querySelectorAll('.legend-part')].map((part) => part.textContent.trim());

test('parts are told with what they count, and a part is picked with its field', async () => {
  fakeApi({ 'POST /hunts/timeline': counted });
  const picked: PickedValue[] = [];
  show(<Shown onPick={(one) => picked.push(one)} />);
  await waitFor(() => expect(parts()).toHaveLength(3));
  expect(parts()[0]).toContain('7');
  fireEvent.click(screen.getByTitle('outcome: failure'));
  fireEvent.click(screen.getByTitle('outcome: no value'));
  expect(picked.map(({ column, value }) => [column.name, value])).toEqual([
    ['outcome', 'failure'],
    ['outcome', null],
  ]);
});

test('while another field is counted, the parts are still those of the one before', async () => {
  let answer: (value: unknown) => void = () => undefined;
  fakeApi({
    'POST /hunts/timeline': (body: { split: string }) =>
      body.split === 'outcome'
        ? counted(body)
        : new Promise((done) => {
            answer = () => done(counted(body));
          }),
  });
  const picked: PickedValue[] = [];
  show(<Shown onPick={(one) => picked.push(one)} />);
  await waitFor(() => expect(parts()).toHaveLength(3));
  fireEvent.change(screen.getByLabelText('Split the bars by'), { target: { value: 'dst_port' } });
  // A port would be no number here: what is picked is an outcome.
  fireEvent.click(screen.getByTitle('outcome: failure'));
  expect(picked.at(-1)).toMatchObject({ column: { name: 'outcome', type: 'text' }, value: 'failure' });
  answer(undefined);
  fireEvent.click(await screen.findByTitle('dst_port: 53'));
  expect(picked.at(-1)).toMatchObject({ column: { name: 'dst_port', type: 'number' }, value: 53 });
  expect(parts()).toEqual(['53 40', '443 20', 'others 2']);
  expect(screen.getByTitle<HTMLButtonElement>('Lighter values, put together').disabled).toBe(true);
});

test('a field of the hunt that is none of the usual ones may split the bars, too', async () => {
  const api = fakeApi({ 'POST /hunts/timeline': counted });
  function Fixed(): JSX.Element {
    return (
      <HuntTimeline
        text="from web"
        blanks={{ who: 'teo.marrash' }}
        window={window}
        carried={["user = 'x'"]}
        zone="UTC"
        brush={null}
        onBrush={() => undefined}
        split="status_code"
        onSplit={() => undefined}
        before
        onBefore={() => undefined}
        onPick={() => undefined}
      />
    );
  }
  show(<Fixed />);
  expect(screen.getByRole('option', { name: 'status_code' })).toBeTruthy();
  await waitFor(() => expect(api.asked).toHaveLength(2));
  expect(api.asked.map(({ body }) => body)).toMatchObject([
    { split: 'status_code', window, parameters: { who: 'teo.marrash' }, carried: ["user = 'x'"] },
    { split: 'outcome', window: { from: '2026-11-27T00:00:00.000Z', to: '2026-11-28T00:00:00.000Z' } },
  ]);
});

test('a hunt that cannot be counted leaves the bars empty', async () => {
  const api = fakeApi({ 'POST /hunts/timeline': refuse(422, 'No such column.') });
  show(<Shown onPick={() => undefined} />);
  await waitFor(() => expect(api.asked).toHaveLength(1));
  expect(parts()).toEqual([]);
});
