import { type HueRange, hueMembership, numbersOf } from '../colour/hue-membership';
import { labPlanes, labPlanesPlain } from '../colour/oklab-planes';
import type { PixelFunction } from '@owl-loom/image/pixel-function';
import { runOnPlanes } from '@owl-loom/image/kernels/planes';
import { wasmKernels } from '@owl-loom/image/kernels/wasm';

/**
 * The share of each pixel of a colour image in a family of hues; no data where any plane has none.
 * @param isCoded whether its numbers are coded by sRGB; else they are light
 */
export function hueMembershipPlane(
  planes: Float32Array[],
  range: HueRange,
  isCoded: boolean,
  target: Float32Array,
): void {
  const wasm = wasmKernels();
  if (!wasm) {
    hueSharesPlain(planes, range, isCoded, target);
    return;
  }
  const { a, b } = labPlanes({ planes }, isCoded ? 'stretched' : 'linear');
  const numbers = numbersOf(range);
  runOnPlanes(wasm, [a, b], [target], (n, [p, q], [to]) => wasm.run.hueShares(p, q, n, wasm.numbers(numbers), to));
}

/** {@link hueMembershipPlane} in plain TypeScript: the reference. */
export function hueSharesPlain(planes: Float32Array[], range: HueRange, isCoded: boolean, target: Float32Array): void {
  const share = hueMembership(range);
  const { a, b } = labPlanesPlain({ planes }, isCoded ? 'stretched' : 'linear');
  for (let i = 0; i < target.length; i++) target[i] = a[i] === a[i] ? share(a[i], b[i]) : Number.NaN;
}

/** {@link hueMembershipPlane} as a kernel. */
export const hueKernel =
  (range: HueRange, isCoded: boolean): PixelFunction =>
  ([{ planes }], out) =>
    hueMembershipPlane(planes, range, isCoded, out.planes[0]);
