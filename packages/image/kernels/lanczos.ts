import { type Affine, mapPoint } from '../geometry/affine';
import type { Rect } from '../geometry/rect';
import { POSITION_QUANTUM, LOBES, lanczos, STEPS, TABLE } from './lanczos-table';
import { resampleSimd } from './resample-simd';
import { wasmKernels } from './wasm';

function weightsAt(fraction: number, out: Float64Array): void {
  const at = fraction * STEPS;
  const s = Math.min(STEPS - 1, Math.floor(at));
  const t = at - s;
  for (let k = 0; k < 6; k++) {
    const w = TABLE[s * 6 + k];
    out[k] = w + (TABLE[s * 6 + 6 + k] - w) * t;
  }
}

/** How many source pixels one output pixel spans, 1 at least: beyond 1 the kernel widens, so that what is finer does not alias. */
export const sourceSpan = (back: Affine): number => {
  const span = Math.max(Math.hypot(back.xx, back.yx), Math.hypot(back.xy, back.yy));
  return span > 1.02 ? span : 1;
};

/** Source pixels needed beyond where the middle of an output pixel falls. */
export const lanczosMargin = (back: Affine): number => Math.ceil(LOBES * sourceSpan(back)) + 1;

/**
 * Resamples a plane by Lanczos-3, each value held within the range of the source pixels that it is made of, so that stars get no dark
 * rings. A pixel is no data where the source pixel nearest to it is; other absent pixels are left out of the sum.
 * @param back map from an output pixel to the source, both in the pixels of one level
 */
export function resample(source: Float32Array, sourceRect: Rect, back: Affine, out: Float32Array, outRect: Rect): void {
  if (sourceSpan(back) > 1) {
    resampleWide(source, sourceRect, back, out, outRect);
    return;
  }
  const wasm = wasmKernels();
  if (wasm) resampleSimd(wasm, source, sourceRect, back, out, outRect);
  else resamplePlain(source, sourceRect, back, out, outRect);
}

/** {@link resample} in plain TypeScript, where an output pixel spans no more than one of the source: what the WebAssembly is held to. */
export function resamplePlain(
  source: Float32Array,
  sourceRect: Rect,
  back: Affine,
  out: Float32Array,
  outRect: Rect,
): void {
  const { width, height } = sourceRect;
  const wx = new Float64Array(6);
  const wy = new Float64Array(6);
  for (let r = 0, i = 0; r < outRect.height; r++) {
    for (let c = 0; c < outRect.width; c++, i++) {
      // Written out: a call that gives a pair would make one for every pixel.
      const px = outRect.x + c;
      const py = outRect.y + r;
      const x =
        Math.round((back.xx * px + back.xy * py + back.tx - sourceRect.x) * POSITION_QUANTUM) / POSITION_QUANTUM;
      const y =
        Math.round((back.yx * px + back.yy * py + back.ty - sourceRect.y) * POSITION_QUANTUM) / POSITION_QUANTUM;
      const x0 = Math.floor(x);
      const y0 = Math.floor(y);
      const nx = Math.round(x);
      const ny = Math.round(y);
      const nearest = nx >= 0 && ny >= 0 && nx < width && ny < height ? source[ny * width + nx] : Number.NaN;
      if (nearest !== nearest) {
        out[i] = Number.NaN;
        continue;
      }
      weightsAt(x - x0, wx);
      weightsAt(y - y0, wy);
      const inside = x0 >= 2 && y0 >= 2 && x0 + 3 < width && y0 + 3 < height;
      let sum = 0;
      let low = nearest;
      let high = nearest;
      if (inside) {
        for (let k = 0; k < 6; k++) {
          const at = (y0 - 2 + k) * width + x0 - 2;
          const a = source[at];
          const b = source[at + 1];
          const d = source[at + 2];
          const e = source[at + 3];
          const f = source[at + 4];
          const g = source[at + 5];
          sum += wy[k] * (wx[0] * a + wx[1] * b + wx[2] * d + wx[3] * e + wx[4] * f + wx[5] * g);
          const m1 = a < b ? a : b;
          const m2 = d < e ? d : e;
          const m3 = f < g ? f : g;
          const m = m1 < m2 ? (m1 < m3 ? m1 : m3) : m2 < m3 ? m2 : m3;
          if (m < low) low = m;
          const n1 = a > b ? a : b;
          const n2 = d > e ? d : e;
          const n3 = f > g ? f : g;
          const n = n1 > n2 ? (n1 > n3 ? n1 : n3) : n2 > n3 ? n2 : n3;
          if (n > high) high = n;
        }
      }
      out[i] =
        inside && sum === sum
          ? Math.min(high, Math.max(low, sum))
          : partial(source, width, height, x0, y0, wx, wy, nearest);
    }
  }
}

/** The same where some of the 6x6 pixels are absent: those that are there, their weights brought back to 1. */
function partial(
  source: Float32Array,
  width: number,
  height: number,
  x0: number,
  y0: number,
  wx: Float64Array,
  wy: Float64Array,
  nearest: number,
): number {
  let sum = 0;
  let weight = 0;
  let low = nearest;
  let high = nearest;
  for (let k = 0; k < 6; k++) {
    const y = y0 - 2 + k;
    if (y < 0 || y >= height) continue;
    for (let j = 0; j < 6; j++) {
      const x = x0 - 2 + j;
      const v = x >= 0 && x < width ? source[y * width + x] : Number.NaN;
      if (v !== v) continue;
      const w = wx[j] * wy[k];
      sum += w * v;
      weight += w;
      if (v < low) low = v;
      if (v > high) high = v;
    }
  }
  // With most of the weight gone the rest would be blown up.
  return weight > 0.4 ? Math.min(high, Math.max(low, sum / weight)) : nearest;
}

/** The kernel widened to the span of an output pixel. */
function resampleWide(source: Float32Array, sourceRect: Rect, back: Affine, out: Float32Array, outRect: Rect): void {
  const { width, height } = sourceRect;
  const span = sourceSpan(back);
  const reach = LOBES * span;
  for (let r = 0, i = 0; r < outRect.height; r++) {
    for (let c = 0; c < outRect.width; c++, i++) {
      const [fx, fy] = mapPoint(back, outRect.x + c, outRect.y + r);
      const x = fx - sourceRect.x;
      const y = fy - sourceRect.y;
      const nx = Math.round(x);
      const ny = Math.round(y);
      const nearest = nx >= 0 && ny >= 0 && nx < width && ny < height ? source[ny * width + nx] : Number.NaN;
      if (nearest !== nearest) {
        out[i] = Number.NaN;
        continue;
      }
      let sum = 0;
      let weight = 0;
      let low = nearest;
      let high = nearest;
      for (let v = Math.max(0, Math.ceil(y - reach)); v <= Math.min(height - 1, Math.floor(y + reach)); v++) {
        const wv = lanczos((v - y) / span);
        for (let u = Math.max(0, Math.ceil(x - reach)); u <= Math.min(width - 1, Math.floor(x + reach)); u++) {
          const value = source[v * width + u];
          if (value !== value) continue;
          const w = wv * lanczos((u - x) / span);
          sum += w * value;
          weight += w;
          if (value < low) low = value;
          if (value > high) high = value;
        }
      }
      out[i] = weight > 0.4 * span * span ? Math.min(high, Math.max(low, sum / weight)) : nearest;
    }
  }
}

/** Copies a plane through a map that takes pixels onto pixels; no data where the source has none. */
export function copyPixelAligned(
  source: Float32Array,
  sourceRect: Rect,
  back: Affine,
  out: Float32Array,
  outRect: Rect,
): void {
  const { width, height } = sourceRect;
  for (let r = 0, i = 0; r < outRect.height; r++) {
    const [fx, fy] = mapPoint(back, outRect.x, outRect.y + r);
    let x = Math.round(fx) - sourceRect.x;
    let y = Math.round(fy) - sourceRect.y;
    for (let c = 0; c < outRect.width; c++, i++, x += back.xx, y += back.yx) {
      out[i] = x >= 0 && y >= 0 && x < width && y < height ? source[y * width + x] : Number.NaN;
    }
  }
}
