import type { Raster } from '../raster/raster';
import type { Apply } from '../steps/kind';
import { BLENDS, type BlendMode } from './modes';

const planeOf = (raster: Raster, p: number) => raster.planes[raster.planes.length === 1 ? 0 : p];

/**
 * Lays a layer on the cloth: `below + (blended − below) · opacity`. No data is transparent: where the layer has none the cloth stays,
 * where the cloth has none the layer lies on black.
 * Inputs: the cloth below, then the layer.
 */
export function layerKernel(mode: BlendMode, opacity: number): Apply {
  const lay = layWith(BLENDS[mode], opacity);
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
  return ([before, after], out) => {
    out.planes.forEach((target, p) => {
      const from = planeOf(before, p);
      const to = planeOf(after, p);
      for (let i = 0; i < target.length; i++) target[i] = from[i] + (to[i] - from[i]) * opacity;
    });
  };
}
