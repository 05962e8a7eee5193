import { contours } from 'd3-contour';
import { useMemo } from 'react';
import type { Measurement } from '@owl-loom/engine/measurements/index';
import { modelAt } from '@owl-loom/algorithms/gradient/model';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { matrix, type Viewport, type ViewSize } from '../../image-view/viewport';
import { useAppSelector } from '../../store/store';
import { useReport, useSession } from '../../session/session';

/** Points of the grid across the longer side, and lines that are drawn. */
const ACROSS = 72;
const LINES = 9;

interface Line {
  readonly value: number;
  /** Rings in full-size pixels. */
  readonly rings: readonly (readonly (readonly [number, number])[])[];
}

/** Lines of equal height of a gradient's surface over the frame. */
function linesOf(found: Extract<Measurement, { kind: 'gradient' }>, frame: Rect): Line[] {
  const [{ model }] = found.planes;
  const step = Math.max(frame.width, frame.height) / ACROSS;
  const [columns, rows] = [Math.ceil(frame.width / step) + 1, Math.ceil(frame.height / step) + 1];
  const values = Array.from({ length: columns * rows }, (_, i) =>
    modelAt(model, frame.x + (i % columns) * step, frame.y + Math.floor(i / columns) * step),
  );
  const [low, high] = [Math.min(...values), Math.max(...values)];
  if (!(high > low)) return [];
  const thresholds = Array.from({ length: LINES }, (_, i) => low + ((i + 1) * (high - low)) / (LINES + 1));
  return contours()
    .size([columns, rows])
    .thresholds(thresholds)(values)
    .map(({ value, coordinates }) => ({
      value,
      // The package lays values in the middle of unit cells.
      rings: coordinates
        .flat()
        .map((ring) => ring.map(([x, y]) => [frame.x + (x - 0.5) * step, frame.y + (y - 0.5) * step] as const)),
    }));
}

/** The surface that the chosen gradient takes out, in lines of equal height: drawn over what is taken out. */
export function Contours({ path, viewport, pane }: { path: string; viewport: Viewport; pane: ViewSize }) {
  const { scene } = useSession();
  const described = useReport();
  const taken = useAppSelector((state) => state.view.showRemoved);
  const found = described?.charts[path];
  const frame = scene?.frame;
  const lines = useMemo(() => (found?.kind === 'gradient' && frame ? linesOf(found, frame) : []), [found, frame]);
  if (!taken || found?.kind !== 'gradient' || !frame) return null;
  const [a, b, c, d, e, f] = matrix(viewport, pane);
  const at = ([x, y]: readonly [number, number]): [number, number] => [a * x + c * y + e, b * x + d * y + f];
  // Rings are closed along the border of the frame; only what runs inside is a line.
  const inside = ([x, y]: readonly [number, number]): boolean =>
    x > frame.x && y > frame.y && x < frame.x + frame.width - 1 && y < frame.y + frame.height - 1;
  const { level } = found.planes[0];
  return (
    <svg className="absolute inset-0 size-full" role="img" aria-label="Contours of the gradient">
      {lines.map(({ value, rings }) => {
        const path = rings
          .map((ring) =>
            ring
              .map(
                (point, i) =>
                  `${i > 0 && inside(point) && inside(ring[i - 1]) ? 'L' : 'M'}${at(point)
                    .map((v) => v.toFixed(1))
                    .join(' ')}`,
              )
              .join(''),
          )
          .join('');
        const place = rings[0]?.filter(inside);
        const label = place && place.length > 8 ? at(place[Math.floor(place.length / 2)]) : undefined;
        return (
          <g key={value}>
            <path d={path} fill="none" stroke="#000" strokeOpacity={0.45} strokeWidth={3} />
            <path d={path} fill="none" stroke="#f0b061" strokeWidth={1.2} />
            {label && (
              <text
                x={label[0]}
                y={label[1]}
                fill="#f0b061"
                fontSize={11.5}
                stroke="#000"
                strokeWidth={3}
                paintOrder="stroke"
                textAnchor="middle"
              >{`${value >= level ? '+' : '−'}${Math.abs((100 * (value - level)) / (Math.abs(level) || 1)).toFixed(1)} %`}</text>
            )}
          </g>
        );
      })}
    </svg>
  );
}
