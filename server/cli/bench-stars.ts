import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { findStars } from '../../core/stars/detect';
import { noiseOf } from '../../core/stats/noise';
import { loadStack, openStack } from '../render/stack';

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
  readonly stars: readonly { readonly x: number; readonly y: number; readonly flux: Readonly<Record<string, number>> }[];
}

/** Two places nearer than this are one star. */
const NEAR = 2;
/** A star is clear from this flux on, in times the noise of a pixel: its top then stands some ten times above it. */
const CLEAR = 80;

/** Stars found in one stack of a demo target against its truth. */
export async function starScore(folder: string, file: string, filter: string): Promise<StarScore> {
  const truth = JSON.parse(await readFile(join(folder, 'truth/truth.json'), 'utf8')) as Truth;
  const stack = await openStack(join(folder, file));
  const { planes } = await loadStack(stack);
  const { width, height } = stack.info;
  const stars = findStars(planes[0], width, height);
  const noise = noiseOf(planes[0], width, height);
  const cells = new Map<string, { x: number; y: number }[]>();
  const cell = (x: number, y: number) => `${Math.floor(x / 8)} ${Math.floor(y / 8)}`;
  for (const star of stars) cells.set(cell(star.x, star.y), [...(cells.get(cell(star.x, star.y)) ?? []), star]);
  const around = <T extends { x: number; y: number }>(grid: ReadonlyMap<string, T[]>, x: number, y: number): number => {
    let best = Number.POSITIVE_INFINITY;
    for (let j = -8; j <= 8; j += 8) for (let i = -8; i <= 8; i += 8) for (const other of grid.get(cell(x + i, y + j)) ?? []) best = Math.min(best, Math.hypot(other.x - x, other.y - y));
    return best;
  };
  const known = new Map<string, { x: number; y: number }[]>();
  for (const star of truth.stars) known.set(cell(star.x, star.y), [...(known.get(cell(star.x, star.y)) ?? []), star]);
  const distances = stars.map((star) => around(known, star.x, star.y));
  const clear = truth.stars.filter((star) => star.flux[filter] > CLEAR * noise && star.x > 12 && star.y > 12 && star.x < width - 13 && star.y < height - 13);
  const hits = distances.filter((d) => d <= NEAR).sort((a, b) => a - b);
  return { filter, found: stars.length, false: distances.filter((d) => d > NEAR).length, clear: clear.length, complete: clear.filter((star) => around(cells, star.x, star.y) <= NEAR).length / Math.max(1, clear.length), offset: hits[hits.length >> 1] ?? Number.NaN };
}
