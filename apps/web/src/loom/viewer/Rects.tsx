import type { Rect } from '@owl-loom/image/geometry/rect';
import { matrix, type Viewport, type ViewSize } from '../../image-view/viewport';
import { valueAt } from '@owl-loom/recipe/paths';
import { useAppSelector } from '../../store/store';
import { setValue } from '../../document/edit';
import { turnInFrame } from '@owl-loom/image/geometry/turned';
import { GRIPS, type Grip, pulledUpright } from './resize-handles';
import { useDragHandle } from './use-pull';

const isRect = (value: unknown): value is Rect =>
  typeof value === 'object' &&
  value !== null &&
  ['x', 'y', 'width', 'height'].every((key) => typeof (value as Record<string, unknown>)[key] === 'number');

/** Where a chosen bead keeps a rectangle that can be moved on the picture. */
function rectPath(chosen: string, value: unknown): string | undefined {
  if (typeof value !== 'object' || value === null || !('do' in value)) return undefined;
  const step = value as { do: string; region?: unknown };
  if (step.do === 'crop') return chosen;
  return isRect(step.region) ? `${chosen}.region` : undefined;
}

interface RectsProps {
  readonly chosen: string;
  readonly viewport: Viewport;
  readonly pane: ViewSize;
  readonly drawing: Rect | null | undefined;
}

/** Rectangles on the picture: the one that is drawn or looked into, the chosen step's own, and the recipe's sky where it matters. */
export function Rects({ chosen, viewport, pane, drawing }: RectsProps) {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const { region, guard } = useAppSelector((state) => state.view);
  if (!recipe) return null;
  const own = rectPath(chosen, valueAt(recipe, chosen));
  const ownRect = own === undefined ? undefined : valueAt(recipe, own);
  const showsSky = recipe.sky !== undefined && (chosen === 'cloth' || region !== null);
  const extent = recipe.cloth?.extent;
  return (
    <svg className="absolute inset-0 size-full" role="group" aria-label="Rectangles">
      {showsSky && recipe.sky && (
        <Box
          rect={recipe.sky}
          viewport={viewport}
          pane={pane}
          label="sky"
          stroke="#8fd0ff"
          onChange={chosen === 'cloth' ? (rect) => setValue('sky', rect, 'sky') : undefined}
        />
      )}
      {chosen === 'cloth' && isRect(extent) && (
        <Box
          rect={extent}
          viewport={viewport}
          pane={pane}
          label="written"
          stroke="#ffffff"
          upright
          onChange={(rect) => setValue('cloth.extent', rect, 'extent')}
        />
      )}
      {own !== undefined && isRect(ownRect) && (
        <Box
          rect={ownRect}
          viewport={viewport}
          pane={pane}
          label=""
          stroke="#f0b061"
          onChange={(rect) => setValue(own, { ...(valueAt(recipe, own) as object), ...rect }, 'rectangle')}
        />
      )}
      {guard && <Box rect={guard} viewport={viewport} pane={pane} label="guarded" stroke="#ececec" />}
      {(drawing ?? region) && (
        <Box rect={(drawing ?? region) as Rect} viewport={viewport} pane={pane} label="" stroke="#ffffff" dashed />
      )}
    </svg>
  );
}

function Box({
  rect,
  viewport,
  pane,
  label,
  stroke,
  dashed = false,
  upright = false,
  onChange,
}: {
  rect: Rect;
  viewport: Viewport;
  pane: ViewSize;
  label: string;
  stroke: string;
  dashed?: boolean;
  /** Whether it stands upright on a freely turned cloth, about its own middle. */
  upright?: boolean;
  onChange?: (rect: Rect) => void;
}) {
  const turned = (upright && pane.degrees) || 0;
  const pull = useDragHandle<{ rect: Rect; grip: Grip }>(viewport, pane, ({ rect: from, grip }, dx, dy) =>
    onChange?.(pulledUpright(from, grip, dx, dy, turnInFrame({ ...pane, degrees: turned }))),
  );
  const [a, b, c, d, e, f] = matrix(viewport, pane);
  const [mx, my] = [rect.x + (rect.width - 1) / 2, rect.y + (rect.height - 1) / 2];
  // Without the free turn about its middle it lies as it stands.
  const [p, q, r, s] = matrix(viewport, { ...pane, degrees: (pane.degrees ?? 0) - turned });
  const at = (x: number, y: number): [number, number] => [
    a * mx + c * my + e + p * (x - mx) + r * (y - my),
    b * mx + d * my + f + q * (x - mx) + s * (y - my),
  ];
  const corner = (grip: (typeof GRIPS)[number]): [number, number] =>
    at(
      grip.startsWith('right') ? rect.x + rect.width - 0.5 : rect.x - 0.5,
      grip.endsWith('top') ? rect.y + rect.height - 0.5 : rect.y - 0.5,
    );
  // Four corners, not a box: on a freely turned cloth it stands aslant.
  const outline = (['left-foot', 'right-foot', 'right-top', 'left-top'] as const)
    .map((grip) => corner(grip).join(','))
    .join(' ');
  const [lx, ly] = (GRIPS.map(corner) as [number, number][]).reduce((best, next) =>
    next[1] - next[0] > best[1] - best[0] ? next : best,
  );
  const grips = (grip: Grip) => onChange && pull({ rect, grip });
  return (
    <g data-rect={label || 'own'}>
      <polygon points={outline} fill="none" stroke="#000" strokeOpacity={0.5} strokeWidth={3} />
      <polygon
        points={outline}
        fill="none"
        stroke={stroke}
        strokeWidth={1.3}
        strokeDasharray={dashed ? '5 4' : undefined}
      />
      {onChange && (
        <polygon
          points={outline}
          fill="none"
          stroke="transparent"
          strokeWidth={12}
          className="cursor-move"
          style={{ pointerEvents: 'stroke' }}
          {...grips('move')}
        />
      )}
      {label && (
        <text x={lx + 6} y={ly - 6} fill={stroke} fontSize={12} stroke="#000" strokeWidth={3} paintOrder="stroke">
          {label}
        </text>
      )}
      {onChange &&
        GRIPS.map((grip) => {
          const [x, y] = corner(grip);
          return (
            <rect
              key={grip}
              x={x - 5}
              y={y - 5}
              width={10}
              height={10}
              fill={stroke}
              stroke="#000"
              className="cursor-nwse-resize"
              style={{ pointerEvents: 'all' }}
              {...grips(grip)}
            />
          );
        })}
    </g>
  );
}
