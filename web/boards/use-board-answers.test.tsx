import { act, renderHook, waitFor } from '@testing-library/react';
import type { Board } from '../../core/boards/board.js';
import type { Beam } from '../beam/beam.js';
import { fakeApi, lines } from '../tests/page.js';
import { useBoardAnswers } from './use-board-answers.js';

const board: Board = {
  title: 'Wall',
  about: '',
  cards: [{ id: 'n', title: 'Seen', hunt: 'from signin\ntally count() as n', picture: { kind: 'number' } }],
  layout: [{ card: 'n', x: 0, y: 0, w: 4, h: 3 }],
};
const beam = {
  last: '24h',
  zone: 'Europe/Lisbon',
  carried: [],
  window: { from: 0, to: 1 },
} as unknown as Beam;
const inputs = {};
const done = { piece: 'done', cards: 1, failed: 0, milliseconds: 1 };
/** Whether each asking was for counting anew. */
const freshOf = (asked: readonly { body: unknown }[]): boolean[] =>
  asked.map(({ body }) => (body as { fresh?: boolean }).fresh === true);

it('what is counted anew is what is asked at that moment or later, and only once', async () => {
  const api = fakeApi({ 'POST /boards/answers': () => lines(done) });
  const { result, rerender } = renderHook(({ asked }) => useBoardAnswers(board, 'b1', beam, inputs, asked), {
    initialProps: { asked: 100 },
  });
  await waitFor(() => expect(result.current.done).not.toBeNull());
  // Somebody asks for it while what was asked before is only being drawn.
  act(() => result.current.beFresh(300));
  rerender({ asked: 200 });
  await waitFor(() => expect(api.asked).toHaveLength(2));
  rerender({ asked: 300 });
  await waitFor(() => expect(api.asked).toHaveLength(3));
  rerender({ asked: 400 });
  await waitFor(() => expect(api.asked).toHaveLength(4));
  expect(freshOf(api.asked)).toEqual([false, false, true, false]);
});

it('stopping says so on the cards that were waiting, and what comes late is not shown', async () => {
  let give = (): void => undefined;
  const late = new Promise<unknown>((resolve) => {
    give = () => resolve(lines(done));
  });
  fakeApi({ 'POST /boards/answers': () => late });
  const { result } = renderHook(() => useBoardAnswers(board, 'b1', beam, inputs, 100));
  await waitFor(() => expect(result.current.running).toBe(true));
  expect(result.current.isAsking()).toBe(true);
  act(() => result.current.stop());
  expect(result.current.cards.get('n')?.status).toBe('stopped');
  expect(result.current.isAsking()).toBe(false);
  await act(async () => {
    give();
    await late;
  });
  expect(result.current.done).toBeNull();
});

it('a change of what one card asks asks for that card alone; its title asks for nothing', async () => {
  const api = fakeApi({ 'POST /boards/answers': () => lines(done) });
  const two: Board = {
    ...board,
    cards: [...board.cards, { id: 'm', title: 'More', hunt: 'from signin\nfirst 5' }],
  };
  const { rerender, result } = renderHook(({ of }) => useBoardAnswers(of, null, beam, inputs, 100, false), {
    initialProps: { of: two },
  });
  await waitFor(() => expect(result.current.done).not.toBeNull());
  rerender({ of: { ...two, cards: two.cards.map((card) => ({ ...card, title: 'Another' })) } });
  expect(api.asked).toHaveLength(1);
  rerender({
    of: {
      ...two,
      cards: two.cards.map((card) => (card.id === 'm' ? { ...card, hunt: 'from signin\nfirst 6' } : card)),
    },
  });
  await waitFor(() => expect(api.asked).toHaveLength(2));
  expect((api.asked[1]?.body as { cards?: string[] }).cards).toEqual(['m']);
});

it('a server that refuses is told in its own words', async () => {
  fakeApi({});
  const { result } = renderHook(() => useBoardAnswers(board, 'b1', beam, inputs, 100));
  await waitFor(() => expect(result.current.problem?.detail).toContain('was not expected'));
});
