import { MAX_ZOOM, MIN_ZOOM, toPixel, type Viewport, type ViewSize } from './viewport';

/** A place on the pane, screen pixels. */
export interface Finger {
  readonly x: number;
  readonly y: number;
}

const middle = (a: Finger, b: Finger): Finger => ({ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 });
const apart = (a: Finger, b: Finger): number => Math.hypot(a.x - b.x, a.y - b.y);

/** The picture follows two fingers: what lay between them lies between them still, and grows as they part. */
export function pinched(
  view: Viewport,
  pane: ViewSize,
  before: readonly [Finger, Finger],
  after: readonly [Finger, Finger],
): Viewport {
  const factor = apart(...after) / Math.max(1, apart(...before));
  const zoom = Math.min(MAX_ZOOM, Math.max(MIN_ZOOM, view.zoom * factor));
  const [from, to] = [middle(...before), middle(...after)];
  const held = toPixel(view, pane, from.x, from.y);
  const off = toPixel({ cx: 0, cy: 0, zoom }, pane, to.x, to.y);
  return { cx: held.x - off.x, cy: held.y - off.y, zoom };
}
