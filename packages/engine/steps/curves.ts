import { oklabToLinear, linearToOklab } from '@owl-loom/algorithms/colour/oklch';
import { LUMINANCE } from '@owl-loom/algorithms/colour/luminance';
import { linearToSrgbFast, srgbToLinearFast } from '@owl-loom/algorithms/colour/tables';
import { UserError } from '@owl-loom/base/errors';
import type { PixelFunction } from '@owl-loom/image/pixel-function';
import { LookupCurve } from '@owl-loom/algorithms/tone/bend';
import { type CurvePoint, monotoneCubic } from '@owl-loom/algorithms/tone/monotone';
import { implementStep } from './step-implementation';
import { curves as spec } from '@owl-loom/recipe/steps/curves';

/** The lines of the chart, in the order in which they act. */
export const CURVES = ['all', 'red', 'green', 'blue', 'luminance', 'chroma'] as const;

export type CurveName = (typeof CURVES)[number];

/** The chroma that stands at 1 of its curve: no colour of a screen has more. */
export const MOST_CHROMA = 0.4;

const [OF_RED, OF_GREEN, OF_BLUE] = LUMINANCE;

const held = (v: number): number => (v < 0 ? 0 : v > 1 ? 1 : v);

/** Shifts all planes by what the curve does to their luminance. */
function byLuminance([r, g, b]: readonly Float32Array[], of: LookupCurve): void {
  for (let i = 0; i < r.length; i++) {
    const y = OF_RED * r[i] + OF_GREEN * g[i] + OF_BLUE * b[i];
    const by = of.at(y) - held(y);
    r[i] += by;
    g[i] += by;
    b[i] += by;
  }
}

/** Brings each pixel's chroma to where the curve says; greys stay. */
function byChroma([r, g, b]: readonly Float32Array[], of: LookupCurve): void {
  for (let i = 0; i < r.length; i++) {
    const [l, x, y] = linearToOklab([srgbToLinearFast(r[i]), srgbToLinearFast(g[i]), srgbToLinearFast(b[i])]);
    const chroma = Math.sqrt(x * x + y * y) / MOST_CHROMA;
    const by = chroma > 1e-6 ? of.at(chroma) / held(chroma) : 1;
    const light = oklabToLinear([l, by * x, by * y]);
    r[i] = linearToSrgbFast(light[0]);
    g[i] = linearToSrgbFast(light[1]);
    b[i] = linearToSrgbFast(light[2]);
  }
}

/** Bends what comes in by monotone cubics: all planes, single ones, the luminance, the chroma. */
export const curvesStep = implementStep(spec, {
  version: 2,
  build: (p, { input, path }) => {
    const bent = new Map<CurveName, LookupCurve>();
    for (const name of CURVES) {
      const points = p[name];
      if (!points) continue;
      if (input.planes === 1 && name !== 'all')
        throw new UserError(
          'one-curve',
          `A mono image has no curve for ${name}. Use the curve for all channels.`,
          `${path}.${name}`,
        );
      const sorted: CurvePoint[] = [...points].sort((a, b) => a[0] - b[0]);
      const twice = sorted.find(([x], i) => i > 0 && x === sorted[i - 1][0]);
      if (twice)
        throw new UserError(
          'curve-twice',
          `Two points of the curve are at ${twice[0]}. Move one of them.`,
          `${path}.${name}`,
        );
      const of = monotoneCubic(sorted);
      // A curve is level outside of its points, so its slope jumps at both ends.
      bent.set(name, new LookupCurve((x) => held(of(x)), [sorted[0][0], sorted[sorted.length - 1][0]]));
    }
    const apply: PixelFunction = ([{ planes }], out) => {
      out.planes.forEach((to, k) => {
        const [all, own] = [bent.get('all'), bent.get((['red', 'green', 'blue'] as const)[k])];
        const from = planes[k];
        if (all) all.plane(from, to);
        else to.set(from);
        if (own) own.plane(to, to);
      });
      const [luminance, chroma] = [bent.get('luminance'), bent.get('chroma')];
      if (luminance) byLuminance(out.planes, luminance);
      if (chroma) byChroma(out.planes, chroma);
    };
    return { kernel: { prepare: () => apply }, figures: [], planes: input.planes, extent: input.extent };
  },
});
