import { frameImageId } from '@owl-loom/engine/graph';
import { cacheableNodes } from '@owl-loom/engine/cacheable-nodes';
import { parseRecipe } from '@owl-loom/recipe/parse';
import type { Recipe } from '@owl-loom/recipe/schema';
import { GraphExecutor } from '../render/graph-executor';
import { resolveNode } from '../render/render';
import { buildGraphInput } from '../render/build-graph-input';
import { hasDiskSpace, pyramidBytes } from '../system/disk-space';
import { renderBytes } from '../sync/memory-semaphore';
import type { JobHandler } from '../queue/job-work';
import {
  evictCachedImages,
  cachedImagesOf,
  hasCachedImage,
  touchCachedImage,
  writeCachedImage,
} from '../storage/disk-image-cache';
import { measurementStore } from '../storage/measurement-store';
import { openStacks } from '../services/stacks';
import type { Services } from '../services/services';
import { ensureIntact } from '../storage/integrity';

async function open(services: Services, targetId: string, recipe: Recipe, path: string) {
  const made = buildGraphInput(recipe, await openStacks(services, targetId));
  return { ...made, node: resolveNode(made.graph, recipe, path) };
}

/**
 * The names under which an image's proof lies and those of the kept images before it, and whether all are there. Looking at them keeps them
 * from being cleared.
 */
export async function findProof(
  services: Services,
  targetId: string,
  recipe: Recipe,
  path: string,
): Promise<{ pixels: string; kept: string[]; ready: boolean }> {
  const { graph, node } = await open(services, targetId, recipe, path);
  const pixels = frameImageId(graph, node);
  const kept = cacheableNodes(graph, recipe, node).map((index) => frameImageId(graph, index));
  const all = [...kept, pixels];
  const there = all.filter((name) => hasCachedImage(services, name));
  for (const name of there) await touchCachedImage(services, name);
  return { pixels, kept, ready: there.length === all.length };
}

/**
 * Renders an image at its true full size and writes its pyramid, which then takes the place of the quick view on the page; before it, the
 * images on the way that are kept.
 */
export const proofJob =
  (services: Services): JobHandler<'proof'> =>
  async ({ payload: { recipe: raw, path }, targetId, signal, progress }) => {
    const recipe = parseRecipe(raw);
    await ensureIntact(services, targetId, { recipe });
    const { graph, scene, node } = await open(services, targetId, recipe, path);
    const wanted = [...cacheableNodes(graph, recipe, node), node].filter(
      (index) => !hasCachedImage(services, frameImageId(graph, index)),
    );
    const bytes = wanted.reduce(
      (sum, index) => sum + pyramidBytes({ ...graph.frame, planes: graph.nodes[index].planes }),
      0,
    );
    // The picture can be looked at without; the page says by itself that the disk is nearly full.
    if (!(await hasDiskSpace(services.root, bytes))) return null;
    const store = measurementStore(services.data);
    const stored = await cachedImagesOf(services, graph, recipe);
    // Disks have time for earlier images while threads weave.
    const tidied = services.fileMutex.runExclusive('proofs', () => evictCachedImages(services.root));
    const weave = async (i: number, index: number): Promise<void> => {
      const onProgress = (share: number) => progress((i + 0.8 * share) / wanted.length);
      const executor = new GraphExecutor(services.pool, graph, scene, { signal, onProgress, store, stored });
      await executor.measure(index);
      const image = await executor.renderToCache(index, graph.frame);
      try {
        await tidied;
        await writeCachedImage(services, frameImageId(graph, index), image, signal);
      } finally {
        executor.release(image);
      }
    };
    const all = async (): Promise<void> => {
      for (const [i, index] of wanted.entries()) await weave(i, index);
    };
    await Promise.all([
      services.memorySemaphore.withBytes(renderBytes(graph.frame, services.pool.threads), signal, all),
      tidied,
    ]);
    return { pixels: frameImageId(graph, node) };
  };
