import type { Apply } from '../engine/kernel';
import { overPlanes } from '../kernels/planes';
import { simd } from '../kernels/wasm';
import type { Raster } from '../raster/raster';
import { BLENDS, type BlendMode, type Triple } from './modes';

const planeOf = (raster: Raster, p: number) => raster.planes[raster.planes.length === 1 ? 0 : p];

/** Modes that the kernels know, by their number there. */
const IN_KERNELS: Partial<Record<BlendMode, number>> = { normal: 0, add: 1, screen: 2, lighten: 3 };

/**
 * Lays a layer on the cloth: `below + (blended − below) · opacity`. No data is transparent: where the layer has none the cloth stays,
 * where the cloth has none the layer lies on black.
 * Inputs: the cloth below, then the layer.
 */
export function layKernel(mode: BlendMode, opacity: number): Apply {
  const blend = BLENDS[mode];
  if (blend.planes === 3) return layColours(blend.of, opacity);
  const wasm = simd();
  const number = IN_KERNELS[mode];
  if (!wasm || number === undefined) return layPlain(mode, opacity);
  return ([below, top], out) => {
    out.planes.forEach((target, p) => {
      overPlanes(wasm, [planeOf(below, p), planeOf(top, p)], [target], (n, [under, over], [to]) =>
        wasm.run.lay(number, under, over, n, opacity, to),
      );
    });
  };
}

/** {@link layKernel} plane by plane in plain TypeScript: the reference. */
export function layPlain(mode: BlendMode, opacity: number): Apply {
  const blend = BLENDS[mode];
  if (blend.planes === 3) return layColours(blend.of, opacity);
  const lay = layWith(blend.of, opacity);
  return ([below, top], out) => out.planes.forEach((target, p) => lay(planeOf(below, p), planeOf(top, p), target));
}

/** A loop for one blend function: made anew for each kernel, so that the engine can inline the one that it calls. */
function layWith(
  blend: (below: number, top: number) => number,
  opacity: number,
): (under: Float32Array, over: Float32Array, target: Float32Array) => void {
  return (under, over, target) => {
    for (let i = 0; i < target.length; i++) {
      const b = under[i];
      const t = over[i];
      if (t !== t) target[i] = b;
      else if (b !== b) target[i] = t * opacity;
      else target[i] = b + (blend(b, t) - b) * opacity;
    }
  };
}

/** A layer laid on by a mode of whole colours; where one of its planes has no data it is transparent in all. */
function layColours(blend: (below: Readonly<Triple>, top: Readonly<Triple>) => Triple, opacity: number): Apply {
  return ([below, top], out) => {
    const [br, bg, bb] = [0, 1, 2].map((p) => planeOf(below, p));
    const [tr, tg, tb] = [0, 1, 2].map((p) => planeOf(top, p));
    const { planes } = out;
    for (let i = 0; i < planes[0].length; i++) {
      const b: Triple = [br[i], bg[i], bb[i]];
      const t: Triple = [tr[i], tg[i], tb[i]];
      const absent = t.some(Number.isNaN);
      const onBlack = !absent && b.some(Number.isNaN);
      const mixed = absent || onBlack ? t : blend(b, t);
      for (let p = 0; p < planes.length; p++) {
        planes[p][i] = absent ? b[p] : onBlack ? t[p] * opacity : b[p] + (mixed[p] - b[p]) * opacity;
      }
    }
  };
}

/** The lowest layer, which has nothing under it: it lies on black. */
export function groundKernel(opacity: number): Apply {
  return ([top], out) => {
    out.planes.forEach((target, p) => {
      const over = planeOf(top, p);
      for (let i = 0; i < target.length; i++) target[i] = over[i] * opacity;
    });
  };
}

/** `before + (after − before) · opacity`: a step taken in part. Inputs: before, then after. */
export function partKernel(opacity: number): Apply {
  const wasm = simd();
  return ([before, after], out) => {
    out.planes.forEach((target, p) => {
      const [from, to] = [planeOf(before, p), planeOf(after, p)];
      if (wasm) overPlanes(wasm, [from, to], [target], (n, [a, b], [at]) => wasm.run.mix(a, b, n, opacity, at));
      else for (let i = 0; i < target.length; i++) target[i] = from[i] + (to[i] - from[i]) * opacity;
    });
  };
}
