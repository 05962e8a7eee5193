import { useRef } from 'react';
import { useAppSelector } from '../../store/store';
import { usePicture, useSession } from '../../session/session';
import { type ViewSize, matrix } from '../../image-view/viewport';
import { useKeyedEffect } from '../../ui/use-keyed-effect';

/** Side of the loupe on screen, and how many full-size pixels it shows across. */
const SIDE = 176;
const ACROSS = 44;

/** A small window at the pointer in which single pixels can be seen, computed at full size. */
export function Loupe({
  pointer,
  path,
  size,
  turned,
}: {
  pointer: { x: number; y: number; sx: number; sy: number };
  path: string;
  size: { width: number; height: number };
  turned: ViewSize;
}) {
  const { engine } = useSession();
  const { shown } = usePicture();
  const canvas = useRef<HTMLCanvasElement>(null);
  const view = useAppSelector((state) => state.view);
  const { x, y } = pointer;

  // A new picture means new pixels under the loupe.
  useKeyedEffect(() => {
    let over = false;
    const rect = { x: x - ACROSS / 2, y: y - ACROSS / 2, width: ACROSS, height: ACROSS };
    const anchor = view.anchor && path.startsWith('strands') ? view.anchor : undefined;
    engine
      .ask({ type: 'draw', path, rect, level: 0, display: { mode: view.mode, anchor, clipping: view.clipping } })
      .then(
        ({ bitmap }) => {
          const context = canvas.current?.getContext('2d');
          if (!over && context) {
            context.imageSmoothingEnabled = false;
            context.setTransform(1, 0, 0, 1, 0, 0);
            context.clearRect(0, 0, SIDE, SIDE);
            const [a, b, c, d] = matrix({ cx: 0, cy: 0, zoom: SIDE / ACROSS }, turned);
            context.setTransform(a, b, c, d, SIDE / 2, SIDE / 2);
            context.scale(1, -1);
            context.drawImage(bitmap, -ACROSS / 2, -ACROSS / 2);
          }
          bitmap.close();
        },
        // A picture that cannot be computed is explained in the state line.
        () => undefined,
      );
    return () => {
      over = true;
    };
  }, [engine, path, x, y, view.mode, view.anchor, view.clipping, shown, turned]);

  const left = pointer.sx + 24 + SIDE > size.width ? pointer.sx - 24 - SIDE : pointer.sx + 24;
  const top = Math.min(Math.max(8, pointer.sy - SIDE / 2), size.height - SIDE - 8);
  return (
    <canvas
      ref={canvas}
      width={SIDE}
      height={SIDE}
      aria-label="Loupe"
      className="pointer-events-none absolute rounded-lg border border-rim bg-pit shadow-2xl"
      style={{ left, top, width: SIDE, height: SIDE }}
    />
  );
}
