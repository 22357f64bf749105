import { renderHook } from '@testing-library/react';
import { useOwnRefresh } from './use-own-refresh.js';

beforeEach(() => void jest.useFakeTimers());
afterEach(() => void jest.useRealTimers());

it('asks again after each pause, but not while an answer is under way, nor where it does not follow', () => {
  let asking = false;
  const ask = jest.fn();
  const { rerender, unmount } = renderHook(({ follows }) => useOwnRefresh(follows, 1000, () => asking, ask), {
    initialProps: { follows: true },
  });
  jest.advanceTimersByTime(1000);
  expect(ask).toHaveBeenCalledTimes(1);
  asking = true;
  jest.advanceTimersByTime(5000);
  expect(ask).toHaveBeenCalledTimes(1);
  asking = false;
  jest.advanceTimersByTime(1000);
  expect(ask).toHaveBeenCalledTimes(2);
  rerender({ follows: false });
  jest.advanceTimersByTime(5000);
  unmount();
  expect(ask).toHaveBeenCalledTimes(2);
});
