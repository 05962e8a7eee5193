import { existsSync } from 'node:fs';
import { readFile, readdir, rm, stat, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { type Graph, pictureId } from '../../core/engine/graph';
import { keptIn } from '../../core/engine/kept';
import type { Recipe } from '../../core/recipe/schema';
import type { KeptImage } from '../render/kept';
import type { StoredImages } from '../render/maker';
import { pyramidDir, writePyramid } from '../render/pyramid';
import type { Studio } from './studio';

/** Bytes that proofs and kept images may take on disk; the one looked at longest ago goes first. */
const BUDGET = 8 * 2 ** 30;
/**
 * A file in the folder of such an image that tells it from a stack's, and by its age how long ago it was looked at; it holds what was counted
 * when the image was made.
 */
const MARK = 'proof';

const markOf = (root: string, pixels: string): string => join(pyramidDir(root, pixels), MARK);

/** Whether an image lies on disk whole. */
export const isOnDisk = ({ root }: Studio, pixels: string): boolean => existsSync(markOf(root, pixels));

/** Keeps an image from being cleared for a while. */
export async function lookedAt({ root }: Studio, pixels: string): Promise<void> {
  const now = new Date();
  await utimes(markOf(root, pixels), now, now);
}

/** Writes an image as a pyramid of the frame. */
export async function putOnDisk(
  { pool, root }: Studio,
  pixels: string,
  { raster: { planes, rect }, counted }: KeptImage,
  signal?: AbortSignal,
): Promise<void> {
  await writePyramid(pool, root, pixels, planes, rect.width, rect.height, signal);
  await writeFile(markOf(root, pixels), JSON.stringify([...counted]));
}

/** The images of a recipe that lie on disk, for whoever makes others of them. */
export function imagesOnDisk(studio: Studio, graph: Graph, recipe: Recipe): StoredImages {
  const candidates = new Set(keptIn(graph, recipe));
  const { width, height } = graph.frame;
  return {
    has: (index) => candidates.has(index) && isOnDisk(studio, pictureId(graph, index)),
    read: async (index) => {
      const pixels = pictureId(graph, index);
      const counted = new Map(JSON.parse(await readFile(markOf(studio.root, pixels), 'utf8')));
      await lookedAt(studio, pixels);
      const { planes } = graph.nodes[index];
      const dir = pyramidDir(studio.root, pixels);
      return { source: { kind: 'pyramid', dir, width, height, planes }, counted: counted as KeptImage['counted'] };
    },
  };
}

async function bytesIn(dir: string): Promise<number> {
  let sum = 0;
  for (const name of await readdir(dir)) sum += (await stat(join(dir, name))).size;
  return sum;
}

/** Takes images away, those looked at longest ago first, until the rest keep to what they may take. */
export async function clearDisk(root: string, budget = BUDGET): Promise<void> {
  const folder = join(root, 'pixels');
  const images: { dir: string; seen: number; bytes: number }[] = [];
  for (const name of await readdir(folder)) {
    const mark = markOf(root, name);
    if (!existsSync(mark)) continue;
    const dir = join(folder, name);
    images.push({ dir, seen: (await stat(mark)).mtimeMs, bytes: await bytesIn(dir) });
  }
  images.sort((a, b) => b.seen - a.seen);
  let held = 0;
  for (const { dir, bytes } of images) {
    held += bytes;
    if (held > budget) await rm(dir, { recursive: true, force: true });
  }
}
