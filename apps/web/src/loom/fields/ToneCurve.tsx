import { useMemo, useRef, useState } from 'react';
import { type CurvePoint, monotoneCubic } from '@owl-loom/algorithms/tone/monotone';
import { added, moved } from './curve-points';
import { useHistogram } from './use-counts';

const SIDE = 280;
const PAD = 8;
/** How far an arrow key moves a point; under Shift a quarter of it. */
const STEP = 0.004;

/** One line of the chart. */
export interface CurveLine {
  readonly name: string;
  readonly colour: string;
  readonly points: readonly CurvePoint[];
}

const toX = (x: number): number => PAD + x * SIDE;
const toY = (y: number): number => PAD + (1 - y) * SIDE;

const lineOf = (points: readonly CurvePoint[]): string => {
  const of = monotoneCubic(points);
  const at = (i: number) => Math.min(1, Math.max(0, of(i / 140)));
  return Array.from({ length: 141 }, (_, i) => `${i === 0 ? 'M' : 'L'}${toX(i / 140)} ${toY(at(i))}`).join(' ');
};

/**
 * Lines through points over the numbers of what comes in. A press on the chart sets a point, a drag moves one, Delete or a double press takes
 * one away; arrow keys nudge it.
 * @param others lines that are not taken up, which stay visible
 * @param pointed where the pixel under the pointer stands on the line
 */
export function ToneCurve({
  path,
  line,
  others,
  pointed,
  onChange,
  onEnd,
}: {
  path: string;
  line: CurveLine;
  others: readonly CurveLine[];
  pointed: readonly { readonly x: number; readonly colour: string }[];
  onChange: (points: readonly CurvePoint[]) => void;
  onEnd: () => void;
}) {
  const counts = useHistogram(path);
  const svg = useRef<SVGSVGElement>(null);
  const [taken, setTaken] = useState<number>();
  const { points } = line;
  const shapes = useMemo(() => {
    const top = Math.max(1, ...counts.flatMap(({ bins }) => bins.map((n) => Math.log1p(n))));
    return counts.map(({ bins, low, high }) => {
      const x = (i: number) => toX(Math.min(1, Math.max(0, low + ((i + 0.5) / bins.length) * (high - low))));
      const steps = bins.map((n, i) => `L${x(i)} ${toY((Math.log1p(n) / top) * 0.92)}`).join(' ');
      return `M${x(0)} ${toY(0)} ${steps} L${x(bins.length - 1)} ${toY(0)} Z`;
    });
  }, [counts]);
  const colours =
    shapes.length === 3 ? ['var(--color-red)', 'var(--color-green)', 'var(--color-blue)'] : ['var(--color-soft)'];

  const placeOf = (event: { clientX: number; clientY: number }): CurvePoint => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return [0, 0];
    const scale = (SIDE + 2 * PAD) / box.width;
    return [((event.clientX - box.left) * scale - PAD) / SIDE, 1 - ((event.clientY - box.top) * scale - PAD) / SIDE];
  };
  const without = (index: number): void => {
    if (points.length <= 2) return;
    onChange(points.filter((_, i) => i !== index));
    onEnd();
  };

  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${SIDE + 2 * PAD} ${SIDE + 2 * PAD}`}
      className="w-full touch-none rounded-lg border border-edge bg-pit"
      role="group"
      aria-label={`Curve of ${line.name}`}
      onPointerDown={(event) => {
        const place = placeOf(event);
        const { points: next, index } = added(points, place);
        svg.current?.setPointerCapture(event.pointerId);
        setTaken(index);
        onChange(next);
      }}
      onPointerMove={(event) => {
        if (taken !== undefined) onChange(moved(points, taken, placeOf(event)));
      }}
      onPointerUp={() => {
        if (taken !== undefined) onEnd();
        setTaken(undefined);
      }}
    >
      {shapes.map((shape, i) => (
        <path key={colours[i]} d={shape} fill={colours[i]} fillOpacity={shapes.length === 3 ? 0.3 : 0.4} />
      ))}
      {[0.25, 0.5, 0.75].map((at) => (
        <path
          key={at}
          d={`M${toX(at)} ${toY(0)}V${toY(1)}M${toX(0)} ${toY(at)}H${toX(1)}`}
          stroke="var(--color-edge)"
        />
      ))}
      <path d={`M${toX(0)} ${toY(0)}L${toX(1)} ${toY(1)}`} stroke="var(--color-hush)" strokeDasharray="3 4" />
      {others.map((other) => (
        <path key={other.name} d={lineOf(other.points)} fill="none" stroke={other.colour} strokeOpacity={0.5} />
      ))}
      <path d={lineOf(points)} fill="none" stroke={line.colour} strokeWidth={2} />
      {pointed.map(({ x, colour }) => (
        <g key={colour} className="pointer-events-none" data-pointed={x.toFixed(3)}>
          <path d={`M${toX(x)} ${toY(0)}V${toY(1)}`} stroke={colour} strokeOpacity={0.7} />
          <circle cx={toX(x)} cy={toY(monotoneCubic(points)(x))} r={4} fill={colour} stroke="var(--color-pit)" />
        </g>
      ))}
      {points.map(([x, y], i) => (
        <g
          // biome-ignore lint/suspicious/noArrayIndexKey: a point has no name but its place in the line
          key={i}
          role="slider"
          tabIndex={0}
          aria-label={`point ${i + 1}`}
          aria-valuenow={y}
          aria-valuetext={`${x.toFixed(3)} to ${y.toFixed(3)}`}
          className="cursor-grab focus:outline-none focus-visible:[&_rect]:fill-lamp"
          onPointerDown={(event) => {
            event.stopPropagation();
            svg.current?.setPointerCapture(event.pointerId);
            setTaken(i);
          }}
          onDoubleClick={() => without(i)}
          onKeyDown={(event) => {
            const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
            const takes = event.key === 'Delete' || event.key === 'Backspace';
            if (!by && !takes) return;
            event.preventDefault();
            event.stopPropagation();
            if (!by) without(i);
            else {
              const step = event.shiftKey ? STEP / 4 : STEP;
              onChange(moved(points, i, [x + step * by[0], y + step * by[1]]));
              onEnd();
            }
          }}
        >
          <rect x={toX(x) - 12} y={toY(y) - 12} width={24} height={24} fillOpacity={0} />
          <rect
            x={toX(x) - 4.5}
            y={toY(y) - 4.5}
            width={9}
            height={9}
            rx={2}
            fill="var(--color-text)"
            stroke="var(--color-pit)"
          />
        </g>
      ))}
    </svg>
  );
}
