import { type HueRange, hueShareOf, numbersOf } from '../colour/hue-share';
import { labPlanes, labPlanesPlain } from '../colour/oklab-planes';
import type { Apply } from '../engine/kernel';
import { overPlanes } from '../kernels/planes';
import { simd } from '../kernels/wasm';

/**
 * The share of each pixel of a colour image in a family of hues; no data where any plane has none.
 * @param isCoded whether its numbers are coded by sRGB; else they are light
 */
export function hueShares(planes: Float32Array[], range: HueRange, isCoded: boolean, target: Float32Array): void {
  const wasm = simd();
  if (!wasm) {
    hueSharesPlain(planes, range, isCoded, target);
    return;
  }
  const { a, b } = labPlanes({ planes }, isCoded ? 'stretched' : 'linear');
  const numbers = numbersOf(range);
  overPlanes(wasm, [a, b], [target], (n, [p, q], [to]) => wasm.run.hueShares(p, q, n, wasm.numbers(numbers), to));
}

/** {@link hueShares} in plain TypeScript: the reference. */
export function hueSharesPlain(planes: Float32Array[], range: HueRange, isCoded: boolean, target: Float32Array): void {
  const share = hueShareOf(range);
  const { a, b } = labPlanesPlain({ planes }, isCoded ? 'stretched' : 'linear');
  for (let i = 0; i < target.length; i++) target[i] = a[i] === a[i] ? share(a[i], b[i]) : Number.NaN;
}

/** {@link hueShares} as a kernel. */
export const hueKernel =
  (range: HueRange, isCoded: boolean): Apply =>
  ([{ planes }], out) =>
    hueShares(planes, range, isCoded, out.planes[0]);
