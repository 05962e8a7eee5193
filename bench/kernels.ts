import { saturate, turnHues } from '../core/colour/families';
import { linearFit } from '../core/fit/linear';
import { mixKernel } from '../core/mix/mix';
import { newRaster, windowOf } from '../core/raster/raster';
import type { Rect } from '../core/raster/rect';
import { toneOf } from '../core/stats/tone';
import { stretch } from '../core/steps/stretch';
import { madePlane, shortest } from './made';
import { stepKernels } from './steps';

/** Single kernels on one core and 24 megapixels, as multiples of a plain copy of the same three planes. */
export function kernels(): Record<string, number> {
  const rect = { x: 0, y: 0, width: 6000, height: 4000 };
  const planes = [1, 2, 3].map((seed) => madePlane(rect.width, rect.height, seed));
  const out = newRaster(rect, 3);
  const copy = shortest(5, () => planes.forEach((plane, p) => out.planes[p].set(plane)));
  const inputs = planes.map((plane) => ({ rect, planes: [plane] }));
  const mix = mixKernel({
    columns: [
      [1, 0.2, 0],
      [0.3, 0.7, 0.1],
      [0, 0.4, 1],
    ],
    share: true,
    gains: [1, 1, 1].map((gain) => ({ gain, sky: [0] })),
  });
  const none = () => {
    throw new Error('a stretch needs no other image');
  };
  const place = {
    input: { node: 0, planes: 3 as const, domain: 'linear' as const, extent: rect },
    others: [],
    origin: rect,
    frame: rect,
    path: '',
    derive: none,
    alike: none,
  };
  const stretched = stretch
    .build?.({ curve: 'asinh', black: 0.01, white: 1, strength: 100, target: 0.16, colour: 'linked' }, place)
    .kernel.bind([], 0);
  if (!stretched) throw new Error('the stretch does nothing');
  const [reference, target] = planes;
  // Strip by strip, as the engine runs them.
  const strips = Array.from(
    { length: Math.ceil(rect.height / 3) },
    (_, i): Rect => ({ x: 0, y: 3 * i, width: rect.width, height: Math.min(3, rect.height - 3 * i) }),
  );
  const part = (from: readonly Float32Array[], strip: Rect) => ({
    rect: strip,
    planes: from.map((plane) => windowOf(plane, rect, strip)),
  });
  return {
    mix:
      shortest(4, () =>
        strips.forEach((s) =>
          mix(
            inputs.map((input) => part(input.planes, s)),
            part(out.planes, s),
            () => undefined,
          ),
        ),
      ) / copy,
    stretch:
      shortest(4, () => strips.forEach((s) => stretched([part(planes, s)], part(out.planes, s), () => undefined))) /
      copy,
    tone: shortest(2, () => void toneOf(reference, rect)) / (copy / 3),
    linearFit:
      shortest(2, () => void linearFit({ reference, target, width: rect.width, height: rect.height }, 'levels')) /
      (copy * (2 / 3)),
  };
}

/** Steps on the colours of a stretched image of 24 megapixels, as multiples of a plain copy of its three planes. */
export function coloursOverCopy(): Record<string, number> {
  const planes = [1, 2, 3].map((seed) => madePlane(6000, 4000, seed).map((v) => 8 * v));
  const out = planes.map((plane) => new Float32Array(plane.length));
  const copy = shortest(5, () => planes.forEach((plane, p) => out[p].set(plane)));
  const band = { centre: 140, width: 60, soft: 30, turn: -45, chroma: 0.8, lightness: 0, shift: [0, 0, 0] };
  return {
    hues: shortest(3, () => turnHues(planes, band, out)) / copy,
    saturation: shortest(3, () => saturate(planes, { amount: 0.3, shadows: 0.2 }, out)) / copy,
  };
}

/** The heavy parts of the linear steps at 24 megapixels. */
export function stepsOverCopy(): Record<string, number> {
  const rect = { x: 0, y: 0, width: 6000, height: 4000 };
  const plane = madePlane(rect.width, rect.height, 9);
  const to = new Float32Array(plane.length).fill(1);
  const copy = shortest(5, () => to.set(plane));
  return stepKernels(plane, rect, copy, shortest);
}
