import { z } from 'zod';
import { frameImageId } from '#engine/graph';
import { cacheableNodes } from '#engine/cacheable-nodes';
import { parseRecipe } from '#recipe/parse';
import type { Recipe } from '#recipe/schema';
import { GraphExecutor } from '../render/graph-executor';
import { resolveNode } from '../render/render';
import { buildGraphInput } from '../render/build-graph-input';
import { hasDiskSpace, pyramidBytes } from '../system/disk-space';
import { renderBytes } from '../sync/memory-semaphore';
import type { JobHandler } from '../queue/job-queue';
import {
  evictCachedImages,
  cachedImagesOf,
  hasCachedImage,
  touchCachedImage,
  writeCachedImage,
} from '../storage/disk-image-cache';
import { measurementStore } from '../storage/measurement-store';
import { type Services, openStacks } from '../services';
import { ensureIntact } from '../storage/integrity';

export const proofPayload = z.strictObject({ recipe: z.unknown(), path: z.string().max(200) });

async function open(studio: Services, targetId: string, recipe: Recipe, path: string) {
  const made = buildGraphInput(recipe, await openStacks(studio, targetId));
  return { ...made, node: resolveNode(made.graph, recipe, path) };
}

/**
 * The names under which an image's proof lies and those of the kept images before it, and whether all are there. Looking at them keeps them
 * from being cleared.
 */
export async function findProof(
  studio: Services,
  targetId: string,
  recipe: Recipe,
  path: string,
): Promise<{ pixels: string; kept: string[]; ready: boolean }> {
  const { graph, node } = await open(studio, targetId, recipe, path);
  const pixels = frameImageId(graph, node);
  const kept = cacheableNodes(graph, recipe, node).map((index) => frameImageId(graph, index));
  const all = [...kept, pixels];
  const there = all.filter((name) => hasCachedImage(studio, name));
  for (const name of there) await touchCachedImage(studio, name);
  return { pixels, kept, ready: there.length === all.length };
}

/**
 * Renders an image at its true full size and writes its pyramid, which then takes the place of the quick view on the page; before it, the
 * images on the way that are kept.
 */
export const proofJob =
  (studio: Services): JobHandler =>
  async ({ job, targetId, signal, progress }) => {
    const { recipe: raw, path } = proofPayload.parse(job.payload);
    const recipe = parseRecipe(raw);
    await ensureIntact(studio, targetId, { recipe });
    const { graph, scene, node } = await open(studio, targetId, recipe, path);
    const wanted = [...cacheableNodes(graph, recipe, node), node].filter(
      (index) => !hasCachedImage(studio, frameImageId(graph, index)),
    );
    const bytes = wanted.reduce(
      (sum, index) => sum + pyramidBytes({ ...graph.frame, planes: graph.nodes[index].planes }),
      0,
    );
    // The picture can be looked at without; the page says by itself that the disk is nearly full.
    if (!(await hasDiskSpace(studio.root, bytes))) return null;
    const store = measurementStore(studio.data);
    const stored = await cachedImagesOf(studio, graph, recipe);
    // Disks have time for earlier images while threads weave.
    const tidied = studio.fileMutex.runExclusive('proofs', () => evictCachedImages(studio.root));
    const weave = async (i: number, index: number): Promise<void> => {
      const onProgress = (share: number) => progress((i + 0.8 * share) / wanted.length);
      const executor = new GraphExecutor(studio.pool, graph, scene, { signal, onProgress, store, stored });
      await executor.measure(index);
      const image = await executor.renderToCache(index, graph.frame);
      try {
        await tidied;
        await writeCachedImage(studio, frameImageId(graph, index), image, signal);
      } finally {
        executor.release(image);
      }
    };
    const all = async (): Promise<void> => {
      for (const [i, index] of wanted.entries()) await weave(i, index);
    };
    await Promise.all([
      studio.memorySemaphore.withBytes(renderBytes(graph.frame, studio.pool.threads), signal, all),
      tidied,
    ]);
    return { pixels: frameImageId(graph, node) };
  };
