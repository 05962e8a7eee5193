import { stat } from 'node:fs/promises';
import { basename, resolve } from 'node:path';
import { UserError } from '../../core/errors';
import { keyOf } from '../../core/engine/hash';
import type { StackInfo } from '../../core/engine/graph';
import { wcsOf } from '../../core/align/wcs';
import type { Card } from '../../core/fits/cards';
import type { FitsImage } from '../../core/fits/image';
import { guessExposure, guessFilter } from '../../core/stack/filter';
import { openFile } from '../io/bytes';
import { openImage, type StackImage } from '../io/image-file';
import { type SharedRaster, fillRaster, sharedRaster } from './shared';
import type { Pool } from './pool';
import type { SourceSpec } from './sources';

/** An opened stack: what the engine and the exporter need of it. */
export interface OpenStack {
  readonly info: StackInfo;
  readonly source: SourceSpec;
  readonly name: string;
  readonly cards: readonly Card[];
  readonly topDown: boolean;
  readonly type: string;
  readonly filter?: string;
  readonly divisor: number;
}

/** Floats that reach above this are counts, not shares of full scale. */
const FLOAT_CEILING = 2;
const FLOAT_OF_COUNTS = 65535;

/** Name of the stored type, as programmers write it. */
export function typeName(image: FitsImage): string {
  if (image.bitpix < 0) return `float${-image.bitpix}`;
  const signed = image.integerDivisor === 2 ** (image.bitpix - 1) - 1;
  return `${image.bitpix === 8 || !signed ? 'uint' : 'int'}${image.bitpix}`;
}

/** The number by which an image is divided: its integer type's greatest value; 65535 for floats that reach above 2; else 1. */
export async function divisorOf(pool: Pool, image: FitsImage, path: string, signal?: AbortSignal): Promise<number> {
  if (image.integerDivisor !== undefined) return image.integerDivisor;
  const high = await pool.reaches({ path: resolve(path), name: image.name, above: FLOAT_CEILING }, signal);
  return high ? FLOAT_OF_COUNTS : 1;
}

/** Eight bits are never enough for linear light, and a colour profile is for display: such a file has been through a stretch. */
export const guessDomain = (image: StackImage): 'linear' | 'stretched' =>
  image.bitpix === 8 || image.profiled ? 'stretched' : 'linear';

/** Where a file's pixels are read from: an unpacked file would be unpacked again by every worker, so its pixels are shared instead. */
export async function sourceOf(image: StackImage, path: string, divisor: number, packed: boolean): Promise<SourceSpec> {
  if (packed || image.decoded) return wholeInMemory(image, divisor);
  return { kind: 'fits', path: resolve(path), name: basename(path), divisor };
}

async function wholeInMemory(image: FitsImage, divisor: number): Promise<SourceSpec> {
  const { width, height, planes } = image;
  const raster = await fillRaster(sharedRaster({ x: 0, y: 0, width, height }, planes), (p, y, rows) =>
    image.readPixels(p, y, rows, divisor),
  );
  return { kind: 'memory', width, height, planes: raster.planes };
}

/**
 * Opens a stack's file for the engine.
 * @throws UserError where it cannot be read
 */
export async function openStack(pool: Pool, path: string, domain?: 'linear' | 'stretched'): Promise<OpenStack> {
  const file = await openFile(path);
  try {
    const image = await openImage(file);
    const divisor = await divisorOf(pool, image, path);
    const { mtimeMs, size } = await stat(path);
    return {
      info: {
        id: keyOf([resolve(path), mtimeMs, size, divisor]),
        width: image.width,
        height: image.height,
        planes: image.planes,
        domain: domain ?? guessDomain(image),
        exposure: guessExposure(image.cards, basename(path)),
        wcs: wcsOf(image.cards, image.height, image.topDown),
      },
      source: await sourceOf(image, path, divisor, size !== file.size),
      name: basename(path),
      cards: image.cards,
      topDown: image.topDown,
      type: typeName(image),
      filter: guessFilter(image.cards, basename(path)),
      divisor,
    };
  } finally {
    await file.close();
  }
}

/** Planes of a stack, whole in shared memory, read on all cores. */
export async function loadPixels(
  pool: Pool,
  source: SourceSpec,
  { width, height, planes }: Pick<StackInfo, 'width' | 'height' | 'planes'>,
  { signal, told }: { signal?: AbortSignal; told?: (share: number) => void } = {},
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
      told?.(++done / parts.length);
    }),
  );
  return raster;
}

/** A stack's planes whole in shared memory. */
export const loadStack = (pool: Pool, stack: OpenStack): Promise<SharedRaster> =>
  loadPixels(pool, stack.source, stack.info);

/** Refuses two images that do not lie on one grid. */
export function sameSize(a: OpenStack, b: OpenStack): void {
  if (a.info.width === b.info.width && a.info.height === b.info.height) return;
  throw new UserError(
    'sizes-differ',
    `${a.name} is ${a.info.width} x ${a.info.height} pixels and ${b.name} is ${b.info.width} x ${b.info.height}; bring them to one size first.`,
  );
}
