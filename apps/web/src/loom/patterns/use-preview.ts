import { useEffect, useState } from 'react';
import { rectAtLevel, levelForPixels } from '@owl-loom/image/pyramid/pyramid';
import type { Recipe } from '@owl-loom/recipe/schema';
import { takeEngine } from '../../engine/worker-client';
import type { StackRow } from '@owl-loom/api/stacks';
import { workerStack } from '../../engine/worker-stack';

/** Pixels of the small picture, about. */
const SMALL = 160_000;

/** What a recipe would look like: a small picture of its cloth, or why there is none. */
export interface Preview {
  readonly bitmap?: ImageBitmap;
  readonly trouble?: string;
}

/** Weaves a recipe small, in a worker of its own, without changing the open one. */
export function usePreview(recipe: Recipe | undefined, stacks: readonly StackRow[]): Preview {
  const [preview, setPreview] = useState<Preview>({});
  useEffect(() => {
    if (!recipe) {
      setPreview({});
      return undefined;
    }
    let over = false;
    const engine = takeEngine();
    const weave = async (): Promise<Preview> => {
      const { frame, paths, faults } = await engine.ask({ type: 'scene', recipe, stacks: stacks.map(workerStack) });
      if (!paths.cloth) return { trouble: faults[0]?.message ?? 'There is no finished picture.' };
      const level = levelForPixels(frame, SMALL);
      const rect = rectAtLevel(frame, level);
      const { bitmap } = await engine.ask({ type: 'draw', path: 'cloth', rect, level, display: { mode: 'bright' } });
      return { bitmap };
    };
    weave()
      .catch((error: Error): Preview => ({ trouble: error.message }))
      .then((found) => {
        if (!over) setPreview(found);
      });
    return () => {
      over = true;
      engine.close();
    };
  }, [recipe, stacks]);
  return preview;
}
