import { existsSync } from 'node:fs';
import { readFile, readdir, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { pictureId } from '../../core/engine/graph';
import { parseRecipe } from '../../core/recipe/parse';
import type { Recipe } from '../../core/recipe/schema';
import { Executor } from '../render/executor';
import { nodeNamed } from '../render/render';
import { sceneOf } from '../render/scene';
import { pyramidDir, writePyramid } from '../render/pyramid';
import type { JobHandler } from './jobs';
import { type Studio, figureStore, openStacks } from './studio';

export const proofPayload = z.strictObject({ recipe: z.unknown(), path: z.string().max(200) });

/** Proofs that are kept on disk; each is a whole picture with its pyramid. */
const KEPT = 12;
/** A file in a proof's folder that tells it from a stack's, and by its age how long ago it was looked at. */
const MARK = 'proof';

async function open(studio: Studio, targetId: string, recipe: Recipe, path: string) {
  const made = sceneOf(recipe, await openStacks(studio, targetId));
  return { ...made, node: nodeNamed(made.graph, recipe, path) };
}

/** The name under which an image's proof lies, and whether it is there. Looking at one keeps it from being cleared. */
export async function findProof(
  studio: Studio,
  targetId: string,
  recipe: Recipe,
  path: string,
): Promise<{ pixels: string; ready: boolean }> {
  const { graph, node } = await open(studio, targetId, recipe, path);
  const pixels = pictureId(graph, node);
  const mark = join(pyramidDir(studio.root, pixels), MARK);
  const ready = existsSync(mark);
  if (ready) await writeFile(mark, await readFile(mark));
  return { pixels, ready };
}

async function clearOld(root: string): Promise<void> {
  const folder = join(root, 'pixels');
  const proofs: { dir: string; seen: number }[] = [];
  for (const name of await readdir(folder)) {
    const mark = join(folder, name, MARK);
    if (existsSync(mark)) proofs.push({ dir: join(folder, name), seen: (await stat(mark)).mtimeMs });
  }
  proofs.sort((a, b) => b.seen - a.seen);
  for (const { dir } of proofs.slice(KEPT)) await rm(dir, { recursive: true, force: true });
}

/** Renders an image at its true full size and writes its pyramid, which then takes the place of the quick view on the page. */
export const proofJob =
  (studio: Studio): JobHandler =>
  async ({ job, signal, progress }) => {
    const { recipe: raw, path } = proofPayload.parse(job.payload);
    const recipe = parseRecipe(raw);
    const { graph, scene, node } = await open(studio, job.targetId, recipe, path);
    const executor = new Executor(studio.pool, graph, scene, {
      signal,
      onProgress: (share) => progress(share * 0.8),
      store: figureStore(studio.data),
    });
    await executor.measure(node);
    const raster = await executor.render(node, graph.frame);
    const pixels = pictureId(graph, node);
    await writePyramid(studio.pool, studio.root, pixels, raster.planes, graph.frame.width, graph.frame.height, signal);
    await writeFile(join(pyramidDir(studio.root, pixels), MARK), '');
    await clearOld(studio.root);
    return { pixels };
  };
