import { afterAll, beforeAll, vi } from 'vitest';
import { downsample2x, levelSize, TILE } from '@owl-loom/image/pyramid/pyramid';
import type { Recipe } from '@owl-loom/recipe/schema';
import { addNoise, scene as clouds } from '@owl-loom/testing/random';
import type { WorkerStack } from './protocol';

export const [width, height] = [300, 220];

/** Two stacks of one field, the second at half the brightness, and what a server would give of them. */
const field = clouds(4, width, height, { clouds: 0.05 });
export const planes: Record<string, Float32Array> = {
  a: addNoise(field, 0, 1, 0.0004, 1),
  b: addNoise(field, 0.001, 0.5, 0.0004, 2),
};
export const stacks: WorkerStack[] = ['a', 'b'].map((id) => ({
  name: id.toUpperCase(),
  info: { id, width, height, planes: 1, domain: 'linear' },
}));

export const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    { id: 'A', from: { stack: 'A' }, steps: [] },
    { id: 'B', from: { stack: 'B' }, steps: [{ do: 'linear-fit', to: 'A' }] },
    { id: 'shown', from: { strand: 'A' }, steps: [{ do: 'stretch' }] },
  ],
};

interface Bitmap {
  readonly data: Uint8ClampedArray;
  readonly width: number;
}

/** For the tests of a file, a server that gives the stacks' tiles, and pictures that tell their numbers. */
export function withServer(): void {
  beforeAll(() => {
    vi.stubGlobal('fetch', async (address: string) => {
      const [, , , id, , , level, , tx, ty] = address.split('/');
      let plane = planes[id];
      for (let l = 0; l < Number(level); l++) plane = downsample2x(plane, levelSize(width, l), levelSize(height, l));
      const [w, h] = [levelSize(width, Number(level)), levelSize(height, Number(level))];
      const tile = new Float32Array(TILE * TILE).fill(Number.NaN);
      for (let y = 0; y < Math.min(TILE, h - Number(ty) * TILE); y++)
        for (let x = 0; x < Math.min(TILE, w - Number(tx) * TILE); x++)
          tile[y * TILE + x] = plane[(y + Number(ty) * TILE) * w + x + Number(tx) * TILE];
      return { ok: true, arrayBuffer: async () => tile.buffer };
    });
    vi.stubGlobal(
      'ImageData',
      class {
        constructor(
          readonly data: Uint8ClampedArray,
          readonly width: number,
        ) {}
      },
    );
    vi.stubGlobal('createImageBitmap', async (image: Bitmap) => image);
  });
  afterAll(() => void vi.unstubAllGlobals());
}

/** Mean of a bitmap's red. */
export const mean = (bitmap: unknown): number => {
  const { data } = bitmap as Bitmap;
  let sum = 0;
  for (let i = 0; i < data.length; i += 4) sum += data[i];
  return (4 * sum) / data.length;
};
