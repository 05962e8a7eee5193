import type { Term } from '@owl-loom/image/kernels/weighted-sum';
import { PartialCoverageTally } from './partial-coverage';
import type { Raster } from '@owl-loom/image/raster/raster';
import type { PixelFunction } from '@owl-loom/image/pixel-function';

/** Weights of one output column, one a strand. */
export type Column = readonly number[];

/** A mix: as many columns over the strands as there are planes, each strand first multiplied about its sky. */
export interface MixPlan {
  readonly columns: readonly Column[];
  /** Whether each column is divided by the sum of its absolute weights. */
  readonly share: readonly boolean[];
  /** Factor and sky of each strand: `sky + gain·(x − sky)`, a sky a plane. */
  readonly gains: readonly { readonly gain: number; readonly sky: readonly number[] }[];
}

const planeOf = (raster: Raster, column: number): Float32Array =>
  raster.planes[raster.planes.length === 3 ? column : 0];

/**
 * Strands to planes. Column by column it takes what is there: `share` divides by the absolute weights of the strands present,
 * `as-is` counts the absent as nothing; where all are absent, so is the result. A colour strand gives each column its own plane.
 */
export function mixKernel(plan: MixPlan): PixelFunction {
  const { columns, share, gains } = plan;
  return (inputs, out, tally) => {
    const partly = new PartialCoverageTally(out.planes[0].length);
    columns.forEach((weights, c) => {
      const used = weights.map((w, k) => ({ w, k })).filter(({ w }) => w !== 0);
      const target = out.planes[c];
      if (used.length === 0) {
        emptyColumn(inputs, c, target);
        return;
      }
      const planes = used.map(({ k }) => planeOf(inputs[k], c));
      const parts = used.map(({ w, k }): Term => {
        const { gain, sky } = gains[k];
        const level = sky[sky.length === 3 ? c : 0] ?? 0;
        return { weight: Math.abs(w), factor: w * gain, add: gain === 1 ? 0 : w * level * (1 - gain) };
      });
      partly.weigh(planes, parts, share[c], target);
    });
    partly.tell(tally);
  };
}

/** A column without weights is black wherever any strand has data. */
function emptyColumn(inputs: readonly Raster[], column: number, target: Float32Array): void {
  for (let i = 0; i < target.length; i++) {
    let any = false;
    for (const input of inputs) {
      const x = planeOf(input, column)[i];
      if (x === x) {
        any = true;
        break;
      }
    }
    target[i] = any ? 0 : Number.NaN;
  }
}
