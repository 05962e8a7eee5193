import type { PointerEvent } from 'react';
import { matrix, type Viewport, type ViewSize } from '../../image-view/viewport';
import { useAppSelector, useAppDispatch } from '../../store/store';
import { viewChanged } from '../../store/view';
import { setValue } from '../../document/edit';
import { paintedMask, paintOf } from './painting';
import { useDragHandle } from './use-pull';
import { handlesOf, movedBy, outlineOf, type Paint, pulledBy } from './shapes';

const LAMP = '#f0b061';

/** What lies on the chosen mask, on the picture: each stroke and shape can be chosen there, moved, and pulled by its handles. */
export function Shapes({ viewport, pane }: { viewport: Viewport; pane: ViewSize }) {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const place = useAppSelector((state) => state.draft.selectedPath);
  const { selectedShape: piece, tool } = useAppSelector((state) => state.view);
  const send = useAppDispatch();
  const mask = recipe ? paintedMask(recipe, place) : undefined;
  const pull = useDragHandle<{ index: number; paint: Paint; handle: number | 'all' }>(
    viewport,
    pane,
    ({ index, paint: from, handle }, dx, dy) => {
      const next = handle === 'all' ? movedBy(from, dx, dy) : pulledBy(from, handle, dx, dy);
      if (mask) setValue(`${mask.path}.paint[${index}]`, next, 'shape');
    },
  );
  if (!recipe || !mask) return null;
  const paint = paintOf(recipe, mask);
  const [a, b, c, d, e, f] = matrix(viewport, pane);
  const held = (index: number, handle: number | 'all') => {
    const handlers = pull({ index, paint: paint[index], handle });
    return {
      ...handlers,
      onPointerDown: (event: PointerEvent) => {
        send(viewChanged({ selectedShape: index }));
        handlers.onPointerDown(event);
      },
    };
  };
  // With the brush in hand only what is chosen can be taken hold of: a stroke may begin on another.
  const reachable = (index: number) => tool !== 'paint' || index === piece;
  return (
    <svg className="pointer-events-none absolute inset-0 size-full" role="group" aria-label="Strokes and shapes">
      <g transform={`matrix(${[a, b, c, d, e, f].join(' ')})`} fill="none">
        {paint.map((shape, i) => {
          const on = i === piece;
          const outline = outlineOf(shape);
          const key = `${shape.shape} ${String(i)}`;
          return (
            <g key={key}>
              <path
                d={outline}
                stroke="#000"
                strokeOpacity={0.55}
                strokeWidth={on ? 4 : 3}
                vectorEffect="non-scaling-stroke"
              />
              <path
                d={outline}
                stroke={on ? LAMP : '#ffffff'}
                strokeOpacity={on ? 1 : 0.55}
                strokeWidth={on ? 1.8 : 1.1}
                strokeDasharray={shape.mode === 'hide' ? '5 4' : undefined}
                vectorEffect="non-scaling-stroke"
              />
              {reachable(i) && (
                <path
                  d={outline}
                  data-shape={i}
                  stroke="transparent"
                  strokeWidth={14}
                  vectorEffect="non-scaling-stroke"
                  className="cursor-move"
                  style={{ pointerEvents: 'stroke' }}
                  {...held(i, 'all')}
                />
              )}
            </g>
          );
        })}
      </g>
      {piece !== null &&
        paint[piece] &&
        handlesOf(paint[piece]).map(({ x, y }, h) => (
          <rect
            key={`${String(piece)} ${String(h)}`}
            data-handle={h}
            x={a * x + c * y + e - 5}
            y={b * x + d * y + f - 5}
            width={10}
            height={10}
            fill={LAMP}
            stroke="#000"
            className="cursor-grab"
            style={{ pointerEvents: 'all' }}
            {...held(piece, h)}
          />
        ))}
    </svg>
  );
}
