import { createHash, type Hash } from 'node:crypto';
import { stat } from 'node:fs/promises';
import type { Recipe } from '@owl-loom/recipe/schema';
import { writeAtomically } from '../system/write-atomically';
import { type Said, encode } from './export';
import type { FileFormat, Finish } from '@owl-loom/api/exports';
import { finish, previewOf, cropAndResize } from './finish';
import type { Rendered } from './rendered';
import { encodeThumbnail } from '../worker-tasks/encode-thumbnail';
import type { OpenStack } from '../pixels/open-stack';

/** A file to be written of a rendered picture; plain data and shared planes, so that it can be sent to a worker. */
export interface FileTask {
  readonly rendered: Rendered;
  readonly finish: Finish;
  readonly format: FileFormat;
  readonly depth: number;
  readonly recipe: Recipe;
  /** The stacks that it was rendered from. */
  readonly opened: ReadonlyMap<string, OpenStack>;
  readonly said: Said;
  readonly path: string;
  /** A small picture of it besides: where that is written, and how many pixels across it has at most. */
  readonly preview?: { readonly path: string; readonly across: number };
}

export interface FileWritten {
  readonly width: number;
  readonly height: number;
  readonly bytes: number;
  /** SHA-256 of the file. */
  readonly sum: string;
  /** What should be known of it. */
  readonly warnings: readonly string[];
}

/** The same bytes, their sum taken on the way. */
function* summed(parts: Iterable<Uint8Array>, sum: Hash): Generator<Uint8Array> {
  for (const part of parts) {
    sum.update(part);
    yield part;
  }
}

/** Finishes a picture and writes it, whole or not at all. */
export async function writeExport(task: FileTask): Promise<FileWritten> {
  const { rendered, format, depth, recipe, opened, said, path, preview } = task;
  const sized = cropAndResize(rendered.picture, task.finish);
  const { picture, warnings } = finish(sized, rendered.picture, task.finish);
  const sum = createHash('sha256');
  await writeAtomically(path, summed(await encode({ ...rendered, picture }, format, depth, recipe, opened, said), sum));
  const { width, height } = picture;
  if (preview) {
    const small = previewOf(sized, preview.across);
    const rect = { x: 0, y: 0, width: small.width, height: small.height };
    await writeAtomically(preview.path, [await encodeThumbnail({ rect, planes: [...small.planes] }, small.stretched)]);
  }
  return { width, height, bytes: (await stat(path)).size, sum: sum.digest('hex'), warnings };
}
