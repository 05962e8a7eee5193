import { type PointerEvent, useEffect, useRef, useState } from 'react';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { cellsOf } from '../../image-view/cells';
import { drawBitmaps } from '../../image-view/paint';
import type { Middle } from './part';
import type { Finished } from './use-finished';
import { clamp } from '@owl-loom/base/clamp';

/** Room for the picture, in screen pixels. */
const ROOM = { width: 340, height: 250 } as const;

/** The finished picture, and the part of it that is written: a drag moves that, or draws it anew. */
export function PartPreview({
  finished,
  part,
  onMiddle,
  onFrame,
}: {
  finished: Finished;
  part: Rect | undefined;
  /** Takes a drag for the place where the part's middle is wanted. */
  onMiddle?: (middle: Middle) => void;
  /** Takes a drag for the part itself. */
  onFrame?: (rect: Rect) => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [from, setFrom] = useState<Middle>();
  const { extent, size, orient, sheet } = finished;
  const zoom = Math.min(ROOM.width / size.width, ROOM.height / size.height);
  const shown = { width: Math.round(size.width * zoom), height: Math.round(size.height * zoom) };
  useEffect(() => {
    if (!canvas.current) return;
    const { turn = 0, flip = 'none', degrees = 0 } = orient;
    const viewport = { cx: extent.x + (extent.width - 1) / 2, cy: extent.y + (extent.height - 1) / 2, zoom };
    const pane = { ...shown, turn, flip, degrees };
    const { cells } = cellsOf(shown, 'off');
    drawBitmaps(canvas.current, shown, sheet, viewport, { pane, cells, compare: 'off', edge: 0, blinked: false });
  });
  const at = (event: PointerEvent<HTMLDivElement>): Middle => {
    const box = event.currentTarget.getBoundingClientRect();
    return {
      x: clamp((event.clientX - box.left) / box.width, 0, 1),
      y: clamp(1 - (event.clientY - box.top) / box.height, 0, 1),
    };
  };
  const drag = (event: PointerEvent<HTMLDivElement>, began: Middle): void => {
    const to = at(event);
    onMiddle?.(to);
    onFrame?.({
      x: Math.min(began.x, to.x) * size.width,
      y: Math.min(began.y, to.y) * size.height,
      width: Math.abs(began.x - to.x) * size.width,
      height: Math.abs(began.y - to.y) * size.height,
    });
  };
  const percent = (v: number, of: number): string => `${(100 * v) / of}%`;
  return (
    <div
      className="grid place-items-center rounded-lg border border-edge bg-pit p-2"
      style={{ minHeight: ROOM.height }}
    >
      <div
        className={`relative touch-none overflow-hidden ${onMiddle ? 'cursor-move' : onFrame ? 'cursor-crosshair' : ''}`}
        style={shown}
        data-testid="part"
        onPointerDown={(event) => {
          if (!onMiddle && !onFrame) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          setFrom(at(event));
          if (onMiddle) drag(event, at(event));
        }}
        onPointerMove={(event) => from && drag(event, from)}
        onPointerUp={() => setFrom(undefined)}
      >
        <canvas ref={canvas} style={shown} role="img" aria-label="The finished picture" />
        {!sheet && (
          <p role="status" className="absolute inset-0 grid place-items-center text-[13px] text-hush">
            Drawing the picture …
          </p>
        )}
        {part && (
          <div
            className="pointer-events-none absolute border border-white shadow-[0_0_0_2000px_rgb(0_0_0/0.6)]"
            style={{
              left: percent(part.x, size.width),
              bottom: percent(part.y, size.height),
              width: percent(part.width, size.width),
              height: percent(part.height, size.height),
            }}
          />
        )}
      </div>
    </div>
  );
}
