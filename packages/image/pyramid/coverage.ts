import { UserError } from '@owl-loom/base/errors';
import type { Raster } from '../raster/raster';
import { isEmpty, type Rect } from '../geometry/rect';

/** Writes 1 into `out` where a row is covered, else 0. */
type CoveredRow = (row: number, out: Uint8Array) => void;

/** Bars that rise from the row looked at, each lower than the next, in one piece of memory. */
class Bars {
  private readonly x: Int32Array;
  private readonly height: Int32Array;
  private count = 0;

  constructor(width: number) {
    this.x = new Int32Array(width + 1);
    this.height = new Int32Array(width + 1);
  }

  /** Height of the last bar, 0 where there is none. */
  get last(): number {
    return this.count > 0 ? this.height[this.count - 1] : 0;
  }

  push(x: number, height: number): void {
    this.x[this.count] = x;
    this.height[this.count++] = height;
  }

  /** Takes the last bar away and says where it began. */
  pop(): number {
    return this.x[--this.count];
  }
}

/** The largest rectangle of covered pixels: one pass over the rows with a stack of rising bars. */
export function largestWithin(width: number, height: number, covered: CoveredRow): Rect {
  const heights = new Int32Array(width);
  const row = new Uint8Array(width);
  const bars = new Bars(width);
  let best: Rect = { x: 0, y: 0, width: 0, height: 0 };
  let area = 0;
  for (let y = 0; y < height; y++) {
    covered(y, row);
    for (let x = 0; x < width; x++) heights[x] = row[x] ? heights[x] + 1 : 0;
    for (let x = 0; x <= width; x++) {
      const own = x < width ? heights[x] : 0;
      let start = x;
      while (bars.last > own) {
        const bar = bars.last;
        start = bars.pop();
        if (bar * (x - start) <= area) continue;
        area = bar * (x - start);
        best = { x: start, y: y - bar + 1, width: x - start, height: bar };
      }
      if (own > bars.last) bars.push(start, own);
    }
  }
  return best;
}

/**
 * The largest rectangle in which every image has data everywhere.
 * @param images all of one size and place
 * @throws UserError where no pixel is covered by all
 */
export function largestCovered(images: readonly Raster[]): Rect {
  const { x, y, width, height } = images[0].rect;
  const found = largestWithin(width, height, (row, out) => {
    out.fill(1);
    for (const image of images) {
      for (const plane of image.planes) {
        const at = row * width;
        for (let i = 0; i < width; i++) if (plane[at + i] !== plane[at + i]) out[i] = 0;
      }
    }
  });
  if (isEmpty(found))
    throw new UserError(
      'no-common',
      'The strands in use have no common area. Use the full frame, or check that the stacks overlap.',
      'cloth.extent',
    );
  return { ...found, x: x + found.x, y: y + found.y };
}
