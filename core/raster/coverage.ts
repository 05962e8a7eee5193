import { UserError } from '../errors';
import type { Raster } from './raster';
import { isEmpty, type Rect } from './rect';

/** True where every plane of every image has data. */
function coveredRow(images: readonly Raster[], row: number, width: number, out: Uint8Array): void {
  out.fill(1);
  for (const image of images) {
    for (const plane of image.planes) {
      const at = row * width;
      for (let x = 0; x < width; x++) if (plane[at + x] !== plane[at + x]) out[x] = 0;
    }
  }
}

/**
 * The largest rectangle in which every image has data everywhere. One pass over the rows with a stack of rising bars.
 * @param images all of one size and place
 * @returns an empty rectangle where no pixel is covered by all
 */
export function mostCovered(images: readonly Raster[]): Rect {
  const { x: x0, y: y0, width, height } = images[0].rect;
  const bars = new Int32Array(width);
  const row = new Uint8Array(width);
  let best: Rect = { x: x0, y: y0, width: 0, height: 0 };
  for (let y = 0; y < height; y++) {
    coveredRow(images, y, width, row);
    const starts: { x: number; bar: number }[] = [];
    for (let x = 0; x <= width; x++) {
      if (x < width) bars[x] = row[x] ? bars[x] + 1 : 0;
      const bar = x < width ? bars[x] : 0;
      let start = x;
      while (starts.length > 0 && starts[starts.length - 1].bar >= bar) {
        const last = starts.pop();
        if (!last) break;
        start = last.x;
        if (last.bar * (x - last.x) > best.width * best.height) {
          best = { x: x0 + last.x, y: y0 + y - last.bar + 1, width: x - last.x, height: last.bar };
        }
      }
      if (bar > 0) starts.push({ x: start, bar });
    }
  }
  return best;
}

/**
 * {@link mostCovered}, where there must be such a rectangle.
 * @throws UserError where no pixel is covered by all
 */
export function largestCovered(images: readonly Raster[]): Rect {
  const found = mostCovered(images);
  if (isEmpty(found))
    throw new UserError(
      'no-common',
      'there is no place where every strand in use has data; use the frame as the extent, or check that the stacks overlap.',
      'cloth.extent',
    );
  return found;
}
