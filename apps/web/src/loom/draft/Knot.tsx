import { useRef } from 'react';

/** Screen pixels of drag for a weight of 1. */
const DRAG = 160;
const SNAP = 0.01;

interface KnotProps {
  x: number;
  y: number;
  colour: string;
  weight: number;
  /** What the weight comes to in its column; the weight itself where it is left out. */
  effect?: number;
  /** Whether it cannot change anything as it is: alone in a shared column it counts as 1. */
  idle: boolean;
  /** Its strand or its column is switched off. */
  off: boolean;
  label: string;
  onChange: (weight: number) => void;
  onEnd: () => void;
}

/** A weight of the tie-up: a diamond that grows with it. Dragged up and down, or moved with the arrow keys; Delete unties it. */
export function Knot({ x, y, colour, weight: own, effect, idle, off, label, onChange, onEnd }: KnotProps) {
  // One that counts as 1 is dragged from there.
  const weight = idle ? 1 : own;
  const shown = off ? own : (effect ?? own);
  const start = useRef<{ y: number; weight: number; moved: boolean }>(undefined);
  const tied = weight !== 0;
  const half = tied ? 7 + 9 * Math.min(1.2, Math.abs(shown)) ** 0.6 : 3.5;
  const set = (value: number): void => onChange(Math.max(-4, Math.min(4, Math.round(value / SNAP) * SNAP)));
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuemin={-4}
      aria-valuemax={4}
      aria-valuenow={weight}
      title={
        idle ? `${label}: normalised and alone in its column, it counts as 100. Drag it to set the weight.` : undefined
      }
      data-idle={idle || undefined}
      className="group absolute z-10 flex size-10 -translate-x-1/2 -translate-y-1/2 cursor-ns-resize touch-none items-center justify-center"
      data-off={off || undefined}
      style={{ left: x, top: y }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        start.current = { y: event.clientY, weight, moved: false };
      }}
      onPointerMove={(event) => {
        const from = start.current;
        if (!from) return;
        const by = from.y - event.clientY;
        if (!from.moved && Math.abs(by) < 3) return;
        from.moved = true;
        set(from.weight + by / (event.shiftKey ? DRAG * 5 : DRAG));
      }}
      onPointerUp={() => {
        // A touch without a drag ties a whole knot where there was none.
        if (start.current && !start.current.moved && !tied) set(1);
        start.current = undefined;
        onEnd();
      }}
      onKeyDown={(event) => {
        const by: Record<string, number> = { ArrowUp: 0.05, ArrowDown: -0.05, PageUp: 0.25, PageDown: -0.25 };
        if (event.key in by) set(weight + by[event.key]);
        else if (event.key === 'Delete' || event.key === 'Backspace') set(0);
        else return;
        event.preventDefault();
        event.stopPropagation();
        onEnd();
      }}
    >
      <svg
        aria-hidden="true"
        width={40}
        height={40}
        className={`overflow-visible ${off ? 'opacity-35' : idle ? 'opacity-60' : ''}`}
      >
        <path
          d={`M20 ${20 - half} L${20 + half} 20 L20 ${20 + half} L${20 - half} 20 Z`}
          fill={tied ? 'var(--color-room)' : 'var(--color-edge)'}
          stroke={tied ? colour : 'var(--color-rim)'}
          strokeWidth={weight < 0 ? 1.2 : 1.8}
          strokeDasharray={weight < 0 ? '3 2' : undefined}
          className="transition-colors group-hover:fill-[var(--color-shelf)]"
        />
        {tied && (
          <text
            x={20}
            y={23.5}
            textAnchor="middle"
            fontSize={10.5}
            fontFamily="var(--font-mono)"
            fill="var(--color-text)"
          >
            {String(Math.round(shown * 100)).replace('-', '−')}
          </text>
        )}
      </svg>
    </div>
  );
}
