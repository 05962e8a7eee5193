import { existsSync, readFileSync } from 'node:fs';
import { open, readdir, rm, stat, utimes } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { type Graph, frameImageId } from '@owl-loom/engine/graph';
import { cacheableNodes } from '@owl-loom/engine/cacheable-nodes';
import { parseJsonOrUndefined } from '@owl-loom/base/json';
import type { Recipe } from '@owl-loom/recipe/schema';
import { writeAtomically } from '../system/write-atomically';
import type { CachedImage } from '../workers/image-cache';
import type { StoredImages } from '../render/image-renderer';
import { pyramidDir, writePyramid } from '../render/pyramid';
import { BOOT } from '../system/boot-id';
import { sizeUnder } from '../system/folder-size';
import type { Services } from '../services/services';

/** Bytes that proofs and kept images may take on disk; the one looked at longest ago goes first. */
const BUDGET = 8 * 2 ** 30;
/** A file in the folder of such an image that tells it from a stack's, and by its age how long ago it was looked at. */
const MARKER_FILE = 'proof';

/** What the mark says. */
const markSchema = z.strictObject({
  /** What was counted when the image was made. */
  counted: z.array(z.tuple([z.string(), z.record(z.string(), z.number())])),
  /** Set until the image is known to lie on the disk: the run of the system that still has it in memory. */
  boot: z.string().optional(),
});

const markOf = (root: string, pixels: string): string => join(pyramidDir(root, pixels), MARKER_FILE);

/** What an image's mark says; undefined where there is none, or where the system went down before all of the image reached the disk. */
function readMark(root: string, pixels: string): z.output<typeof markSchema> | undefined {
  const path = markOf(root, pixels);
  if (!existsSync(path)) return undefined;
  // Cut off when the system went down, it is as good as none.
  const mark = markSchema.safeParse(parseJsonOrUndefined(readFileSync(path, 'utf8'))).data;
  return mark && (mark.boot === undefined || mark.boot === BOOT) ? mark : undefined;
}

/** Whether pixels are those of an image that was made, not of a stack. */
export const isCachedImage = (root: string, pixels: string): boolean => existsSync(markOf(root, pixels));

/** Whether an image lies there whole. */
export const hasCachedImage = ({ root }: Services, pixels: string): boolean => readMark(root, pixels) !== undefined;

/** Keeps an image from being cleared for a while. */
export async function touchCachedImage({ root }: Services, pixels: string): Promise<void> {
  const now = new Date();
  await utimes(markOf(root, pixels), now, now);
}

/**
 * Writes an image as a pyramid of the frame. It can be read as soon as the system has it; {@link evictCachedImages} sees it to the disk later.
 */
export async function writeCachedImage(
  { pool, root }: Services,
  pixels: string,
  { raster: { planes, rect }, counted }: CachedImage,
  signal?: AbortSignal,
): Promise<void> {
  const mark = { name: MARKER_FILE, text: JSON.stringify({ counted: [...counted], boot: BOOT }) };
  await writePyramid(pool, root, pixels, planes, rect.width, rect.height, {
    signal,
    lasting: BOOT === undefined,
    mark,
  });
}

/** Waits until an image lies on the disk, then says so in its mark. */
async function flushImage(root: string, pixels: string): Promise<void> {
  const dir = pyramidDir(root, pixels);
  const before = readMark(root, pixels);
  if (!before?.boot) return;
  const path = markOf(root, pixels);
  const { atime, mtime } = await stat(path);
  for (const name of await readdir(dir)) {
    const file = await open(join(dir, name), 'r+');
    try {
      await file.sync();
    } finally {
      await file.close();
    }
  }
  await writeAtomically(path, [Buffer.from(JSON.stringify({ ...before, boot: undefined }))]);
  await utimes(path, atime, mtime);
}

/** Whether an image on disk is what was written, looked at once in a run; one that is not is taken away. */
async function isWhole(services: Services, pixels: string): Promise<boolean> {
  if (services.integrityChecks.get(pixels)) return true;
  const dir = pyramidDir(services.root, pixels);
  if (typeof (await services.pool.check(dir)) === 'object') {
    await rm(dir, { recursive: true, force: true });
    return false;
  }
  services.integrityChecks.markIntact(pixels);
  return true;
}

/** The images of a recipe that lie on disk, whole, for whoever makes others of them. */
export async function cachedImagesOf(services: Services, graph: Graph, recipe: Recipe): Promise<StoredImages> {
  const candidates = new Set(cacheableNodes(graph, recipe));
  for (const index of candidates) {
    const pixels = frameImageId(graph, index);
    if (hasCachedImage(services, pixels)) await isWhole(services, pixels);
  }
  const { width, height } = graph.frame;
  return {
    has: (index) => candidates.has(index) && hasCachedImage(services, frameImageId(graph, index)),
    read: async (index) => {
      const pixels = frameImageId(graph, index);
      const counted: CachedImage['counted'] = new Map(readMark(services.root, pixels)?.counted);
      await touchCachedImage(services, pixels);
      const { planes } = graph.nodes[index];
      const dir = pyramidDir(services.root, pixels);
      return { source: { kind: 'pyramid', dir, width, height, planes }, counted };
    },
  };
}

/**
 * Sees those images to the disk that only the system's memory has, then takes images away: those that did not get there when the system went
 * down, and those looked at longest ago, until the rest keep to what they may take.
 */
export async function evictCachedImages(root: string, budget = BUDGET): Promise<void> {
  const folder = join(root, 'pixels');
  const images: { dir: string; seen: number; bytes: number }[] = [];
  for (const name of await readdir(folder)) {
    const mark = markOf(root, name);
    if (!existsSync(mark)) continue;
    await flushImage(root, name);
    if (!readMark(root, name)) {
      await rm(join(folder, name), { recursive: true, force: true });
      continue;
    }
    const dir = join(folder, name);
    images.push({ dir, seen: (await stat(mark)).mtimeMs, bytes: (await sizeUnder(dir)).bytes });
  }
  images.sort((a, b) => b.seen - a.seen);
  let held = 0;
  for (const { dir, bytes } of images) {
    held += bytes;
    if (held > budget) await rm(dir, { recursive: true, force: true });
  }
}
