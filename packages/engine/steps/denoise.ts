import { expectBackground } from '../measurements/index';
import { LUMINANCE } from '@owl-loom/algorithms/colour/luminance';
import { noiseInScale, starlet, starletMargin } from '@owl-loom/image/scales/starlet';
import type { PixelFunction } from '@owl-loom/image/pixel-function';
import type { ImageInfo } from '../node-kernel';
import { implementStep, type StepContext } from './step-implementation';
import { neighbourhoodKernel } from './neighbourhood';
import { denoise as spec } from '@owl-loom/recipe/steps/denoise';

/** A scale's values are drawn in by so many times its noise at strength 1. */
const THRESHOLD = 2;

const soft = (v: number, t: number): number => (v > t ? v - t : v < -t ? v + t : 0);

/** Luminance, and red and blue less it: noise of brightness and noise of colour lie apart there. */
const apart: PixelFunction = ([input], out) => {
  const [r, g, b] = input.planes;
  const [y, u, v] = out.planes;
  for (let i = 0; i < y.length; i++) {
    y[i] = LUMINANCE[0] * r[i] + LUMINANCE[1] * g[i] + LUMINANCE[2] * b[i];
    u[i] = r[i] - y[i];
    v[i] = b[i] - y[i];
  }
};

/** Back from luminance and the two differences to red, green and blue, in place. */
function together([y, u, v]: readonly Float32Array[]): void {
  for (let i = 0; i < y.length; i++) {
    const lum = y[i];
    const r = lum + u[i];
    const b = lum + v[i];
    y[i] = r;
    u[i] = (lum - LUMINANCE[0] * r - LUMINANCE[2] * b) / LUMINANCE[1];
    v[i] = b;
  }
}

function opponent(input: ImageInfo, place: StepContext): ImageInfo {
  return place.addIntermediate({
    kind: 'opponent',
    inputs: [input.node],
    planes: 3,
    domain: input.domain,
    extent: input.extent,
    kernel: { prepare: () => apart },
    version: 1,
  });
}

/**
 * Draws the starlet scales in by their noise (soft thresholds, Donoho 1995), measured at full size. Of a colour image luminance and
 * colour are treated apart: `chroma` is the strength for the colour.
 */
export const denoiseStep = implementStep(spec, {
  version: 1,
  build: (p, place) => {
    const { input, sky } = place;
    const colour = input.planes === 3;
    const source = colour ? opponent(input, place) : input;
    const strengths = colour ? [p.strength, p.chroma, p.chroma] : [p.strength];
    const kernel = neighbourhoodKernel(
      input.extent,
      (level) => starletMargin(Math.max(0, p.scales - level)),
      (figures, level) => {
        const noise = expectBackground(figures[0]).map((tone) => tone.noise);
        return (plane, rect, window, k) => {
          const parts = starlet(plane, rect, Math.max(0, p.scales - level), window);
          const out = parts[parts.length - 1];
          for (let j = 0; j < parts.length - 1; j++) {
            // Averaging to a level leaves white noise 2^level times less.
            const t = THRESHOLD * strengths[k] * (noise[k] / 2 ** level) * noiseInScale(j + 1);
            for (let i = 0; i < out.length; i++) out[i] += soft(parts[j][i], t);
          }
          return out;
        };
      },
    );
    return {
      kernel: {
        ...kernel,
        prepare: (figures, level) => {
          const apply = kernel.prepare(figures, level);
          return (inputs, out, tally) => {
            apply(inputs, out, tally);
            if (colour) together(out.planes);
          };
        },
        report: (figures) => ({ noise: expectBackground(figures[0]).map((tone) => tone.noise) }),
      },
      from: source.node,
      figures: [{ kind: 'tone', nodes: [source.node], region: sky }],
      planes: input.planes,
      extent: input.extent,
    };
  },
});
