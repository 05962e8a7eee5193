import type { PixelFunction } from '@owl-loom/image/pixel-function';
import { runOnPlanes } from '@owl-loom/image/kernels/planes';
import { type WasmKernels, wasmKernels } from '@owl-loom/image/kernels/wasm';
import { planeOf } from '@owl-loom/image/raster/raster';
import type { Triple } from '@owl-loom/base/triple';
import { BLENDS, type BlendMode } from './modes';

/** Modes that the kernels know, by their number there. */
const KERNEL_MODES: Partial<Record<BlendMode, number>> = {
  normal: 0,
  add: 1,
  subtract: 2,
  average: 3,
  'linear-light': 4,
  lighten: 5,
  darken: 6,
  multiply: 7,
  screen: 8,
  overlay: 9,
  'hard-light': 10,
  'soft-light': 11,
  'color-dodge': 12,
  'color-burn': 13,
  difference: 14,
  exclusion: 15,
};

/** How much of a layer or a step is taken at a pixel: the mask held to 0–1, no data in it as 0, times the opacity. */
const shareOf = (mask: Float32Array | undefined, i: number, opacity: number): number => {
  if (!mask) return opacity;
  const m = mask[i];
  return m > 0 ? Math.min(1, m) * opacity : 0;
};

/**
 * Lays a layer on the cloth: `below + (blended − below) · opacity · mask`. No data is transparent: where the layer has none the cloth
 * stays, where the cloth has none the layer lies on black.
 * Inputs: the cloth below, then the layer, then its mask where it has one.
 */
export function blendKernel(mode: BlendMode, opacity: number): PixelFunction {
  const blend = BLENDS[mode];
  const wasm = wasmKernels();
  if (blend.planes === 3) return wasm ? coloursBySimd(wasm, mode, opacity) : layColours(blend.of, opacity);
  const number = KERNEL_MODES[mode];
  if (!wasm || number === undefined) return layPlain(mode, opacity);
  return ([below, top, mask], out) => {
    out.planes.forEach((target, p) => {
      const from = [planeOf(below, p), planeOf(top, p), ...(mask?.planes ?? [])];
      runOnPlanes(wasm, from, [target], (n, [under, over, through = 0], [to]) =>
        wasm.run.lay(number, under, over, through, n, opacity, to),
      );
    });
  };
}

/** Modes of whole colours, by their number in the kernel. */
const COLOUR_MODES: readonly BlendMode[] = ['hue', 'saturation', 'color', 'luminosity'];

function coloursBySimd(wasm: WasmKernels, mode: BlendMode, opacity: number): PixelFunction {
  const plain = layPlain(mode, opacity);
  const number = COLOUR_MODES.indexOf(mode);
  return (inputs, out, tally) => {
    const [below, top, mask] = inputs;
    // Of two mono images a mono one is made.
    if (out.planes.length !== 3) return plain(inputs, out, tally);
    const from = [below, top].flatMap((raster) => [0, 1, 2].map((p) => planeOf(raster, p)));
    runOnPlanes(wasm, [...from, ...(mask?.planes ?? [])], out.planes, (n, at, to) => {
      const [br, bg, bb, tr, tg, tb, through = 0] = at;
      const [r, g, b] = to;
      wasm.run.layColours(number, br, bg, bb, tr, tg, tb, through, n, opacity, r, g, b);
    });
  };
}

/** {@link blendKernel} plane by plane in plain TypeScript: the reference. */
export function layPlain(mode: BlendMode, opacity: number): PixelFunction {
  const blend = BLENDS[mode];
  if (blend.planes === 3) return layColours(blend.of, opacity);
  const lay = layWith(blend.of, opacity);
  return ([below, top, mask], out) =>
    out.planes.forEach((target, p) => lay(planeOf(below, p), planeOf(top, p), mask?.planes[0], target));
}

type Lay = (under: Float32Array, over: Float32Array, mask: Float32Array | undefined, target: Float32Array) => void;

/** A loop for one blend function: made anew for each kernel, so that the engine can inline the one that it calls. */
function layWith(blend: (below: number, top: number) => number, opacity: number): Lay {
  return (under, over, mask, target) => {
    for (let i = 0; i < target.length; i++) {
      const b = under[i];
      const t = over[i];
      const share = shareOf(mask, i, opacity);
      if (t !== t) target[i] = b;
      else if (b !== b) target[i] = t * share;
      else target[i] = b + (blend(b, t) - b) * share;
    }
  };
}

/** A layer laid on by a mode of whole colours; where one of its planes has no data it is transparent in all. */
function layColours(blend: (below: Readonly<Triple>, top: Readonly<Triple>) => Triple, opacity: number): PixelFunction {
  return ([below, top, mask], out) => {
    const [br, bg, bb] = [0, 1, 2].map((p) => planeOf(below, p));
    const [tr, tg, tb] = [0, 1, 2].map((p) => planeOf(top, p));
    const { planes } = out;
    for (let i = 0; i < planes[0].length; i++) {
      const b: Triple = [br[i], bg[i], bb[i]];
      const t: Triple = [tr[i], tg[i], tb[i]];
      const absent = t.some(Number.isNaN);
      const onBlack = !absent && b.some(Number.isNaN);
      const mixed = absent || onBlack ? t : blend(b, t);
      const share = shareOf(mask?.planes[0], i, opacity);
      for (let p = 0; p < planes.length; p++) {
        planes[p][i] = absent ? b[p] : onBlack ? t[p] * share : b[p] + (mixed[p] - b[p]) * share;
      }
    }
  };
}

/** The lowest layer, which has nothing under it: it lies on black. Inputs: the layer, then its mask where it has one. */
export function bottomLayerKernel(opacity: number): PixelFunction {
  return ([top, mask], out) => {
    out.planes.forEach((target, p) => {
      const over = planeOf(top, p);
      for (let i = 0; i < target.length; i++) target[i] = over[i] * shareOf(mask?.planes[0], i, opacity);
    });
  };
}

/**
 * `before + (after − before) · opacity · mask`: a step taken in part. Where the mask hides all, it stays as before, whatever came after.
 * Inputs: before, then after, then the mask where there is one.
 */
export function partialStepKernel(opacity: number): PixelFunction {
  const wasm = wasmKernels();
  if (!wasm) return partPlain(opacity);
  return ([before, after, mask], out) => {
    out.planes.forEach((target, p) => {
      const from = [planeOf(before, p), planeOf(after, p), ...(mask?.planes ?? [])];
      runOnPlanes(wasm, from, [target], (n, [a, b, through = 0], [to]) => wasm.run.mix(a, b, through, n, opacity, to));
    });
  };
}

/** {@link partialStepKernel} in plain TypeScript: the reference. */
export function partPlain(opacity: number): PixelFunction {
  return ([before, after, mask], out) => {
    out.planes.forEach((target, p) => {
      const [from, to] = [planeOf(before, p), planeOf(after, p)];
      for (let i = 0; i < target.length; i++) {
        const share = shareOf(mask?.planes[0], i, opacity);
        target[i] = mask && share === 0 ? from[i] : from[i] + (to[i] - from[i]) * share;
      }
    });
  };
}
