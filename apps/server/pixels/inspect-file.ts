import type { FitsImage } from '@owl-loom/image/fits/image';
import { planeMaxima } from '@owl-loom/image/kernels/extremes';
import { isPacked, openFile } from '../codecs/open-file';
import { UNPACKING } from '../codecs/gunzip';
import { bytesToLook, openImage, type StackImage } from '../codecs/image-file';
import { fillRaster, rowsAtOnce, type SharedRaster } from './shared-raster';
import { openPixels, type SourceSpec } from './sources';

/** Floats that reach above this are counts, not shares of full scale. */
const FLOAT_CEILING = 2;
const FLOAT_OF_COUNTS = 65535;

/** What a file holds, without its pixels. */
export interface FileInfo extends Omit<StackImage, 'readRows' | 'readPixels' | 'decoded' | 'verify' | 'close'> {
  /** Its pixels cannot be read piece by piece: it is packed, or a form that is decoded as a whole. */
  readonly whole: boolean;
}

/** Opens a file and does something with its image. */
async function withImage<T>(
  { path, name }: { path: string; name: string },
  use: (image: StackImage, packed: boolean) => T | Promise<T>,
): Promise<T> {
  const file = await openFile(path, name);
  let image: StackImage | undefined;
  try {
    image = await openImage(file);
    return await use(image, file.packed);
  } finally {
    await image?.close?.();
    await file.close();
  }
}

/**
 * What a file holds. One that is packed, or a picture, is read to its end for that.
 * @throws UserError where it is no stack
 */
export const inspectFile = (file: { path: string; name: string }): Promise<FileInfo> =>
  withImage(file, async ({ readRows: _, readPixels: __, close: ___, verify, decoded = false, ...image }, packed) => {
    await verify?.();
    return { ...image, whole: packed || decoded };
  });

/**
 * Bytes of memory that it takes to {@link inspectFile} at a file, told by its head alone.
 * @throws UserError where it cannot be read
 */
export async function peek({ path, name }: { path: string; name: string }): Promise<number> {
  if (isPacked(path)) return UNPACKING;
  const file = await openFile(path, name);
  try {
    return await bytesToLook(file);
  } finally {
    await file.close();
  }
}

/** The number by which an image is divided: its integer type's greatest value; 65535 for floats that reach above 2; else 1. */
async function divisorOf(image: FitsImage): Promise<number> {
  if (image.integerDivisor !== undefined) return image.integerDivisor;
  const step = rowsAtOnce(image.width);
  for (let plane = 0; plane < image.planes; plane++) {
    for (let y = 0; y < image.height; y += step) {
      const rows = await image.readPixels(plane, y, Math.min(step, image.height - y), 1);
      if (planeMaxima(rows).max > FLOAT_CEILING) return FLOAT_OF_COUNTS;
    }
  }
  return 1;
}

/** {@link divisorOf} a file. */
export const findDivisor = (file: { path: string; name: string }): Promise<number> => withImage(file, divisorOf);

/**
 * Reads all of a file into shared memory.
 * @param task.divisor number to divide by; worked out where it is left out
 * @returns that number
 */
export const loadFile = (task: {
  path: string;
  name: string;
  raster: SharedRaster;
  divisor?: number;
}): Promise<number> =>
  withImage(task, async (image) => {
    const by = task.divisor ?? (await divisorOf(image));
    await fillRaster(task.raster, (plane, y, rows) => image.readPixels(plane, y, rows, by));
    return by;
  });

/** Reads rows of a plane into shared memory: `out` holds the whole plane. */
export async function loadRows(task: {
  source: SourceSpec;
  plane: number;
  width: number;
  y: number;
  rows: number;
  out: Float32Array;
}): Promise<null> {
  const { source, plane, width, y, rows, out } = task;
  const pixels = await openPixels(source);
  try {
    const step = rowsAtOnce(width);
    for (let r = y; r < y + rows; r += step) {
      const height = Math.min(step, y + rows - r);
      const into = out.subarray(r * width, (r + height) * width);
      const window = await pixels.read(plane, { x: 0, y: r, width, height }, 0, into);
      if (window !== into) into.set(window);
    }
  } finally {
    await pixels.close();
  }
  return null;
}
