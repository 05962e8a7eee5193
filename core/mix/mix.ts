import { weigh } from '../kernels/weigh';
import type { Raster } from '../raster/raster';
import type { Apply } from '../engine/kernel';

/** Weights of one output column, one a strand. */
export type Column = readonly number[];

/** A mix: three columns over the strands, each strand first multiplied about its sky. */
export interface MixPlan {
  readonly columns: readonly [Column, Column, Column];
  readonly share: boolean;
  /** Factor and sky of each strand: `sky + gain·(x − sky)`, a sky a plane. */
  readonly gains: readonly { readonly gain: number; readonly sky: readonly number[] }[];
}

const planeOf = (raster: Raster, column: number): Float32Array =>
  raster.planes[raster.planes.length === 3 ? column : 0];

/**
 * Strands to three planes. Column by column it takes what is there: `share` divides by the absolute weights of the strands present,
 * `as-is` counts the absent as nothing; where all are absent, so is the result. A colour strand gives each column its own plane.
 */
export function mixKernel(plan: MixPlan): Apply {
  const { columns, share, gains } = plan;
  return (inputs, out, tally) => {
    const partly: PartlyCovered = { count: 0 };
    columns.forEach((weights, c) => {
      const used = weights.map((w, k) => ({ w, k })).filter(({ w }) => w !== 0);
      const target = out.planes[c];
      if (used.length === 0) {
        emptyColumn(inputs, c, target);
        return;
      }
      const planes = used.map(({ k }) => planeOf(inputs[k], c));
      const terms = used.map(({ w, k }): Term => {
        const { gain, sky } = gains[k];
        const level = sky[sky.length === 3 ? c : 0] ?? 0;
        return { weight: w, factor: w * gain, add: gain === 1 ? 0 : w * level * (1 - gain) };
      });
      sumColumn(planes, terms, share, target, partly);
    });
    if (partly.count > 0) tally('partly-covered', partly.count);
  };
}

interface Term {
  readonly weight: number;
  readonly factor: number;
  readonly add: number;
}

/** 1 for each pixel that only some of the strands cover, once there is one. */
interface PartlyCovered {
  pixels?: Uint8Array;
  count: number;
}

function sumColumn(
  planes: readonly Float32Array[],
  terms: readonly Term[],
  share: boolean,
  target: Float32Array,
  partly: PartlyCovered,
): void {
  const total = (of: (term: Term) => number) => terms.reduce((sum, term) => sum + of(term), 0);
  const over = share ? 1 / total((term) => Math.abs(term.weight)) : 1;
  const factors = terms.map((term) => term.factor * over);
  const add = total((term) => term.add) * over;
  if (!weigh(planes, factors, add, target)) return;
  for (let i = 0; i < target.length; i++) {
    if (target[i] !== target[i]) target[i] = present(planes, terms, share, i, partly);
  }
}

/** The sum over the strands that have data at pixel `i`. */
function present(
  planes: readonly Float32Array[],
  terms: readonly Term[],
  share: boolean,
  i: number,
  partly: PartlyCovered,
): number {
  let sum = 0;
  let weight = 0;
  let there = 0;
  for (let k = 0; k < planes.length; k++) {
    const x = planes[k][i];
    if (x !== x) continue;
    there++;
    sum += terms[k].add + terms[k].factor * x;
    weight += Math.abs(terms[k].weight);
  }
  if (there === 0) return Number.NaN;
  partly.pixels ??= new Uint8Array(planes[0].length);
  if (partly.pixels[i] === 0) partly.count++;
  partly.pixels[i] = 1;
  return share ? sum / weight : sum;
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
