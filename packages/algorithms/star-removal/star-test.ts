import { medianInPlace } from '@owl-loom/image/stats/quickselect';
import { type Disc, collectDisc } from './disc';
import type { StarModel, FitContext } from './fit';
import { aboveBackground, fitLocalBackground } from './local-background';
import { profileAt } from './radial-profile';

/** A star's top stands so many times above the scatter around. */
export const ABOVE = 4.5;
/** How much of the unevenness about a star counts as noise. */
const UNEVEN = 0.3;
/** How much the pixels of its core may differ from the profile, as a share of it. */
const MISFIT = 0.15;

/** How much flatter than the field's profile a star's flank may be, as a share of its height. */
const FLATTER = 0.2;

/** Whether a light falls from its middle as stars do and knots of gas, which are wider, do not. */
function isSharp(disc: Disc, { table }: StarModel, fwhm: number, rough: number, sensitivity: number): boolean {
  const [near, far] = [0.75 * fwhm, 1.5 * fwhm];
  const ring = (from: number, to: number): Float32Array => {
    const found: number[] = [];
    for (let i = 0; i < disc.count; i++) if (disc.r[i] >= from && disc.r[i] < to) found.push(disc.v[i]);
    return Float32Array.from(found);
  };
  const [middle, flank, bottom] = [ring(0, 0.75), ring(near - 0.5, near + 0.5), ring(far - 0.6, far + 0.6)].map(
    (own) => (own.length > 0 ? medianInPlace(own) : Number.NaN),
  );
  const height = middle - bottom;
  if (!(height > 0)) return Number.isNaN(height);
  const expected = (profileAt(table, near) - profileAt(table, far)) / (table[0] - profileAt(table, far));
  return (flank - bottom) / height < expected + FLATTER * Math.min(2, sensitivity) + rough / height;
}

/** Whether a fitted light is a star's: it stands out, and what is left in its core is noise. */
export function isStar(light: StarModel, { field }: FitContext, sensitivity: number): boolean {
  const { plane, width, height, fwhm } = field;
  const top = light.table[0];
  // Gas makes what lies around uneven, and it is no noise.
  const rough = Math.max(field.noise, UNEVEN * light.scatter);
  if (!(top > (ABOVE / sensitivity) * rough)) return false;
  // Only the very core: of a pair each spoils the other's flanks.
  const core = 0.75 * fwhm;
  const disc = collectDisc(plane, width, height, light.x, light.y, 1.5 * fwhm + 4, 1.2 * fwhm + 0.5);
  const ground = fitLocalBackground(disc, field.noise);
  if (!ground) return false;
  const [off, own] = [new Float32Array(disc.count), new Float32Array(disc.count)];
  let n = 0;
  for (let i = 0; i < disc.count; i++) {
    if (disc.r[i] > core) continue;
    own[n] = profileAt(light.table, disc.r[i]);
    off[n] = Math.abs(aboveBackground(disc, i, ground) - own[n]);
    n++;
  }
  if (n < 4 || !isSharp(disc, light, fwhm, rough, sensitivity)) return false;
  // Medians: a neighbour lifts some of the pixels, gas and knots all of them.
  const share = MISFIT * Math.min(2, sensitivity);
  return medianInPlace(off.subarray(0, n)) < share * medianInPlace(own.subarray(0, n)) + rough;
}
