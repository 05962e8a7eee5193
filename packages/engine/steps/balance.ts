import type { ChromaRange } from '@owl-loom/algorithms/colour/hue-ops';
import { chromaWeight } from '@owl-loom/algorithms/colour/hue-membership';
import { LUMINANCE } from '@owl-loom/algorithms/colour/luminance';
import { linearToOklab } from '@owl-loom/algorithms/colour/oklch';
import { srgbToLinear } from '@owl-loom/algorithms/colour/srgb';
import type { PixelFunction } from '@owl-loom/image/pixel-function';
import { implementStep } from './step-implementation';
import { actsOn } from './above';
import { balance as spec } from '@owl-loom/recipe/steps/balance';

const [OF_RED, OF_GREEN, OF_BLUE] = LUMINANCE;

/** Adds `(1−y)²·shadows + 2y(1−y)·mids + y²·lights`, y the luminance of the numbers as they are, held to 0–1. */
export const balanceStep = implementStep(spec, {
  version: 1,
  build: ({ shadows, mids, lights, keepLuminance, above: from }, place) => {
    const acts = actsOn(from, 0, place);
    const balanced =
      (on: ChromaRange | undefined): PixelFunction =>
      (
        [
          {
            planes: [r, g, b],
          },
        ],
        out,
      ) => {
        const [red, green, blue] = out.planes;
        for (let i = 0; i < r.length; i++) {
          const luminance = OF_RED * r[i] + OF_GREEN * g[i] + OF_BLUE * b[i];
          const y = luminance < 0 ? 0 : luminance > 1 ? 1 : luminance;
          const [dark, middle, light] = [(1 - y) ** 2, 2 * y * (1 - y), y * y];
          const x = dark * shadows[0] + middle * mids[0] + light * lights[0];
          const z = dark * shadows[1] + middle * mids[1] + light * lights[1];
          const w = dark * shadows[2] + middle * mids[2] + light * lights[2];
          const back = keepLuminance ? OF_RED * x + OF_GREEN * z + OF_BLUE * w : 0;
          const share = on ? chromaWeight(chromaOf(r[i], g[i], b[i]), on.full, on.grey) : 1;
          red[i] = r[i] + share * (x - back);
          green[i] = g[i] + share * (z - back);
          blue[i] = b[i] + share * (w - back);
        }
      };
    return {
      kernel: {
        prepare: (figures) => balanced(acts.range(figures)),
        ...(acts.describe && { report: acts.describe }),
      },
      figures: acts.figures,
      planes: 3,
      extent: place.input.extent,
    };
  },
});

/** OKLab chroma of a colour coded by sRGB. */
function chromaOf(r: number, g: number, b: number): number {
  const [, p, q] = linearToOklab([srgbToLinear(r), srgbToLinear(g), srgbToLinear(b)]);
  return Math.sqrt(p * p + q * q);
}
