import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import { useRef, type JSX } from 'react';
import { useBelow } from './use-below.js';

const tops: Record<string, number> = { New: 10, Rights: 480, Programs: 520, Findings: 900 };
beforeEach(() => {
  jest.spyOn(Element.prototype, 'getBoundingClientRect').mockImplementation(function (this: Element) {
    const top = tops[this.getAttribute('aria-label') ?? ''] ?? 0;
    return { top, bottom: this.id === 'scroller' ? 500 : top + 100 } as DOMRect;
  });
});
afterEach(() => jest.restoreAllMocks());

function Page({ changes }: { changes: number }): JSX.Element {
  const scroller = useRef<HTMLDivElement>(null);
  const below = useBelow(scroller, changes);
  return (
    <>
      <div id="scroller" ref={scroller} data-testid="scroller">
        {Object.keys(tops).map((name) => (
          <article key={name} className="board-card" aria-label={name} />
        ))}
      </div>
      <output>{below.join(', ')}</output>
    </>
  );
}

it('names the cards whose heads lie below the edge, anew as it is scrolled or as cards move', async () => {
  const { rerender } = render(<Page changes={1} />);
  const said = (): string => screen.getByRole('status').textContent;
  await waitFor(() => expect(said()).toBe('Rights, Programs, Findings'));
  Object.assign(tops, { Rights: 200, Programs: 300 });
  fireEvent.scroll(screen.getByTestId('scroller'));
  expect(said()).toBe('Findings');
  Object.assign(tops, { Findings: 400 });
  rerender(<Page changes={2} />);
  await waitFor(() => expect(said()).toBe(''));
});
