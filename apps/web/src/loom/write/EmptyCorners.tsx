import type { Rect } from '@owl-loom/image/geometry/rect';
import { emptyShare, turnInFrame } from '@owl-loom/image/geometry/turned';
import type { Orient } from './use-finished';

/** Says how much of a turned picture would be written without data. */
export function EmptyCorners({ rect, orient, frame }: { rect: Rect; orient: Orient; frame: Rect }) {
  const share = emptyShare(rect, turnInFrame(orient), frame);
  if (share === 0) return null;
  return (
    <p role="note" className="text-[12.5px] text-ember">
      {share < 0.001 ? 'Less than 0.1' : (100 * share).toFixed(1)} % of this picture has no data: it lies beyond the
      frame, and is written black.
    </p>
  );
}
