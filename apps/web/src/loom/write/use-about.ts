import { useEffect, useState } from 'react';
import { type Rect, intersect } from '@owl-loom/image/geometry/rect';
import { rectAtLevel } from '@owl-loom/image/pyramid/pyramid';
import { useSession } from '../../session/session';
import type { Size } from './part';

/** Side of the piece of the picture by which compressed sizes are told, in its own pixels. */
const PIECE = 512;

/** Bytes of a compressed file of a picture, about: from a piece out of its middle, as the browser packs it. */
export interface About {
  readonly jpg: number;
  readonly png: number;
}

const packed = (canvas: OffscreenCanvas, options: ImageEncodeOptions): Promise<number> =>
  canvas.convertToBlob(options).then(({ size }) => size);

/** The browser halves the colours of a JPEG both ways, which ours does not; and 16 bits hold twice the bytes, which hardly pack. */
const WHOLE_COLOURS = 1.3;

/**
 * About how large compressed files become.
 * @param extent of the finished picture in the frame
 * @param written size in which it is written
 * @param share width of what is written over the width that it has in the frame
 */
export function useCompressedSize(
  extent: Rect | undefined,
  written: Size,
  share: number,
  quality: number,
): About | undefined {
  const { engine } = useSession();
  const [about, setAbout] = useState<About>();
  const level = Math.max(0, Math.round(-Math.log2(share)));
  const key = extent && JSON.stringify(extent);
  const pixels = written.width * written.height;
  useEffect(() => {
    if (!key) return undefined;
    let over = false;
    const whole = rectAtLevel(JSON.parse(key) as Rect, level);
    const piece = {
      x: whole.x + Math.floor((whole.width - PIECE) / 2),
      y: whole.y + Math.floor((whole.height - PIECE) / 2),
      width: PIECE,
      height: PIECE,
    };
    const tell = async (): Promise<About> => {
      const rect = intersect(piece, whole);
      const { bitmap } = await engine.ask({ type: 'draw', path: 'cloth', rect, level, display: { mode: 'true' } });
      const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
      canvas.getContext('2d')?.drawImage(bitmap, 0, 0);
      bitmap.close();
      const by = pixels / (rect.width * rect.height);
      const jpg = await packed(canvas, { type: 'image/jpeg', quality: quality / 100 });
      return { jpg: WHOLE_COLOURS * by * jpg, png: by * (await packed(canvas, { type: 'image/png' })) };
    };
    // A slider on its way needs no answer at every stop.
    const timer = setTimeout(
      () =>
        void tell().then(
          (found) => !over && setAbout(found),
          () => !over && setAbout(undefined),
        ),
      150,
    );
    return () => {
      over = true;
      clearTimeout(timer);
    };
  }, [engine, key, level, pixels, quality]);
  return about;
}
