import { useEffect, useMemo, useRef, useState } from 'react';
import type { HistogramReply } from '../../../workers/protocol';
import { useSession } from '../session';

const WIDTH = 286;
const HEIGHT = 116;
const BINS = 143;

/** A place on the histogram that can be dragged. */
export interface Handle {
  readonly name: string;
  /** In the image's own numbers. */
  readonly at: number;
  readonly onMove: (at: number) => void;
}

/** The image's numbers, counted on a logarithmic scale, with handles at the values that the step works with. */
export function Histogram({ path, handles, curve, onEnd }: { path: string; handles: readonly Handle[]; curve?: (x: number) => number; onEnd: () => void }) {
  const { engine, scene } = useSession();
  const [counts, setCounts] = useState<HistogramReply>();
  const [dragged, setDragged] = useState<string>();
  const svg = useRef<SVGSVGElement>(null);
  const hash = scene?.paths[path]?.hash;

  useEffect(() => {
    if (!hash) return undefined;
    let over = false;
    engine.ask({ type: 'histogram', path, bins: BINS }).then(
      (reply) => { if (!over) setCounts(reply); },
      () => { if (!over) setCounts(undefined); },
    );
    return () => { over = true; };
  }, [engine, path, hash]);

  const shapes = useMemo(() => {
    if (!counts) return [];
    const top = Math.log1p(Math.max(1, ...counts.planes.flat()));
    return counts.planes.map((plane) => `M0 ${HEIGHT} ${plane.map((n, i) => `L${((i + 0.5) / BINS) * WIDTH} ${HEIGHT - (Math.log1p(n) / top) * (HEIGHT - 8)}`).join(' ')} L${WIDTH} ${HEIGHT} Z`);
  }, [counts]);

  const low = counts?.low ?? 0;
  const high = counts?.high ?? 1;
  const toX = (value: number) => ((value - low) / (high - low)) * WIDTH;
  const fromEvent = (clientX: number) => {
    const bounds = svg.current?.getBoundingClientRect();
    return low + ((clientX - (bounds?.left ?? 0)) / (bounds?.width ?? WIDTH)) * (high - low);
  };
  const colours = shapes.length === 3 ? ['var(--color-red)', 'var(--color-green)', 'var(--color-blue)'] : ['var(--color-soft)'];
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
        {shapes.map((shape, i) => <path key={colours[i]} d={shape} fill={colours[i]} fillOpacity={shapes.length === 3 ? 0.38 : 0.55} />)}
        {curve && counts && (
          <path
            fill="none"
            stroke="var(--color-lamp)"
            strokeWidth={1.6}
            d={Array.from({ length: WIDTH / 2 }, (_, i) => `${i === 0 ? 'M' : 'L'}${2 * i} ${HEIGHT - Math.min(1, Math.max(0, curve(low + ((2 * i) / WIDTH) * (high - low)))) * HEIGHT}`).join(' ')}
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
              <path d={`M${x} ${HEIGHT + 1} l6 6 v6 h-12 v-6 Z`} fill={dragged === handle.name ? 'var(--color-lamp)' : 'var(--color-text)'} />
              <title>{handle.name}</title>
            </g>
          );
        })}
      </svg>
    </div>
  );
}
