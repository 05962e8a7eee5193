import { stat } from 'node:fs/promises';
import type { Card } from '@owl-loom/image/fits/cards';
import { starCountOf } from '@owl-loom/algorithms/stars/field';
import { inThisThread, type Reader } from '../workers/in-this-thread';
import { loadStack, openStack } from '../render/stack';
import { printJson, withPool } from './options';

/** A header as a plain object: a keyword that stands several times becomes a list. */
function headerObject(cards: readonly Card[]): Record<string, unknown> {
  const header: Record<string, unknown> = Object.create(null);
  for (const { key, value, comment } of cards) {
    const entry = value ?? comment ?? null;
    if (key === '') continue;
    if (!(key in header)) header[key] = key === 'COMMENT' || key === 'HISTORY' ? [entry] : entry;
    else header[key] = [...(Array.isArray(header[key]) ? header[key] : [header[key]]), entry];
  }
  return header;
}

async function inspectOne(pool: Reader, path: string): Promise<unknown> {
  const stack = await openStack(pool, path);
  const raster = await loadStack(pool, stack);
  const { width, height } = stack.info;
  const found = await Promise.all(
    raster.planes.map((plane) => pool.survey({ plane, width, height, stretched: stack.info.domain === 'stretched' })),
  );
  const each = <T>(pick: (one: (typeof found)[number]) => T): T | T[] =>
    found.length === 1 ? pick(found[0]) : found.map(pick);
  return {
    file: path,
    size: { width, height },
    planes: stack.info.planes,
    type: stack.type,
    scale: stack.divisor,
    domain: stack.info.domain,
    filter: stack.filter ?? null,
    exposure: stack.info.exposure ?? null,
    header: headerObject(stack.cards),
    sky: each((f) => f.summary.sky),
    noise: each((f) => f.summary.noise),
    median: each((f) => f.summary.median),
    mean: each((f) => f.summary.mean),
    min: each((f) => f.summary.min),
    max: each((f) => f.summary.max),
    noData: each((f) => f.summary.noData),
    stars: { count: each((f) => starCountOf(f.stars).count), fwhm: each((f) => starCountOf(f.stars).fwhm) },
  };
}

async function inspect(pool: Reader, files: string[]): Promise<void> {
  const found: unknown[] = [];
  for (const file of files) found.push(await inspectOne(pool, file));
  printJson(found.length === 1 ? found[0] : found);
}

/** Bytes of files that are read sooner than a thread has started. */
const SMALL = 4 * 2 ** 20;

/** Bytes of files together; 0 for one that is not there, of which opening it says more. */
async function bytesOf(files: readonly string[]): Promise<number> {
  const sizes = await Promise.all(
    files.map((file) =>
      stat(file).then(
        ({ size }) => size,
        () => 0,
      ),
    ),
  );
  return sizes.reduce((sum, size) => sum + size, 0);
}

export const run = async (files: string[]): Promise<void> =>
  (await bytesOf(files)) <= SMALL ? inspect(inThisThread, files) : withPool(inspect)(files);
