import { useMemo, useRef, useState } from 'react';
import type { HistogramBins } from '@owl-loom/image/stats/summary';
import { useHistogram } from './use-counts';

const WIDTH = 286;
const HEIGHT = 116;

/** A place on the histogram that can be dragged. */
export interface Handle {
  readonly name: string;
  /** In the image's own numbers. */
  readonly at: number;
  readonly onMove: (at: number) => void;
}

/** The counts of all planes on one axis, on a logarithmic scale; planes that span less have narrower bins, so they are drawn as densities. */
function drawn(counts: readonly HistogramBins[]): { low: number; high: number; shapes: string[] } {
  if (counts.length === 0) return { low: 0, high: 1, shapes: [] };
  const low = Math.min(...counts.map((plane) => plane.low));
  const high = Math.max(...counts.map((plane) => plane.high));
  const heights = counts.map(({ bins, low: from, high: to }) =>
    bins.map((n) => Math.log1p((n * (high - low)) / (to - from || 1))),
  );
  const top = Math.max(1, ...heights.flat());
  const shapes = counts.map((plane, p) => {
    const x = (i: number) =>
      ((plane.low - low + ((i + 0.5) / plane.bins.length) * (plane.high - plane.low)) / (high - low || 1)) * WIDTH;
    const last = heights[p].length - 1;
    return `M${x(0)} ${HEIGHT} ${heights[p].map((h, i) => `L${x(i)} ${HEIGHT - (h / top) * (HEIGHT - 8)}`).join(' ')} L${x(last)} ${HEIGHT} Z`;
  });
  return { low, high, shapes };
}

/** The image's numbers, counted on a logarithmic scale, with handles at the values that the step works with. */
export function Histogram({
  path,
  handles,
  curve,
  onEnd,
}: {
  path: string;
  handles: readonly Handle[];
  curve?: (x: number) => number;
  onEnd: () => void;
}) {
  const counts = useHistogram(path);
  const [dragged, setDragged] = useState<string>();
  const svg = useRef<SVGSVGElement>(null);
  const { low, high, shapes } = useMemo(() => drawn(counts), [counts]);
  const toX = (value: number) => ((value - low) / (high - low)) * WIDTH;
  const fromEvent = (clientX: number) => {
    const bounds = svg.current?.getBoundingClientRect();
    return low + ((clientX - (bounds?.left ?? 0)) / (bounds?.width ?? WIDTH)) * (high - low);
  };
  const colours =
    shapes.length === 3 ? ['var(--color-red)', 'var(--color-green)', 'var(--color-blue)'] : ['var(--color-soft)'];
  const active = handles.find((handle) => handle.name === dragged);

  return (
    <div className="rounded-lg border border-edge bg-pit p-2">
      <svg
        ref={svg}
        viewBox={`0 0 ${WIDTH} ${HEIGHT + 14}`}
        className="w-full touch-none"
        role="group"
        aria-label="Histogram"
        onPointerMove={(event) => active?.onMove(fromEvent(event.clientX))}
        onPointerUp={() => {
          if (dragged) onEnd();
          setDragged(undefined);
        }}
      >
        {shapes.map((shape, i) => (
          <path key={colours[i]} d={shape} fill={colours[i]} fillOpacity={shapes.length === 3 ? 0.38 : 0.55} />
        ))}
        {curve && counts.length > 0 && (
          <path
            fill="none"
            stroke="var(--color-lamp)"
            strokeWidth={1.6}
            d={Array.from(
              { length: WIDTH / 2 },
              (_, i) =>
                `${i === 0 ? 'M' : 'L'}${2 * i} ${HEIGHT - Math.min(1, Math.max(0, curve(low + ((2 * i) / WIDTH) * (high - low)))) * HEIGHT}`,
            ).join(' ')}
          />
        )}
        {handles.map((handle) => {
          const x = Math.min(WIDTH - 5, Math.max(5, toX(handle.at)));
          const outside = handle.at < low || handle.at > high;
          return (
            <g
              key={handle.name}
              role="slider"
              tabIndex={0}
              aria-label={handle.name}
              aria-valuenow={handle.at}
              className="cursor-ew-resize focus:outline-none focus-visible:[&_path]:fill-lamp"
              opacity={outside ? 0.5 : 1}
              onPointerDown={(event) => {
                svg.current?.setPointerCapture(event.pointerId);
                setDragged(handle.name);
              }}
              onKeyDown={(event) => {
                const by = ({ ArrowLeft: -1, ArrowRight: 1 } as Record<string, number>)[event.key];
                if (!by) return;
                event.preventDefault();
                event.stopPropagation();
                handle.onMove(handle.at + (by * (high - low)) / (event.shiftKey ? 1000 : 200));
                onEnd();
              }}
            >
              <rect x={x - 9} y={0} width={18} height={HEIGHT + 14} fill="transparent" />
              <line x1={x} x2={x} y1={0} y2={HEIGHT} stroke="var(--color-text)" strokeOpacity={0.65} />
              <path
                d={`M${x} ${HEIGHT + 1} l6 6 v6 h-12 v-6 Z`}
                fill={dragged === handle.name ? 'var(--color-lamp)' : 'var(--color-text)'}
              />
              <title>{handle.name}</title>
            </g>
          );
        })}
      </svg>
    </div>
  );
}
