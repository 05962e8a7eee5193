import { type WasmKernels, wasmKernels } from '@owl-loom/image/kernels/wasm';
import { forEachRowBand } from './row-bands';

/** Centre, width and roundness of a star by its moments. */
export interface Shape {
  readonly x: number;
  readonly y: number;
  /** σ along the longer and the shorter axis, pixels. */
  readonly long: number;
  readonly short: number;
}

export const SIGMA_TO_FWHM = 2 * Math.sqrt(2 * Math.log(2));

/** Half the side of the square that is looked at. */
const BOX = 8;
const SIDE = 2 * BOX + 1;
/** The weight never shrinks below this variance: on a narrower one the pixels' grid would show, and in the end one pixel be all. */
const NARROWEST = 1.6;

const patch = new Float64Array(SIDE * SIDE);
const across = new Float64Array(SIDE);
const up = new Float64Array(SIDE);

/**
 * Centre and widths by moments under a round Gaussian weight that is fitted to the star round by round (Bernstein & Jarvis 2002, circular
 * weight). What the weight takes from the moments is given back: of a Gaussian star 1/σ² = 1/m − 1/v, m the weighted moment and v the
 * variance of the weight.
 * @param base level about the star
 * @returns undefined where there is nothing of a star's shape
 */
export function shapeOf(
  values: Float32Array,
  width: number,
  height: number,
  x0: number,
  y0: number,
  base: number,
): Shape | undefined {
  for (let j = 0, k = 0; j < SIDE; j++) {
    const y = y0 - BOX + j;
    for (let i = 0; i < SIDE; i++, k++) {
      const x = x0 - BOX + i;
      const v = x >= 0 && y >= 0 && x < width && y < height ? values[y * width + x] - base : 0;
      patch[k] = v === v ? v : 0;
    }
  }
  let [cx, cy] = [BOX, BOX];
  let variance = 2;
  let shape: Shape | undefined;
  for (let round = 0; round < 24; round++) {
    // Beyond this many of its σ the weight leaves hardly anything.
    const reach = 3.3 * Math.sqrt(variance);
    const [left, right] = [Math.max(0, Math.ceil(cx - reach)), Math.min(SIDE - 1, Math.floor(cx + reach))];
    const [bottom, top] = [Math.max(0, Math.ceil(cy - reach)), Math.min(SIDE - 1, Math.floor(cy + reach))];
    const per = -1 / (2 * variance);
    for (let i = left; i <= right; i++) across[i] = Math.exp(per * (i - cx) * (i - cx));
    for (let j = bottom; j <= top; j++) up[j] = Math.exp(per * (j - cy) * (j - cy));
    let [w0, wx, wy, xx, yy, xy] = [0, 0, 0, 0, 0, 0];
    for (let j = bottom; j <= top; j++) {
      const dy = j - cy;
      let [r0, r1, r2] = [0, 0, 0];
      for (let i = left, k = j * SIDE + left; i <= right; i++, k++) {
        const weight = patch[k] * across[i];
        const dx = i - cx;
        r0 += weight;
        r1 += weight * dx;
        r2 += weight * dx * dx;
      }
      const u = up[j];
      w0 += u * r0;
      wx += u * r1;
      wy += u * r0 * dy;
      xx += u * r2;
      yy += u * r0 * dy * dy;
      xy += u * r1 * dy;
    }
    if (!(w0 > 0)) return undefined;
    const [mx, my] = [wx / w0, wy / w0];
    // The weight draws the centroid back towards where it stands: by half for a star as wide as itself.
    cx += 1.6 * mx;
    cy += 1.6 * my;
    if (Math.hypot(cx - BOX, cy - BOX) > 3) return undefined;
    const [a, b, c] = [xx / w0 - mx * mx, yy / w0 - my * my, xy / w0 - mx * my];
    const mean = (a + b) / 2;
    const half = Math.hypot((a - b) / 2, c);
    if (!(mean > 0.02) || !(mean < 0.93 * variance)) {
      // Wider than the weight can tell: it opens up, as long as the box holds it.
      variance *= 2;
      if (variance > BOX * BOX) return undefined;
      continue;
    }
    const own = (m: number) => (m * variance) / Math.max(0.05 * variance, variance - m);
    shape = {
      x: x0 - BOX + cx,
      y: y0 - BOX + cy,
      long: Math.sqrt(own(Math.min(mean + half, 0.95 * variance))),
      short: Math.sqrt(Math.max(0, own(Math.max(0, mean - half)))),
    };
    const next = Math.min((BOX * BOX) / 2, Math.max(NARROWEST, own(mean)));
    if (Math.abs(next - variance) < 4e-3 * variance && Math.hypot(mx, my) < 2e-3) break;
    variance = next;
  }
  return shape;
}

/** A peak whose shape is wanted: its pixel, and the level about it. */
interface Bump {
  readonly x: number;
  readonly y: number;
  readonly base: number;
}

/**
 * The shapes of many peaks, as {@link shapeOf} tells each; that the kernel's sums run in another order shows at the last digits of doubles.
 * @param bumps in rising rows
 */
export function shapesOf(
  values: Float32Array,
  width: number,
  height: number,
  bumps: readonly Bump[],
): (Shape | undefined)[] {
  const wasm = wasmKernels();
  return wasm
    ? shapesSimd(wasm, values, width, height, bumps)
    : bumps.map(({ x, y, base }) => shapeOf(values, width, height, x, y, base));
}

function shapesSimd(
  wasm: WasmKernels,
  values: Float32Array,
  width: number,
  height: number,
  bumps: readonly Bump[],
): (Shape | undefined)[] {
  const found: (Shape | undefined)[] = [];
  const rows = bumps.map(({ y }) => y);
  forEachRowBand(wasm, values, width, height, rows, BOX, (band) => {
    const own = bumps.slice(band.from, band.to);
    const peaks = wasm.putDoubles(own.flatMap(({ x, y, base }) => [x, y - band.foot, base]));
    const scratch = wasm.alloc(2 * (SIDE + 1) * (SIDE + 2));
    const out = wasm.alloc(8 * own.length);
    wasm.run.shapes(band.at, width, band.height, peaks, own.length, scratch, out);
    const results = wasm.doubles(out, 4 * own.length);
    own.forEach(({ x, y }, i) => {
      const [dx, dy, long, short] = results.subarray(4 * i, 4 * i + 4);
      found.push(short < 0 ? undefined : { x: x + dx, y: y + dy, long, short });
    });
  });
  return found;
}
