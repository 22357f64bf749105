import { useState, type JSX, type KeyboardEvent, type PointerEvent } from 'react';

/** A stretch of time that is brushed, milliseconds. */
export interface Brush {
  readonly from: number;
  readonly to: number;
}

interface BrushArea {
  readonly from: number;
  readonly to: number;
  /** The stretch that the brush snaps to, milliseconds. */
  readonly step: number;
  /** Pixels before the plot, and its width. */
  readonly left: number;
  readonly plot: number;
  readonly brush: Brush | null;
  readonly onBrush: (brush: Brush | null) => void;
}

/** Brushes a stretch of time by pointer, or by Shift and the arrow keys; Escape lets go of it. */
export function useBrush({ from, to, step, left, plot, brush, onBrush }: BrushArea) {
  const [anchor, setAnchor] = useState<number | null>(null);
  const snap = (time: number, up: boolean): number => {
    const steps = (time - from) / step;
    return Math.min(to, Math.max(from, from + (up ? Math.ceil(steps) : Math.floor(steps)) * step));
  };
  const timeAt = (event: PointerEvent): number => {
    const box = event.currentTarget.getBoundingClientRect();
    return from + Math.min(1, Math.max(0, (event.clientX - box.left - left) / plot)) * (to - from);
  };
  const stretch = (a: number, b: number): Brush => ({
    from: snap(Math.min(a, b), false),
    to: snap(Math.max(a, b), true),
  });
  return {
    onPointerDown: (event: PointerEvent<SVGSVGElement>): void => {
      event.currentTarget.setPointerCapture(event.pointerId);
      setAnchor(timeAt(event));
      onBrush(stretch(timeAt(event), timeAt(event) + 1));
    },
    onPointerMove: (event: PointerEvent<SVGSVGElement>): void => {
      if (anchor !== null) onBrush(stretch(anchor, timeAt(event)));
    },
    onPointerUp: (): void => setAnchor(null),
    onKeyDown: (event: KeyboardEvent): void => {
      if (event.key === 'Escape' && brush !== null) {
        // It lets go of the brush alone, and does not lead back as well.
        event.stopPropagation();
        onBrush(null);
      }
      const by = event.key === 'ArrowRight' ? step : event.key === 'ArrowLeft' ? -step : 0;
      if (by === 0) return;
      event.preventDefault();
      const current = brush ?? { from: snap(from, false), to: snap(from, false) + step };
      onBrush(
        event.shiftKey
          ? { from: current.from, to: Math.max(current.from + step, Math.min(to, current.to + by)) }
          : { from: Math.max(from, current.from + by), to: Math.min(to, current.to + by) },
      );
    },
  };
}

/** The brushed stretch: its light, which lies behind everything. */
export const BrushLight = ({
  brush,
  x,
  height,
}: {
  brush: Brush | null;
  x: (time: number) => number;
  height: number;
}): JSX.Element | null =>
  brush === null ? null : (
    <rect
      x={x(brush.from)}
      y="0"
      width={Math.max(1, x(brush.to) - x(brush.from))}
      height={height}
      fill="var(--amber-wash)"
    />
  );

/** The edges of the brushed stretch, with their handles. */
export const BrushEdges = ({
  brush,
  x,
  height,
}: {
  brush: Brush | null;
  x: (time: number) => number;
  height: number;
}): JSX.Element | null =>
  brush === null ? null : (
    <>
      {[brush.from, brush.to].map((time) => (
        <g key={time}>
          <path d={`M${x(time)} 0v${height}`} stroke="var(--amber-ink)" strokeWidth="1.5" />
          <rect
            x={x(time) - 3}
            y={height / 2 - 9}
            width="6"
            height="18"
            rx="1.5"
            fill="var(--amber)"
            stroke="var(--amber-ink)"
          />
        </g>
      ))}
    </>
  );
