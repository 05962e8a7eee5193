import { hasVisibleGradient } from '@owl-loom/algorithms/gradient/uneven';
import { levelCount, levelSize, levelForPixels } from '@owl-loom/image/pyramid/pyramid';
import { openPixels, type SourceSpec } from '../pixels/sources';

/** Pixels of the level on which a sky is judged. */
const SKY_PIXELS = 100_000;

export interface UnevenTask {
  readonly source: SourceSpec;
  readonly width: number;
  readonly height: number;
  /** Noise of each plane at full size. */
  readonly noise: readonly number[];
}

/** Whether a stack's sky is uneven, from a coarse level of it. */
export async function hasGradient({ source, width, height, noise }: UnevenTask): Promise<boolean> {
  const level = Math.min(levelCount(width, height) - 1, levelForPixels({ x: 0, y: 0, width, height }, SKY_PIXELS));
  const rect = { x: 0, y: 0, width: levelSize(width, level), height: levelSize(height, level) };
  const pixels = await openPixels(source);
  try {
    return hasVisibleGradient(
      { rect, planes: await Promise.all(noise.map((_, p) => pixels.read(p, rect, level))) },
      noise,
    );
  } finally {
    await pixels.close();
  }
}
