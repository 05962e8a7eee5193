import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { encodeFits } from '@owl-loom/image/fits/write';
import type { Recipe } from '@owl-loom/recipe/schema';
import { writeAtomically } from '../apps/server/system/write-atomically';
import type { WorkerPool } from '../apps/server/workers/worker-pool';
import { loadStack, openStack } from '../apps/server/render/stack';
import type { Night } from './renders';

export const FILTERS = ['L', 'R', 'G', 'B', 'Ha', 'OIII', 'SII'] as const;

/** A night's work: two fits, a continuum by stars, two mixes, two automatic stretches, one screened on at 60 %, levels. */
export const SEVEN: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  name: 'Seven',
  strands: [
    ...FILTERS.filter((id) => id.length === 1).map((id) => ({ id, from: { stack: id } })),
    { id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'continuum', broad: 'R' }] },
    { id: 'OIII', from: { stack: 'OIII' }, steps: [{ do: 'linear-fit', to: 'Ha' }] },
    { id: 'SII', from: { stack: 'SII' }, steps: [{ do: 'linear-fit', to: 'Ha' }] },
  ],
  cloth: {
    layers: [
      {
        id: 'lines',
        of: { mix: { red: { SII: 0.4, Ha: 0.6 }, green: { Ha: 0.3, OIII: 0.7 }, blue: { OIII: 1 } }, weights: 'share' },
        steps: [{ do: 'stretch' }],
      },
      {
        id: 'daylight',
        of: {
          mix: { red: { R: 1, L: 0.5 }, green: { G: 1, L: 0.5 }, blue: { B: 1, L: 0.5 } },
          weights: 'share',
        },
        steps: [{ do: 'stretch' }],
        blend: 'screen',
        opacity: 0.6,
      },
    ],
    steps: [{ do: 'levels', black: 0.05 }],
  },
};

/** The same work on hydrogen and red brighter by a hair, another at every call: what hangs on them has never been measured. */
export const unmeasured = (): Recipe => {
  const multiply = 1 + Math.random() / 100;
  const brighter = [{ do: 'scale', multiply }];
  return {
    ...SEVEN,
    strands: SEVEN.strands?.map((strand) =>
      ['Ha', 'R'].includes(strand.id) ? { ...strand, steps: [...brighter, ...(strand.steps ?? [])] } : strand,
    ),
  };
};

/** Whether a tile is turned over, across and up: were all alike, stars would match those of other tiles as well as their own. */
const turnOf = (column: number, row: number): [boolean, boolean] => {
  const turn = (3 * column * column + 5 * row + column * row) % 4;
  return [turn % 2 === 1, turn > 1];
};

/**
 * The seven stacks of a demo sky laid side by side until they fill a large sensor: as many stars a square degree as the demo, and as much gas.
 * @param folder of the demo sky
 */
export async function largeNight(
  pool: WorkerPool,
  folder: string,
  into: string,
  [width, height]: readonly [number, number],
): Promise<Night> {
  await mkdir(into, { recursive: true });
  const files: Record<string, string> = {};
  for (const filter of FILTERS) {
    const stack = await openStack(pool, join(folder, `lantern-moth_${filter}.fits`));
    const [tile] = (await loadStack(pool, stack)).planes;
    const { width: w, height: h } = stack.info;
    const plane = new Float32Array(width * height);
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x += w) {
        const [across, up] = turnOf(x / w, Math.floor(y / h));
        const from = (up ? h - 1 - (y % h) : y % h) * w;
        const row = tile.slice(from, from + w);
        plane.set((across ? row.reverse() : row).subarray(0, Math.min(w, width - x)), y * width + x);
      }
    }
    files[filter] = join(into, `large_${filter}.fits`);
    const own = [
      { key: 'OBJECT', value: 'Lantern Moth, many times', comment: 'an invented target' },
      { key: 'FILTER', value: filter },
    ];
    await writeAtomically(files[filter], encodeFits({ width, height, planes: [plane], own }));
  }
  return { width, height, files };
}
