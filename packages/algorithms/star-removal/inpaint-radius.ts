import { medianInPlace, medianMadInPlace } from '@owl-loom/image/stats/quickselect';
import { collectDisc } from './disc';
import type { StarModel, FitContext } from './fit';
import { aboveBackground } from './local-background';
import { KNOTS, radiusAt } from './radial-profile';

/** How much of a star's own profile may be left when it has been taken off, as a share of it. */
const LEFT = 0.06;
/** What is left may be so many times the scatter around. */
const SEEN = 0.5;
/** A gap grows no further than this beyond what the profile asks for. */
const FURTHER = { times: 1.8, pixels: 2 } as const;

/** Times the scatter around that a star must stand above it where no filling may be brighter than the image was. */
const STANDS = 0.5;

/**
 * How far from a star's middle too little of the image is left: where a twentieth or so of its light stands above the scatter, and on to
 * where what is left after taking it off looks like what lies around.
 */
export function inpaintRadius(
  light: StarModel,
  { field, ceiling, held }: Omit<FitContext, 'common'>,
  saturated: boolean,
): number {
  const { plane, width, height } = field;
  const { scatter, table, x, y } = light;
  let from = 0;
  for (let k = KNOTS - 1; k >= 0; k--) {
    if (LEFT * table[k] <= SEEN * scatter) continue;
    from = radiusAt(k) + 0.5;
    break;
  }
  if (saturated) {
    // What was cut off, and the pixel about it that the sensor or the stretch has bent.
    let k = 0;
    while (k < KNOTS - 1 && table[k] > 0.5 * ceiling) k++;
    from = Math.max(from, radiusAt(k) + 1.5);
  }
  if (from === 0) return 0;
  let max = Math.min(light.reach, FURTHER.times * from + FURTHER.pixels);
  if (held) {
    // It ends where the star hardly stands out of the noise: of two noises the lesser would be kept, and the gap be dark.
    let k = KNOTS - 1;
    while (k > 0 && table[k] < STANDS * scatter) k--;
    max = Math.max(from, Math.min(max, radiusAt(k)));
  }
  const disc = collectDisc(plane, width, height, x, y, max + 2);
  const rings = Array.from({ length: Math.ceil(max) + 3 }, (): number[] => []);
  const flat = { level: 0, slopeX: 0, slopeY: 0, scatter };
  for (let i = 0; i < disc.count; i++) rings[Math.floor(disc.r[i])]?.push(aboveBackground(disc, i, flat));
  const outer = rings.slice(-3).flat();
  const level = outer.length > 0 ? medianInPlace(Float32Array.from(outer)) : 0;
  const quiet = (r: number): boolean => {
    const own = rings[r] ?? [];
    if (own.length < 6) return true;
    const { middle, sigma: spread } = medianMadInPlace(Float32Array.from(own));
    const unsure = 2 / Math.sqrt(own.length);
    return Math.abs(middle - level) < (0.3 + unsure) * scatter && spread < (1.15 + unsure) * scatter;
  };
  let r = Math.ceil(from);
  while (r < max && !(quiet(r) && quiet(r + 1))) r++;
  return Math.min(r, max);
}
