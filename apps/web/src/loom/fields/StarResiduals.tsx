import { useRef } from 'react';
import { useHash, useSession } from '../../session/session';
import { useKeyedEffect } from '../../ui/use-keyed-effect';

/** Side of each picture on screen, and how many pixels it shows across. */
const SIDE = 44;
const ACROSS = 22;

/** What is left of a few bright stars, enlarged: bright where too little was taken off, dark where too much. */
export function Leftovers({ path, spots }: { path: string; spots: readonly (readonly [number, number])[] }) {
  const { engine } = useSession();
  const row = useRef<HTMLDivElement>(null);
  const hash = useHash(path);
  // The hash stands for the pixels.
  useKeyedEffect(() => {
    let over = false;
    const draw = async (): Promise<void> => {
      for (const [i, [x, y]] of spots.entries()) {
        const rect = { x: x - ACROSS / 2, y: y - ACROSS / 2, width: ACROSS, height: ACROSS };
        const { bitmap } = await engine.ask({ type: 'draw', path, rect, level: 0, display: { mode: 'bright' } });
        const context = (row.current?.children[i] as HTMLCanvasElement | undefined)?.getContext('2d');
        if (!over && context) {
          context.imageSmoothingEnabled = false;
          context.drawImage(bitmap, 0, 0, 2 * SIDE, 2 * SIDE);
        }
        bitmap.close();
        if (over) return;
      }
    };
    // A state that cannot be computed has its sentence on the picture.
    draw().catch(() => undefined);
    return () => {
      over = true;
    };
  }, [engine, path, hash, spots]);
  return (
    <figure>
      <div ref={row} className="flex justify-between">
        {spots.map(([x, y]) => (
          <canvas
            key={`${x} ${y}`}
            width={2 * SIDE}
            height={2 * SIDE}
            className="rounded border border-edge"
            style={{ width: SIDE, height: SIDE }}
          />
        ))}
      </div>
      <figcaption className="mt-1 text-[12px] text-hush">Residuals of the brightest stars, enlarged</figcaption>
    </figure>
  );
}
