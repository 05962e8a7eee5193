import { intersect, type Rect } from '@owl-loom/image/geometry/rect';
import type { Spot } from '../../image-view/ImageView';
import { store } from '../../store/store';
import { viewChanged } from '../../store/view';
import { rectBetween } from './resize-handles';

/** Screen pixels about a touch that are asked about: one pixel is as much noise as colour. */
const AROUND = 5;
/** Screen pixels before a touch is a drag. */
const STILL = 4;

/** A square about a touched place, in whole pixels of the frame. */
export function pickRect({ x, y }: Pick<Spot, 'x' | 'y'>, zoom: number): Rect {
  const size = Math.max(1, Math.round(AROUND / zoom));
  return { x: Math.round(x - size / 2), y: Math.round(y - size / 2), width: size, height: size };
}

/** The place that a touch or a drag asks about; nothing outside of the frame. */
export function askedRect(from: Spot, to: Spot, frame: Rect, zoom: number): Rect | null {
  const still = Math.hypot(to.sx - from.sx, to.sy - from.sy) < STILL;
  const rect = intersect(pickRect(to, zoom), frame);
  return still ? (rect.width > 0 && rect.height > 0 ? rect : null) : rectBetween(from, to, frame);
}

/** Takes the question up, or puts it down with its answer. */
export function toggleAttributionTool(): void {
  const asking = store.getState().view.tool === 'ask';
  store.dispatch(viewChanged({ tool: asking ? null : 'ask', attributionRect: null }));
}
