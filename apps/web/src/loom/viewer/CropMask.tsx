import type { Rect } from '@owl-loom/image/geometry/rect';
import { matrix, type Viewport, type ViewSize } from '../../image-view/viewport';

/** Covers what a freely turned cloth loses: the written picture keeps its size, and its corners turn out of it. */
export function Passepartout({ rect, viewport, pane }: { rect: Rect; viewport: Viewport; pane: ViewSize }) {
  const [a, b, c, d, e, f] = matrix(viewport, pane);
  const [mx, my] = [rect.x + (rect.width - 1) / 2, rect.y + (rect.height - 1) / 2];
  const across = pane.turn === 90 || pane.turn === 270;
  const [w, h] = [
    (across ? rect.height : rect.width) * viewport.zoom,
    (across ? rect.width : rect.height) * viewport.zoom,
  ];
  const [left, top] = [a * mx + c * my + e - w / 2, b * mx + d * my + f - h / 2];
  return (
    <svg className="absolute inset-0 size-full" aria-hidden>
      <path fillRule="evenodd" fill="#0c0c0c" d={`M-9e3 -9e3H9e4V9e4H-9e3ZM${left} ${top}h${w}v${h}h${-w}Z`} />
    </svg>
  );
}
