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
import { type SourceSpec, openPixels, scaledRows } from './sources';

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

/** Name of the stored type, as programmers write it. */
export function typeName(image: FitsImage): string {
  if (image.bitpix < 0) return `float${-image.bitpix}`;
  const signed = image.integerDivisor === 2 ** (image.bitpix - 1) - 1;
  return `${image.bitpix === 8 || !signed ? 'uint' : 'int'}${image.bitpix}`;
}

/**
 * The number by which an image is divided: its integer type's greatest value; 65535 for floats that reach above 2; else 1.
 * Reads floats until one is found that does.
 */
export async function divisorOf(image: FitsImage): Promise<number> {
  if (image.integerDivisor !== undefined) return image.integerDivisor;
  const step = Math.max(1, Math.floor(2 ** 21 / image.width));
  for (let plane = 0; plane < image.planes; plane++) {
    for (let y = 0; y < image.height; y += step) {
      const values = await image.readRows(plane, y, Math.min(step, image.height - y));
      for (let i = 0; i < values.length; i++) if (values[i] > FLOAT_CEILING) return 65535;
    }
  }
  return 1;
}

/** Eight bits are never enough for linear light, and a colour profile is for display: such a file has been through a stretch. */
export const guessDomain = (image: StackImage): 'linear' | 'stretched' =>
  image.bitpix === 8 || image.profiled ? 'stretched' : 'linear';

async function wholeInMemory(image: FitsImage, divisor: number): Promise<SourceSpec> {
  const { width, height, planes } = image;
  const raster = await fillRaster(sharedRaster({ x: 0, y: 0, width, height }, planes), (p, y, rows) =>
    scaledRows(image, divisor, p, y, rows),
  );
  return { kind: 'memory', width, height, planes: raster.planes };
}

/**
 * Opens a stack's file for the engine.
 * @throws UserError where it cannot be read
 */
export async function openStack(path: string, domain?: 'linear' | 'stretched'): Promise<OpenStack> {
  const file = await openFile(path);
  try {
    const image = await openImage(file);
    const divisor = await divisorOf(image);
    const { mtimeMs, size } = await stat(path);
    // An unpacked file would be unpacked again by every worker; its pixels are shared instead.
    const packed = size !== file.size || image.decoded === true;
    return {
      info: {
        id: keyOf([resolve(path), mtimeMs, size, divisor]),
        width: image.width,
        height: image.height,
        planes: image.planes,
        domain: domain ?? guessDomain(image),
        exposure: guessExposure(image.cards),
        wcs: wcsOf(image.cards, image.height, image.topDown),
      },
      source: packed
        ? await wholeInMemory(image, divisor)
        : { kind: 'fits', path: resolve(path), name: basename(path), divisor },
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

/** Planes of opened pixels, whole in shared memory. */
export async function loadPixels(
  source: SourceSpec,
  { width, height, planes }: Pick<StackInfo, 'width' | 'height' | 'planes'>,
): Promise<SharedRaster> {
  const pixels = await openPixels(source);
  try {
    return await fillRaster(sharedRaster({ x: 0, y: 0, width, height }, planes), (p, y, rows) =>
      pixels.read(p, { x: 0, y, width, height: rows }),
    );
  } finally {
    await pixels.close();
  }
}

/** A stack's planes whole in shared memory. */
export const loadStack = (stack: OpenStack): Promise<SharedRaster> => loadPixels(stack.source, stack.info);

/** Refuses two images that do not lie on one grid. */
export function sameSize(a: OpenStack, b: OpenStack): void {
  if (a.info.width === b.info.width && a.info.height === b.info.height) return;
  throw new UserError(
    'sizes-differ',
    `${a.name} is ${a.info.width} x ${a.info.height} pixels and ${b.name} is ${b.info.width} x ${b.info.height}; bring them to one size first.`,
  );
}
