import { act, fireEvent, render, screen } from '@testing-library/react';
import { StrictMode } from 'react';
import { ago, count, shortened, showTime, span } from './format.js';
import { Outcome, Severity } from './Glyphs.js';
import { Tabs } from './Tabs.js';
import { roundTop, Timeline, type Brush } from './Timeline.js';
import { timeTicks } from './time-ticks.js';
import { useKeys } from './use-keys.js';

it('a text that is too long ends in a sign that says so, and no character is torn', () => {
  expect(shortened('quay-tk-07', 10)).toBe('quay-tk-07');
  expect(shortened('quay-tk-071', 10)).toBe('quay-tk-0…');
  expect(shortened('⚓⛴️🛳🛳🛳🛳', 4)).not.toMatch(/[\ud800-\udbff]…$/);
  expect(shortened('abc', 1)).toBe('a…');
});

describe('marks of a time axis', () => {
  const labels = (from: string, to: string, zone: string, most = 7): string[] =>
    timeTicks(Date.parse(from), Date.parse(to), zone, most).map((tick) => tick.label);
  it('stand at round times of the zone, midnight as its day', () => {
    expect(labels('2026-11-14T06:00:00Z', '2026-11-14T09:00:00Z', 'UTC')).toEqual([
      '06:00',
      '06:30',
      '07:00',
      '07:30',
      '08:00',
      '08:30',
      '09:00',
    ]);
    expect(labels('2026-11-13T15:57:00Z', '2026-11-14T15:57:00Z', 'Asia/Kolkata')).toEqual([
      '14 Nov',
      '06:00',
      '12:00',
      '18:00',
    ]);
    expect(labels('2026-11-01T00:00:00Z', '2026-11-30T00:00:00Z', 'UTC', 5)).toEqual([
      '1 Nov',
      '8 Nov',
      '15 Nov',
      '22 Nov',
      '29 Nov',
    ]);
  });
  it('keep to the clock where it is put back', () => {
    expect(labels('2026-10-24T22:00:00Z', '2026-10-25T22:00:00Z', 'Europe/Oslo')).toContain('25 Oct');
    expect(labels('2026-10-25T22:00:00Z', '2026-10-25T22:00:00Z', 'Europe/Oslo')).toEqual([]);
  });
});

it('numbers and times are spelled in one way', () => {
  expect([count(1234567), count(0)]).toEqual(['1,234,567', '0']);
  expect(showTime('2026-11-14T08:03:12.718123Z', 'Europe/Oslo', 'log')).toBe('2026-11-14 09:03:12.718');
  expect(showTime('not a time', 'UTC', 'log')).toBe('not a time');
  expect([
    ago('2026-11-14T08:00:00Z', Date.parse('2026-11-14T08:00:40Z')),
    ago('2026-11-14T08:00:00Z', Date.parse('2026-11-14T11:12:00Z')),
    ago('2026-11-14T08:00:00Z', Date.parse('2026-11-20T08:00:00Z')),
  ]).toEqual(['40 s', '3 h 12 min', '6 d']);
  expect([span(10_800), span(90), span(604_800)]).toEqual(['3 h', '90 s', '1 w']);
  expect([0, 5, 37, 410, 999].map(roundTop)).toEqual([4, 5, 40, 500, 1000]);
});

it('severity and outcome carry their word for whoever cannot see the shape', () => {
  const { container } = render(
    <>
      <Severity level="high" />
      <Outcome outcome="failure" text="session.start" />
    </>,
  );
  expect(container.textContent).toBe('Highsession.start, failure');
  expect(container.querySelectorAll('.severity path')).toHaveLength(4);
  expect(container.querySelectorAll('.severity circle')).toHaveLength(2);
});

describe('the timeline', () => {
  const hour = 3_600_000;
  function draw(brush: Brush | null): { drawn: HTMLElement; onBrush: jest.Mock } {
    const onBrush = jest.fn();
    const { container } = render(
      <Timeline
        from={0}
        to={10 * hour}
        width={hour}
        zone="UTC"
        brush={brush}
        onBrush={onBrush}
        parts={[
          { name: 'success', colour: 'a', pale: true },
          { name: 'failure', colour: 'b', pale: false },
        ]}
        bars={[
          { start: 0, parts: { success: 3, failure: 1 } },
          { start: 2 * hour, parts: { failure: 8 } },
        ]}
      />,
    );
    return { drawn: container, onBrush };
  }

  it('stacks the parts of a bar on one scale', () => {
    const { drawn } = draw(null);
    const heights = [...drawn.querySelectorAll('g rect')].map((rect) => Number(rect.getAttribute('height')));
    expect(heights.map(Math.round)).toEqual([30, 10, 80]);
    expect(screen.getByRole('img').getAttribute('aria-label')).toContain('12 events over time');
  });

  it('is brushed by keyboard, in whole bars and within its ends', () => {
    const { drawn, onBrush } = draw({ from: 8 * hour, to: 9 * hour });
    const svg = drawn.querySelector('svg');
    if (svg === null) throw new Error('There is a drawing.');
    fireEvent.keyDown(svg, { key: 'ArrowRight' });
    expect(onBrush).toHaveBeenLastCalledWith({ from: 9 * hour, to: 10 * hour });
    fireEvent.keyDown(svg, { key: 'ArrowLeft', shiftKey: true });
    expect(onBrush).toHaveBeenLastCalledWith({ from: 8 * hour, to: 9 * hour });
    fireEvent.keyDown(svg, { key: 'Escape' });
    expect(onBrush).toHaveBeenLastCalledWith(null);
  });
});

describe('keys', () => {
  function Keyed({ act: pressed }: { act: (key: string) => void }) {
    useKeys({ j: () => pressed('j'), 'g h': () => pressed('g h'), h: () => pressed('h') });
    return <input aria-label="field" />;
  }
  it('work alone and in pairs, and not while one types', () => {
    const pressed = jest.fn();
    render(
      <StrictMode>
        <Keyed act={pressed} />
      </StrictMode>,
    );
    const press = (key: string, target: Element | Window = window): void =>
      act(() => void fireEvent.keyDown(target, { key }));
    press('j');
    press('g');
    press('h');
    press('h');
    press('j', screen.getByLabelText('field'));
    act(() => void fireEvent.keyDown(window, { key: 'j', ctrlKey: true }));
    expect(pressed.mock.calls.map(([key]) => key as string)).toEqual(['j', 'g h', 'h']);
  });
});

describe('tabs', () => {
  it('are chosen by click, and walked by left and right around the ends', () => {
    const asked: string[] = [];
    const names = ['one', 'two', 'three'] as const;
    render(
      <Tabs
        label="Numbers"
        names={names}
        chosen="one"
        onChoose={(name) => asked.push(name)}
        show={(name) => name.toUpperCase()}
      />,
    );
    expect(screen.getByRole('tab', { name: 'ONE' }).getAttribute('aria-selected')).toBe('true');
    fireEvent.click(screen.getByRole('tab', { name: 'THREE' }));
    const list = screen.getByRole('tablist', { name: 'Numbers' });
    fireEvent.keyDown(list, { key: 'ArrowRight' });
    expect(document.activeElement).toBe(screen.getByRole('tab', { name: 'TWO' }));
    fireEvent.keyDown(list, { key: 'ArrowLeft' });
    fireEvent.keyDown(list, { key: 'j' });
    expect(asked).toEqual(['three', 'two', 'three']);
  });
});
