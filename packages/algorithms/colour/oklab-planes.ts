import type { Domain } from '@owl-loom/image/pixel-function';
import { runOnPlanes } from '@owl-loom/image/kernels/planes';
import { wasmKernels } from '@owl-loom/image/kernels/wasm';
import { planeOf, type Raster } from '@owl-loom/image/raster/raster';
import { linearToOklab } from './oklch';
import { srgbToLinearFast } from './tables';

/** L, a and b of an image's pixels; no data in all three where any of its planes has none. */
export interface LabPlanes {
  readonly l: Float32Array;
  readonly a: Float32Array;
  readonly b: Float32Array;
}

type Image = Pick<Raster, 'planes'>;

const planesLike = ({ planes: [{ length }] }: Image): LabPlanes => ({
  l: new Float32Array(length),
  a: new Float32Array(length),
  b: new Float32Array(length),
});

/**
 * OKLab of an image.
 * @param domain stretched numbers are decoded by sRGB, others are light
 */
export function labPlanes(image: Image, domain: Domain): LabPlanes {
  const wasm = wasmKernels();
  if (!wasm) return labPlanesPlain(image, domain);
  const out = planesLike(image);
  const inputs = [0, 1, 2].map((p) => planeOf(image, p));
  runOnPlanes(wasm, inputs, [out.l, out.a, out.b], (n, from, to) =>
    wasm.run.labColours(wasm.pointers([...from, ...to]), n, domain === 'stretched'),
  );
  return out;
}

/** {@link labPlanes} in plain TypeScript: the reference. */
export function labPlanesPlain(image: Image, domain: Domain): LabPlanes {
  const out = planesLike(image);
  const [r, g, b] = [0, 1, 2].map((p) => planeOf(image, p));
  const light = domain === 'stretched' ? srgbToLinearFast : (v: number) => v;
  for (let i = 0; i < r.length; i++)
    [out.l[i], out.a[i], out.b[i]] = linearToOklab([light(r[i]), light(g[i]), light(b[i])]);
  return out;
}
