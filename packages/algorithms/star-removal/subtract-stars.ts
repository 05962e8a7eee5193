import type { Raster } from '@owl-loom/image/raster/raster';
import { toFullSize } from '@owl-loom/image/geometry/level-position';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { partitionPoint } from '@owl-loom/image/stats/sorted';
import { forEachStarPixel } from './add-star';
import type { StarLight } from './packed';
import { overSpike } from './spike';
import { profileAt } from './radial-profile';

/** Stars up to this reach are looked for in fewer rows than the few that reach further. */
const SHORT = 20;
/** Places of a pixel's side, at most, at which a star's light is taken where a pixel spans many of full size. */
const PARTS = 4;

/** Stars of one plane by how far they reach, each list in rows from the foot. */
export interface StarIndex {
  readonly lists: readonly { readonly widest: number; readonly beams: readonly StarLight[] }[];
}

/** How far a star's light reaches, spikes and all. */
const farOf = ({ reach, spikes }: StarLight): number =>
  spikes.reduce((max, spike) => Math.max(max, spike.reach), reach);

export function indexStars(beams: readonly StarLight[]): StarIndex {
  const lists = [beams.filter((beam) => farOf(beam) <= SHORT), beams.filter((beam) => farOf(beam) > SHORT)];
  return {
    lists: lists.map((own) => ({ beams: own, widest: own.reduce((max, beam) => Math.max(max, farOf(beam)), 0) })),
  };
}

/** Calls for each star whose light may reach into a rectangle of a level. */
export function forEachStarNear(
  { lists }: StarIndex,
  rect: Rect,
  level: number,
  deed: (beam: StarLight) => void,
): void {
  const n = 2 ** level;
  const [left, right] = [toFullSize(rect.x, level) - n, toFullSize(rect.x + rect.width - 1, level) + n];
  const [bottom, top] = [toFullSize(rect.y, level) - n, toFullSize(rect.y + rect.height - 1, level) + n];
  for (const { beams, widest } of lists) {
    const first = partitionPoint(0, beams.length, (k) => beams[k].y >= bottom - widest);
    for (let k = first; k < beams.length && beams[k].y <= top + widest; k++) {
      const beam = beams[k];
      const { x, y } = beam;
      const reach = farOf(beam);
      if (x + reach >= left && x - reach <= right && y + reach >= bottom && y - reach <= top) deed(beam);
    }
  }
}

/** Takes the light of stars off a plane; on a coarse level the mean over each pixel. */
function takeOff(plane: Float32Array, rect: Rect, stars: StarIndex, level: number): void {
  const parts = Math.min(PARTS, 2 ** level);
  forEachStarNear(stars, rect, level, (beam) => {
    const { table, reach } = beam;
    const light = (r: number) => (r < reach ? profileAt(table, r) : 0);
    forEachStarPixel(rect, level, beam, reach, parts, light, (at, mean) => {
      plane[at] -= mean;
    });
    for (const spike of beam.spikes)
      overSpike(rect, level, beam, spike, 1, (at, mean) => {
        plane[at] -= mean;
      });
  });
}

/** Copies a raster without the light of stars. */
export function subtractStars(input: Raster, out: Raster, stars: readonly StarIndex[], level: number): void {
  out.planes.forEach((to, p) => {
    to.set(input.planes[p]);
    takeOff(to, out.rect, stars[Math.min(p, stars.length - 1)], level);
  });
}
