import { compose, IDENTITY } from '@owl-loom/image/geometry/affine';
import { compileFormula } from '@owl-loom/algorithms/formula/compile';
import { fitSpline } from '@owl-loom/algorithms/gradient/model';
import { removeSurface } from '@owl-loom/algorithms/gradient/surface';
import { resample } from '@owl-loom/image/kernels/lanczos';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { gaussian } from '@owl-loom/image/scales/gaussian';
import { starlet } from '@owl-loom/image/scales/starlet';
import { findStars } from '@owl-loom/algorithms/stars/detect';

/** Pixels of a strip, as the engine runs formulas. */
const STRIP = 8192;

/**
 * What each is expected to cost, times a copy, on a machine whose arithmetic keeps up with its memory. `plain pass`, one subtraction a pixel
 * in TypeScript, tells how far this machine is from that: where it is dear, so is all the rest.
 */
export const EXPECTED = {
  'plain pass': 3,
  'blur 3': 12,
  'blur 20': 12,
  'starlet 4': 30,
  'starlet 7': 50,
  'align 1°': 35,
  gradient: 25,
  formula: 30,
  stars: 60,
} as const;

/**
 * The heavy parts of the linear steps on one core.
 * @param plane made pixels of `rect`
 * @param copy milliseconds of a plain copy of the plane
 * @param time gives the shortest of a few runs, in milliseconds
 * @returns times a copy
 */
export function stepKernels(
  plane: Float32Array,
  rect: Rect,
  copy: number,
  time: (runs: number, work: () => void) => number,
): Record<string, number> {
  const out = new Float32Array(plane.length);
  const a = Math.PI / 180;
  const turned = compose(
    { ...IDENTITY, xx: Math.cos(a), xy: -Math.sin(a), yx: Math.sin(a), yy: Math.cos(a) },
    { ...IDENTITY, tx: 3.3, ty: -7.1 },
  );
  const samples = Array.from({ length: 100 }, (_, i) => ({
    x: ((i % 10) + 0.5) * (rect.width / 10),
    y: (Math.floor(i / 10) + 0.5) * (rect.height / 10),
    value: Math.sin(i),
  }));
  const model = fitSpline(samples, 1, rect);
  const run = compileFormula(
    'h = max(0, A - 0.2 * (B - 0.01))\nmix(B, h, 0.4) + screen(A, B)',
    new Map([
      ['A', 1],
      ['B', 1],
    ]),
  ).runner([]);
  const formula = (): void => {
    for (let i = 0; i < plane.length; i += STRIP) {
      const part = plane.subarray(i, i + STRIP);
      run([[part], [part]], [out.subarray(i, i + STRIP)]);
    }
  };
  const work: Record<keyof typeof EXPECTED, () => void> = {
    'plain pass': () => {
      for (let i = 0; i < plane.length; i++) out[i] = plane[i] - 0.5 * out[i];
    },
    'blur 3': () => void gaussian(plane, rect, 3, rect),
    'blur 20': () => void gaussian(plane, rect, 20, rect),
    'starlet 4': () => void starlet(plane, rect, 4, rect),
    'starlet 7': () => void starlet(plane, rect, 7, rect),
    'align 1°': () => resample(plane, rect, turned, out, rect),
    gradient: () => removeSurface(model, rect, 0, plane, { kept: 0.5, divides: false }, out),
    formula,
    stars: () => void findStars(plane, rect.width, rect.height).stars,
  };
  return Object.fromEntries(Object.entries(work).map(([name, run]) => [name, time(3, run) / copy]));
}
