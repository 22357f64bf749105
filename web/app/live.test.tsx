import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render } from '@testing-library/react';
import type { JSX } from 'react';
import { MAX_TOLD_ALERTS } from '../../core/wire/alerts.js';
import { listAlerts, readAlert } from '../../core/wire/endpoints/alerts.js';
import { listRules, readRule } from '../../core/wire/endpoints/rules.js';
import { answerTo } from '../api/call.js';
import type { LiveNews } from './live-stream.js';
import { useLive } from './live.js';

let tell: (news: LiveNews) => void = () => undefined;
jest.mock('./live-stream.js', () => ({
  listenLive: (listener: (news: LiveNews) => void) => {
    tell = listener;
    return () => undefined;
  },
}));

function Page(): JSX.Element | null {
  useLive();
  return null;
}

const RULE = '5a6f0a52-6d6c-4d5e-9d3c-0f7f2b1c8e11';
const kept = {
  queue: answerTo(listAlerts, { query: { state: 'open' } }).queryKey,
  four: answerTo(readAlert, { params: { id: 4 } }).queryKey,
  five: answerTo(readAlert, { params: { id: 5 } }).queryKey,
  rules: answerTo(listRules).queryKey,
  rule: answerTo(readRule, { params: { id: RULE } }).queryKey,
};

/** Which of the answers that are kept are asked anew after some news. */
function askedAnew(news: LiveNews): string[] {
  const client = new QueryClient();
  for (const queryKey of Object.values(kept)) client.setQueryData<unknown>(queryKey, {});
  render(
    <QueryClientProvider client={client}>
      <Page />
    </QueryClientProvider>,
  );
  tell(news);
  return Object.entries(kept).flatMap(([name, queryKey]) =>
    client.getQueryState(queryKey)?.isInvalidated === true ? [name] : [],
  );
}

test('an alert that came refreshes the queue, itself and the counts of rules, and nothing else', () => {
  expect(askedAnew({ topic: 'alerts', ids: [4] })).toEqual(['queue', 'four', 'rules']);
});

test('more alerts than one piece of news can name: any of them may have changed', () => {
  const ids = Array.from({ length: MAX_TOLD_ALERTS }, (_, i) => 1000 + i);
  expect(askedAnew({ topic: 'alerts', ids })).toEqual(['queue', 'four', 'five', 'rules']);
});

test('a stream that begins anew may have missed alerts: all of them are asked again', () => {
  expect(askedAnew({ topic: 'ready' })).toEqual(['queue', 'four', 'five']);
});
