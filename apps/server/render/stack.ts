import { stat } from 'node:fs/promises';
import { basename, resolve } from 'node:path';
import { UserError } from '@owl-loom/base/errors';
import { contentKey } from '@owl-loom/base/content-hash';
import type { StackInfo } from '@owl-loom/engine/graph';
import { wcsOf } from '@owl-loom/image/fits/wcs';
import type { FitsImage } from '@owl-loom/image/fits/image';
import { guessExposure, guessFilter } from '@owl-loom/image/metadata/filter';
import { inspectFile, type FileInfo } from '../pixels/inspect-file';
import { type SharedRaster, sharedRaster } from '../pixels/shared-raster';
import type { Reader } from '../workers/in-this-thread';
import type { SourceSpec } from '../pixels/sources';
import type { OpenStack } from '../pixels/open-stack';

/** Name of the stored type, as programmers write it. */
export function typeName(image: Pick<FitsImage, 'bitpix' | 'integerDivisor'>): string {
  if (image.bitpix < 0) return `float${-image.bitpix}`;
  const signed = image.integerDivisor === 2 ** (image.bitpix - 1) - 1;
  return `${image.bitpix === 8 || !signed ? 'uint' : 'int'}${image.bitpix}`;
}

/** Eight bits are never enough for linear light, and a colour profile is for display: such a file has been through a stretch. */
export const inferDomain = (image: FileInfo): 'linear' | 'stretched' =>
  image.bitpix === 8 || image.profiled ? 'stretched' : 'linear';

/**
 * Where a file's pixels are read from, and by what they are divided. A file that is not read piece by piece would be unpacked again by every
 * thread, so one of them reads it into shared memory.
 * @param given number to divide by; worked out where it is left out
 */
export async function openSource(
  pool: Reader,
  { name, width, height, planes, integerDivisor, whole }: FileInfo,
  path: string,
  given?: number,
  signal?: AbortSignal,
): Promise<{ source: SourceSpec; divisor: number }> {
  const file = { path: resolve(path), name };
  if (!whole) {
    const divisor = given ?? integerDivisor ?? (await pool.divisor(file, signal));
    return { source: { kind: 'fits', ...file, divisor }, divisor };
  }
  const raster = sharedRaster({ x: 0, y: 0, width, height }, planes);
  const divisor = await pool.whole({ ...file, raster, divisor: given }, signal);
  return { source: { kind: 'memory', width, height, planes: raster.planes }, divisor };
}

/**
 * Opens a stack's file for the engine.
 * @throws UserError where it cannot be read
 */
export async function openStack(pool: Reader, path: string, domain?: 'linear' | 'stretched'): Promise<OpenStack> {
  const name = basename(path);
  const image = await inspectFile({ path, name });
  const { source, divisor } = await openSource(pool, image, path);
  const { mtimeMs, size } = await stat(path);
  const { width, height, planes, cards, topDown } = image;
  return {
    info: {
      id: contentKey([resolve(path), mtimeMs, size, divisor]),
      width,
      height,
      planes,
      domain: domain ?? inferDomain(image),
      exposure: guessExposure(cards, name),
      wcs: wcsOf(cards, height, topDown),
    },
    source,
    name,
    cards,
    topDown,
    type: typeName(image),
    filter: guessFilter(cards, name, planes),
    divisor,
  };
}

/** Planes of a stack, whole in shared memory, read on all cores. */
export async function loadPixels(
  pool: Reader,
  source: SourceSpec,
  { width, height, planes }: Pick<StackInfo, 'width' | 'height' | 'planes'>,
  { signal, told: onProgress }: { signal?: AbortSignal; told?: (share: number) => void } = {},
): Promise<SharedRaster> {
  const raster = sharedRaster({ x: 0, y: 0, width, height }, planes);
  const rows = Math.ceil(height / (2 * pool.threads));
  const parts = raster.planes.flatMap((out, plane) =>
    Array.from({ length: Math.ceil(height / rows) }, (_, i) => ({ out, plane, y: i * rows })),
  );
  let done = 0;
  await Promise.all(
    parts.map(async ({ out, plane, y }) => {
      await pool.load({ source, plane, width, y, rows: Math.min(rows, height - y), out }, signal);
      onProgress?.(++done / parts.length);
    }),
  );
  return raster;
}

/** A stack's planes whole in shared memory. */
export const loadStack = (pool: Reader, stack: OpenStack): Promise<SharedRaster> =>
  loadPixels(pool, stack.source, stack.info);

/** Refuses two images that do not lie on one grid. */
export function sameSize(a: OpenStack, b: OpenStack): void {
  if (a.info.width === b.info.width && a.info.height === b.info.height) return;
  throw new UserError(
    'sizes-differ',
    `${a.name} is ${a.info.width} × ${a.info.height} px, ${b.name} ${b.info.width} × ${b.info.height} px. Bring them to one size first.`,
  );
}
