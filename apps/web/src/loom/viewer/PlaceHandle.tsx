import { useRef } from 'react';
import { matrix, type Viewport, type ViewSize } from '../../image-view/viewport';
import { useAppSelector } from '../../store/store';
import { endGesture, setValue } from '../../document/edit';
import { numberOf } from '../../session/measured-values';
import { hundredth } from '../../document/nudge';
import { useSession } from '../../session/session';
import { stepAt } from '@owl-loom/recipe/paths';

/** Length of the arm that turns, in screen pixels. */
const ARM = 90;

/** The chosen `place` step on the picture: a middle that is dragged, and an arm that turns it. */
export function PlaceHandle({ path, viewport, pane }: { path: string; viewport: Viewport; pane: ViewSize }) {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const { scene } = useSession();
  const start = useRef<{ px: number; py: number; dx: number; dy: number }>(undefined);
  const svg = useRef<SVGSVGElement>(null);
  const step = recipe ? stepAt(recipe, path) : undefined;
  const frame = scene?.frame;
  if (!frame || !step || typeof step !== 'object' || step.do !== 'place') return null;
  const [dx, dy, degrees] = [numberOf(step.dx) ?? 0, numberOf(step.dy) ?? 0, numberOf(step.degrees) ?? 0];
  const [a, b, c, d, e, f] = matrix(viewport, pane);
  const [mx, my] = [frame.x + (frame.width - 1) / 2 + dx, frame.y + (frame.height - 1) / 2 + dy];
  const [u, v] = [a * mx + c * my + e, b * mx + d * my + f];
  const turn = (-degrees * Math.PI) / 180;
  const [tu, tv] = [u + ARM * Math.cos(turn), v + ARM * Math.sin(turn)];
  const held = (event: React.PointerEvent): boolean => event.currentTarget.hasPointerCapture(event.pointerId);
  const grab = (event: React.PointerEvent): void => {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    start.current = { px: event.clientX, py: event.clientY, dx, dy };
  };
  const release = (event: React.PointerEvent): void => {
    event.stopPropagation();
    endGesture();
  };
  return (
    <svg ref={svg} className="absolute inset-0 size-full" role="group" aria-label="Place by hand">
      <line x1={u} y1={v} x2={tu} y2={tv} stroke="#000" strokeOpacity={0.6} strokeWidth={4} />
      <line x1={u} y1={v} x2={tu} y2={tv} stroke="#f0b061" strokeWidth={1.6} />
      <path d={`M${u - 14} ${v}h28M${u} ${v - 14}v28`} stroke="#f0b061" strokeWidth={2} />
      <rect
        x={u - 16}
        y={v - 16}
        width={32}
        height={32}
        fill="transparent"
        className="cursor-move"
        style={{ pointerEvents: 'all' }}
        data-handle="middle"
        onPointerDown={grab}
        onPointerMove={(event) => {
          const from = start.current;
          if (!from || !held(event)) return;
          event.stopPropagation();
          const det = a * d - b * c;
          const [p, q] = [event.clientX - from.px, event.clientY - from.py];
          setValue(
            path,
            { ...step, dx: hundredth(from.dx + (d * p - c * q) / det), dy: hundredth(from.dy + (a * q - b * p) / det) },
            'place',
          );
        }}
        onPointerUp={release}
      />
      <rect
        x={tu - 8}
        y={tv - 8}
        width={16}
        height={16}
        fill="#f0b061"
        stroke="#000"
        className="cursor-grab"
        style={{ pointerEvents: 'all' }}
        data-handle="turn"
        onPointerDown={grab}
        onPointerMove={(event) => {
          if (!held(event)) return;
          event.stopPropagation();
          const bounds = svg.current?.getBoundingClientRect();
          const angle = Math.atan2(event.clientY - (bounds?.top ?? 0) - v, event.clientX - (bounds?.left ?? 0) - u);
          setValue(`${path}.degrees`, Math.round((-angle * 18_000) / Math.PI) / 100, 'degrees');
        }}
        onPointerUp={release}
      />
    </svg>
  );
}
