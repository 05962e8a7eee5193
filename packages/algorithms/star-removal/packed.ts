import type { Circle } from '../inpaint/harmonic-fill';
import { floatsToHex, floatsFromHex } from '@owl-loom/image/raster/float-hex';
import type { SharedProfile } from './shared-profile';
import { taperProfile, type StarModel } from './fit';
import type { Spike } from './spike';
import { knotOfRadius, KNOTS } from './radial-profile';
import type { RemovedStar } from './remove-stars';

/** The light of one star in one plane, in full-size frame pixels. */
export interface StarLight {
  readonly x: number;
  readonly y: number;
  readonly table: Float64Array;
  readonly reach: number;
  readonly spikes: readonly Spike[];
}

/** Stars that are taken out of an image: their light plane by plane, in rows from the foot, and what is to be filled. */
export interface RemovedStars {
  readonly beams: readonly (readonly StarLight[])[];
  readonly gaps: readonly Circle[];
}

/**
 * Taken stars as they are kept and sent: numbers in single precision, little-endian, in hexadecimal. First the profiles that stars share,
 * then for each star its gap and in each plane place, reach, either the number of a shared profile with a height or a profile of its own, and
 * its spikes: how many, then angle, width, reach and heights of each.
 */
export interface PackedStars {
  readonly count: number;
  readonly planeCount: number;
  readonly shared: number;
  readonly packed: string;
}

/** In place of the number of a shared profile: none, and one of its own. */
const NONE = -2;
const OWN = -1;

/** Knots that a profile of a reach needs. */
const knotsFor = (reach: number): number => Math.min(KNOTS, Math.ceil(knotOfRadius(reach)) + 1);

/** @param x and y are where the planes' first pixel lies in the frame */
export function packStars(taken: readonly RemovedStar[], planes: number, x: number, y: number): PackedStars {
  const commons = new Map<SharedProfile, number>();
  for (const { lights } of taken)
    for (const light of lights)
      if (light?.shared && !commons.has(light.shared.common)) commons.set(light.shared.common, commons.size);
  const numbers: number[] = [...commons.keys()].flatMap(({ table }) => [...table]);
  for (const { lights, spikes, gap } of taken) {
    numbers.push(gap);
    for (let p = 0; p < planes; p++) {
      const light = lights[p];
      if (!light) {
        numbers.push(NONE);
        continue;
      }
      const { shared, table, reach } = light;
      numbers.push(shared ? (commons.get(shared.common) ?? 0) : OWN, light.x + x, light.y + y, reach);
      if (shared) numbers.push(shared.height);
      else numbers.push(...table.subarray(0, knotsFor(reach)));
      numbers.push(spikes[p].length);
      for (const { angle, wide, table: heights, reach: far } of spikes[p])
        numbers.push(angle, wide, far, ...heights.subarray(0, knotsFor(far)));
    }
  }
  return {
    count: taken.length,
    planeCount: planes,
    shared: commons.size,
    packed: floatsToHex(numbers),
  };
}

const lately = new WeakMap<PackedStars, RemovedStars>();

/** The stars again; the same object for the same packed ones. */
export function unpackStars(stars: PackedStars): RemovedStars {
  const before = lately.get(stars);
  if (before) return before;
  const made = unpacked(stars);
  lately.set(stars, made);
  return made;
}

function unpacked({ count, planeCount: planes, shared, packed }: PackedStars): RemovedStars {
  const numbers = floatsFromHex(packed);
  let at = 0;
  const next = (): number => numbers[at++];
  const commons = Array.from({ length: shared }, () => Float64Array.from({ length: KNOTS }, next));
  const beams = Array.from({ length: planes }, (): StarLight[] => []);
  const gaps: Circle[] = [];
  for (let i = 0; i < count; i++) {
    const gap = next();
    let place: Pick<StarModel, 'x' | 'y'> | undefined;
    for (let p = 0; p < planes; p++) {
      const of = next();
      if (of === NONE) continue;
      const [x, y, reach] = [next(), next(), next()];
      const table = new Float64Array(KNOTS);
      if (of === OWN) for (let k = 0; k < knotsFor(reach); k++) table[k] = next();
      else {
        const height = next();
        for (let k = 0; k < KNOTS; k++) table[k] = height * commons[of][k];
        taperProfile(table, reach);
      }
      const spikes = Array.from({ length: next() }, (): Spike => {
        const [angle, wide, far] = [next(), next(), next()];
        const heights = new Float64Array(KNOTS);
        for (let k = 0; k < knotsFor(far); k++) heights[k] = next();
        return { angle, wide, reach: far, table: heights };
      });
      beams[p].push({ x, y, table, reach, spikes });
      place ??= { x, y };
    }
    if (place && gap > 0) gaps.push([place.x, place.y, gap]);
  }
  for (const list of beams) list.sort((a, b) => a.y - b.y);
  return { beams, gaps };
}
