import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { StarTree } from '@owl-loom/algorithms/registration/match';
import { findStars } from '@owl-loom/algorithms/stars/detect';
import { medianOfList } from '@owl-loom/image/stats/median';
import { planeNoise } from '@owl-loom/image/stats/noise';
import type { WorkerPool } from '../apps/server/workers/worker-pool';
import { loadStack, openStack } from '../apps/server/render/stack';

/** How well the stars of a demo sky are found. */
export interface StarScore {
  readonly filter: string;
  readonly found: number;
  /** Found where the truth has no star. */
  readonly false: number;
  /** Stars of the truth that stand well above the noise, and the share of them that was found. */
  readonly clear: number;
  readonly complete: number;
  /** Median distance of the found places from the true ones, in pixels. */
  readonly offset: number;
}

interface Truth {
  readonly stars: readonly {
    readonly x: number;
    readonly y: number;
    readonly flux: Readonly<Record<string, number>>;
  }[];
}

/** Two places nearer than this are one star. */
const NEAR = 2;
/** A star is clear from this flux on, in times the noise of a pixel: its top then stands some ten times above it. */
const CLEAR = 80;

/** Stars found in one stack of a demo target against its truth. */
export async function starScore(pool: WorkerPool, folder: string, file: string, filter: string): Promise<StarScore> {
  const truth = JSON.parse(await readFile(join(folder, 'truth/truth.json'), 'utf8')) as Truth;
  const stack = await openStack(pool, join(folder, file));
  const { planes } = await loadStack(pool, stack);
  const { width, height } = stack.info;
  const stars = findStars(planes[0], width, height).stars;
  const noise = planeNoise(planes[0], width, height);
  const known = new StarTree(truth.stars);
  const seen = new StarTree(stars);
  const distances = stars.flatMap((star) => {
    const k = known.nearest(star.x, star.y, NEAR);
    return k === undefined ? [] : [Math.hypot(truth.stars[k].x - star.x, truth.stars[k].y - star.y)];
  });
  const clear = truth.stars.filter(
    (star) =>
      star.flux[filter] > CLEAR * noise && star.x > 12 && star.y > 12 && star.x < width - 13 && star.y < height - 13,
  );
  const caught = clear.filter((star) => seen.nearest(star.x, star.y, NEAR) !== undefined);
  return {
    filter,
    found: stars.length,
    false: stars.length - distances.length,
    clear: clear.length,
    complete: caught.length / Math.max(1, clear.length),
    offset: medianOfList(distances),
  };
}
