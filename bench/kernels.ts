import { applyColourOps } from '@owl-loom/algorithms/colour/hue-ops';
import type { ImageInfo } from '@owl-loom/engine/node-kernel';
import { linearFit } from '@owl-loom/algorithms/linear-fit/linear';
import { mixKernel } from '@owl-loom/algorithms/mix/mix';
import { newRaster, cropPlane } from '@owl-loom/image/raster/raster';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { measureBackground } from '@owl-loom/image/stats/background';
import { STEP_KINDS } from '@owl-loom/engine/steps/index';
import { madePlane, shortest } from './synthetic';
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
    share: [true, true, true],
    gains: [1, 1, 1].map((gain) => ({ gain, sky: [0] })),
  });
  const stretched = applyOf('stretch', { black: 0.01, strength: 100 }, 'linear');
  const [reference, target] = planes;
  // Strip by strip, as the engine runs them.
  const strips = Array.from(
    { length: Math.ceil(rect.height / 3) },
    (_, i): Rect => ({ x: 0, y: 3 * i, width: rect.width, height: Math.min(3, rect.height - 3 * i) }),
  );
  const part = (from: readonly Float32Array[], strip: Rect) => ({
    rect: strip,
    planes: from.map((plane) => cropPlane(plane, rect, strip)),
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
    stretch: shortest(4, () => stretched(planes, out.planes)) / copy,
    tone: shortest(2, () => void measureBackground(reference, rect)) / (copy / 3),
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
  const enriching = { amount: 0.3, shadows: 0.2 };
  return {
    hues: shortest(3, () => applyColourOps(planes, [{ band }], out)) / copy,
    saturation: shortest(3, () => applyColourOps(planes, [{ enriching }], out)) / copy,
    'hues, saturation': shortest(3, () => applyColourOps(planes, [{ band }, { enriching }], out)) / copy,
    ...Object.fromEntries(
      COLOUR_STEPS.map(([kind, params]) => {
        const apply = applyOf(kind, params);
        return [kind, shortest(2, () => apply(planes, out)) / copy];
      }),
    ),
  };
}

const S_CURVE = [
  [0, 0],
  [0.25, 0.2],
  [0.75, 0.8],
  [1, 1],
];

/** Other steps on stretched colour, with parameters that make them work on every pixel. */
const COLOUR_STEPS: readonly (readonly [kind: string, params: object])[] = [
  ['levels', { black: 0.05, mid: 0.45 }],
  ['curves', { all: S_CURVE }],
  ['balance', { mids: [0.02, 0, -0.02] }],
  ['cap', { colour: 'green' }],
  ['floor', { level: 0.05 }],
];

/** A step's own kernel over whole planes of 24 megapixels, strip by strip, as the engine runs it. */
function applyOf(kind: string, params: object, domain: ImageInfo['domain'] = 'stretched') {
  const rect: Rect = { x: 0, y: 0, width: 6000, height: 4000 };
  const step = STEP_KINDS.get(kind);
  const input: ImageInfo = { node: 0, planes: 3, domain, extent: rect };
  const place = {
    input,
    others: [],
    origin: rect,
    frame: rect,
    path: 'bench',
    partnerImage: () => input,
    withStars: () => input,
    pictureOfStars: () => undefined,
    addIntermediate: () => input,
  };
  const built = step?.build?.(step.params.parse(params), place);
  if (!built) throw new Error(`${kind} does nothing`);
  const apply = built.kernel.prepare([], 0);
  return (planes: readonly Float32Array[], out: readonly Float32Array[]): void => {
    for (let y = 0; y < rect.height; y += 3) {
      const strip = { ...rect, y, height: Math.min(3, rect.height - y) };
      const part = (from: readonly Float32Array[]) => ({
        rect: strip,
        planes: from.map((plane) => cropPlane(plane, rect, strip)),
      });
      apply([part(planes)], part(out), () => undefined);
    }
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
