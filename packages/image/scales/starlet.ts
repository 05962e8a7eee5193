import { B3, smooth, smoothWithResidual } from '../kernels/smooth';
import { cropPlane } from '../raster/raster';
import { contains, type Rect } from '../geometry/rect';
import { maskedDifference, validityMask } from '../kernels/validity';
import { blockMeans, upsample, subtractUpsampled } from '../kernels/cells';
import { type CoarseGrid, zeroFilled } from '../kernels/grid';

/** Scales up to this one are taken on the pixels, the wider ones on cells of eight pixels: what they hold is smooth by then. */
const FINE_SCALES = 4;
const CELL = 8;

/** Pixels needed around a window for scales 1 to `scales`: twice the spacing of each, and the cells' own reach. */
export const starletMargin = (scales: number): number => 2 * (2 ** scales - 1) + (scales > FINE_SCALES ? 3 * CELL : 0);

/** One starlet scale or what is left after the last, on the window that was asked for. */
export type Scale = Float32Array;

/** Smooths cells of eight pixels whose values were taken at their middles. */
function middles(plane: Float32Array, rect: Rect): CoarseGrid {
  // The middle of a cell of eight lies between pixels 3 and 4: the mean of those four is the value there.
  const x0 = Math.floor(rect.x / CELL);
  const y0 = Math.floor(rect.y / CELL);
  const cells = {
    x: x0,
    y: y0,
    width: Math.ceil((rect.x + rect.width) / CELL) - x0,
    height: Math.ceil((rect.y + rect.height) / CELL) - y0,
  };
  const means = blockMeans(plane, rect, CELL);
  const values = means.values;
  for (let r = 0; r < cells.height; r++) {
    for (let c = 0; c < cells.width; c++) {
      const x = (cells.x + c) * CELL + 3 - rect.x;
      const y = (cells.y + r) * CELL + 3 - rect.y;
      if (x < 0 || y < 0 || x + 1 >= rect.width || y + 1 >= rect.height) continue;
      const at = y * rect.width + x;
      const middle = (plane[at] + plane[at + 1] + plane[at + rect.width] + plane[at + rect.width + 1]) / 4;
      if (middle === middle) values[r * cells.width + c] = middle;
    }
  }
  return { n: CELL, rect: cells, values };
}

/**
 * The starlet transform (à trous with the B3 spline): scale j is smoothing j − 1 less smoothing j. All scales and the residual add up to
 * the plane. No data counts as absent and stays no data.
 * @param window what is wanted; the plane should reach {@link starletMargin} beyond it, or to the end of the data
 * @returns scales 1 to `scales`, then the residual
 */
export function starlet(plane: Float32Array, rect: Rect, scales: number, window: Rect): Scale[] {
  const there = validityMask(plane);
  const out: Scale[] = [];
  let current = plane;
  for (let j = 1; j <= Math.min(scales, FINE_SCALES); j++) {
    // A smoothing is of no use once it is smoothed itself: the scale takes its place. Only the plane itself stays as it is.
    const into = current === plane ? new Float32Array(plane.length) : current;
    current = smoothWithResidual(current, rect.width, rect.height, B3, 2 ** (j - 1), there, { into, where: plane });
    out.push(cropPlane(into, rect, window));
  }
  const own = cropPlane(plane, rect, window);
  const last = cropPlane(current, rect, window);
  if (scales > FINE_SCALES) {
    const first = middles(there ? maskedDifference(current, undefined, plane) : current, rect);
    // What lies beyond the plane has no data either.
    const holed = there !== undefined || !contains(rect, window);
    return [...out, ...wideScales(first, scales, last, holed ? own : undefined, window)];
  }
  return [...out, there || last === own ? maskedDifference(last, undefined, own) : last];
}

/**
 * The scales from the fifth on and the residual. They are taken on the cells, where they are differences as they are on the pixels, and
 * brought back to the pixels only then.
 * @param first the fourth smoothing on the cells
 * @param last the same on the window's pixels, which becomes the fifth scale
 * @param own the window's pixels, where some are absent
 */
function wideScales(
  first: CoarseGrid,
  scales: number,
  last: Float32Array,
  own: Float32Array | undefined,
  window: Rect,
): Scale[] {
  const wide = (coarse: CoarseGrid): Scale => {
    const plane = upsample(coarse, window);
    return own ? maskedDifference(plane, undefined, own, plane) : plane;
  };
  const out: Scale[] = [];
  const cells = validityMask(first.values);
  let before = first;
  for (let j = FINE_SCALES + 1; j <= scales; j++) {
    const { width, height } = before.rect;
    const values = zeroFilled(smooth(before.values, width, height, B3, 2 ** (j - 1) / CELL, cells));
    const coarse = { ...before, values };
    if (before === first) {
      subtractUpsampled(coarse, window, { into: last, where: own ?? last });
      out.push(last);
    } else out.push(wide({ ...coarse, values: before.values.map((v, i) => v - values[i]) }));
    before = coarse;
  }
  return [...out, wide(before)];
}

/**
 * What is left of white noise of σ 1 in a scale: the norm of the scale's kernel, which the square of the B3 spline gives exactly up to the
 * fourth; beyond that each scale keeps half of what the one before did.
 */
export const noiseInScale = (scale: number): number =>
  scale <= NOISE.length ? NOISE[scale - 1] : NOISE[NOISE.length - 1] * 0.5 ** (scale - NOISE.length);

/** Norms of the kernels of scales 1 to 5, from the kernels themselves. */
const NOISE: readonly number[] = norms(5);

function norms(scales: number): number[] {
  const reach = 2 * (2 ** scales - 1);
  const side = 2 * reach + 1;
  // The kernels of rows and columns are the same, so one line of each smoothing tells all.
  let line = new Float64Array(side);
  line[reach] = 1;
  const lines = [line];
  for (let j = 1; j <= scales; j++) {
    const step = 2 ** (j - 1);
    const next = new Float64Array(side);
    for (let i = 0; i < side; i++) {
      for (let k = -2; k <= 2; k++) next[i] += B3[Math.abs(k)] * (line[i + k * step] ?? 0);
    }
    line = next;
    lines.push(line);
  }
  const dot = (a: Float64Array, b: Float64Array) => a.reduce((sum, v, i) => sum + v * b[i], 0);
  // |a⊗a − b⊗b|² = (a·a)² − 2 (a·b)² + (b·b)².
  return lines.slice(1).map((b, j) => {
    const a = lines[j];
    return Math.sqrt(dot(a, a) ** 2 - 2 * dot(a, b) ** 2 + dot(b, b) ** 2);
  });
}
