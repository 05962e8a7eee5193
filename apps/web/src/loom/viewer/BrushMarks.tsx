import { matrix, type Viewport, type ViewSize } from '../../image-view/viewport';
import { useAppSelector } from '../../store/store';
import type { Brush } from '../../store/view';
import type { PenSpot } from './painting';
import { outlineOf, shapeOf } from './shapes';

/** The brush under the pointer, and the stroke that is being drawn, at once and before the mask itself is made anew. */
export function BrushMarks({
  shape,
  way,
  spot,
  viewport,
  pane,
}: {
  shape: Brush['shape'];
  way: readonly PenSpot[];
  spot: { readonly x: number; readonly y: number } | undefined;
  viewport: Viewport;
  pane: ViewSize;
}) {
  const brush = useAppSelector((state) => state.view.brush);
  const { mode, radius, soft, strength } = brush;
  const colour = mode === 'reveal' ? '#ffffff' : '#000000';
  const drawn = shape === 'stroke' ? undefined : shapeOf(way, { ...brush, shape }, 1 / viewport.zoom);
  const ends = way.length === 1 ? [way[0], way[0]] : way;
  const line = ends.map(({ x, y }) => `${x} ${y}`).join(' L');
  return (
    <svg aria-hidden className="pointer-events-none absolute inset-0 size-full">
      <g transform={`matrix(${matrix(viewport, pane).join(' ')})`} fill="none">
        {drawn && (
          <path
            d={outlineOf(drawn)}
            stroke="#f0b061"
            strokeWidth={1.8}
            vectorEffect="non-scaling-stroke"
            data-testid="outline"
          />
        )}
        {shape === 'stroke' && way.length > 0 && (
          <path
            d={`M${line}`}
            stroke={colour}
            strokeWidth={2 * radius}
            strokeOpacity={0.75 * strength}
            strokeLinecap="round"
            strokeLinejoin="round"
            data-testid="stroke"
          />
        )}
        {shape === 'stroke' && spot && (
          <g>
            <circle
              cx={spot.x}
              cy={spot.y}
              r={radius}
              stroke="#000000"
              strokeOpacity={0.7}
              strokeWidth={3}
              vectorEffect="non-scaling-stroke"
            />
            <circle
              cx={spot.x}
              cy={spot.y}
              r={radius}
              stroke="#f0b061"
              strokeWidth={1.3}
              vectorEffect="non-scaling-stroke"
            />
            {soft > 0 && (
              <circle
                cx={spot.x}
                cy={spot.y}
                r={Math.max(0, radius - soft / 2)}
                stroke="#f0b061"
                strokeOpacity={0.55}
                strokeWidth={1}
                strokeDasharray="3 3"
                vectorEffect="non-scaling-stroke"
              />
            )}
          </g>
        )}
      </g>
    </svg>
  );
}
