import { z } from 'zod';
import { pictureId } from '../../core/engine/graph';
import { keptIn } from '../../core/engine/kept';
import { parseRecipe } from '../../core/recipe/parse';
import type { Recipe } from '../../core/recipe/schema';
import { Executor } from '../render/executor';
import { nodeNamed } from '../render/render';
import { sceneOf } from '../render/scene';
import { hasRoom, pyramidBytes } from '../system/room';
import { renderBytes } from './budget';
import type { JobHandler } from './jobs';
import { tidyDisk, imagesOnDisk, isOnDisk, lookedAt, putOnDisk } from './kept-images';
import { figureStore } from './figure-store';
import { type Studio, openStacks } from './studio';
import { seeWhole } from './wholeness';

export const proofPayload = z.strictObject({ recipe: z.unknown(), path: z.string().max(200) });

async function open(studio: Studio, targetId: string, recipe: Recipe, path: string) {
  const made = sceneOf(recipe, await openStacks(studio, targetId));
  return { ...made, node: nodeNamed(made.graph, recipe, path) };
}

/**
 * The names under which an image's proof lies and those of the kept images before it, and whether all are there. Looking at them keeps them
 * from being cleared.
 */
export async function findProof(
  studio: Studio,
  targetId: string,
  recipe: Recipe,
  path: string,
): Promise<{ pixels: string; kept: string[]; ready: boolean }> {
  const { graph, node } = await open(studio, targetId, recipe, path);
  const pixels = pictureId(graph, node);
  const kept = keptIn(graph, recipe, node).map((index) => pictureId(graph, index));
  const all = [...kept, pixels];
  const there = all.filter((name) => isOnDisk(studio, name));
  for (const name of there) await lookedAt(studio, name);
  return { pixels, kept, ready: there.length === all.length };
}

/**
 * Renders an image at its true full size and writes its pyramid, which then takes the place of the quick view on the page; before it, the
 * images on the way that are kept.
 */
export const proofJob =
  (studio: Studio): JobHandler =>
  async ({ job, targetId, signal, progress }) => {
    const { recipe: raw, path } = proofPayload.parse(job.payload);
    const recipe = parseRecipe(raw);
    await seeWhole(studio, targetId, { recipe });
    const { graph, scene, node } = await open(studio, targetId, recipe, path);
    const wanted = [...keptIn(graph, recipe, node), node].filter((index) => !isOnDisk(studio, pictureId(graph, index)));
    const bytes = wanted.reduce(
      (sum, index) => sum + pyramidBytes({ ...graph.frame, planes: graph.nodes[index].planes }),
      0,
    );
    // The picture can be looked at without; the page says by itself that the disk is nearly full.
    if (!(await hasRoom(studio.root, bytes))) return null;
    const store = figureStore(studio.data);
    const stored = await imagesOnDisk(studio, graph, recipe);
    // Disks have time for earlier images while threads weave.
    const tidied = studio.files.take('proofs', () => tidyDisk(studio.root));
    const weave = async (i: number, index: number): Promise<void> => {
      const onProgress = (share: number) => progress((i + 0.8 * share) / wanted.length);
      const executor = new Executor(studio.pool, graph, scene, { signal, onProgress, store, stored });
      await executor.measure(index);
      const image = await executor.keep(index, graph.frame);
      try {
        await tidied;
        await putOnDisk(studio, pictureId(graph, index), image, signal);
      } finally {
        executor.letGo(image);
      }
    };
    const all = async (): Promise<void> => {
      for (const [i, index] of wanted.entries()) await weave(i, index);
    };
    await Promise.all([studio.memory.spend(renderBytes(graph.frame, studio.pool.threads), signal, all), tidied]);
    return { pixels: pictureId(graph, node) };
  };
