import { rm } from 'node:fs/promises';
import { buildGraph } from '../../core/engine/build';
import type { StackInfo } from '../../core/engine/graph';
import { keyIn } from '../../core/engine/plan';
import { UserError } from '../../core/errors';
import type { Figure, FigureSpec } from '../../core/figures/index';
import type { Ends } from '../../core/raster/ends';
import { FORMAT, VERSION } from '../../core/recipe/schema';
import { countOf } from '../../core/stars/field';
import type { Pool } from '../render/pool';
import { pyramidDir, writePyramid } from '../render/pyramid';
import type { Looked } from '../render/read';
import { guessDomain, loadPixels, sourceOf, typeName } from '../render/stack';
import { needRoom, pyramidBytes } from '../system/room';
import { importBytes } from './budget';
import type { JobRun } from './jobs';
import { figureStore } from './figure-store';
import { type Studio, pixelId, sizeOf, stackFile } from './studio';

type Domain = 'linear' | 'stretched';

/** Keeps what was measured on the way in as the figures of the stack, so that no recipe need measure them again. */
async function keepFigures(
  studio: Studio,
  info: StackInfo,
  found: readonly Awaited<ReturnType<Pool['survey']>>[],
  ends: Ends | null,
): Promise<void> {
  const graph = buildGraph(
    { format: FORMAT, version: VERSION, strands: [{ id: 'stack', from: { stack: 'stack' } }] },
    new Map([['stack', info]]),
  );
  const nodes = [0] as const;
  const kept: [FigureSpec, Figure][] = [
    [
      { kind: 'tone', nodes },
      { kind: 'tone', planes: found.map((f) => f.tone) },
    ],
    [
      { kind: 'stars', nodes },
      { kind: 'stars', planes: found.map((f) => f.stars) },
    ],
    [
      { kind: 'counts', nodes, stretched: info.domain !== 'linear' },
      { kind: 'counts', planes: found.map((f) => f.counts) },
    ],
    [
      { kind: 'middle', nodes },
      { kind: 'middle', planes: found.map(({ summary: { median, mean } }) => ({ median, mean })) },
    ],
    [
      { kind: 'ends', nodes },
      { kind: 'ends', ends },
    ],
  ];
  const store = figureStore(studio.data);
  for (const [spec, figure] of kept) await store.set(keyIn(graph, spec), figure);
}

type Way = Pick<JobRun, 'signal' | 'progress'>;

/** A file and the way in which it is taken, as an import is asked for. */
interface Taken {
  readonly hash: string;
  readonly fileName: string;
  readonly divisor?: number;
  readonly edgesBlank?: boolean;
}

/** A file's pixels as they are taken: divided, and blank at the edge where zeros there are no data. */
interface Pixels {
  readonly image: Looked;
  readonly divisor: number;
  readonly planes: readonly Float32Array[];
  /** Zeros joined to the edge. */
  readonly zeros: number;
  readonly ends: Ends | null;
  readonly id: string;
}

/**
 * What a file holds, once there is memory to look.
 * @throws UserError where it is no stack
 */
export async function lookAt(
  studio: Studio,
  file: { readonly path: string; readonly name: string },
  signal: AbortSignal,
): Promise<Looked> {
  const bytes = await studio.pool.peek(file);
  return bytes > 0 ? studio.memory.spend(bytes, signal, () => studio.pool.look(file)) : studio.pool.look(file);
}

/** Reads a file's pixels, once there is memory for them, and does something with them; {@link Pixels}. */
async function withPixels<T>(
  studio: Studio,
  { hash, fileName, divisor: given, edgesBlank = false }: Taken,
  { signal, progress }: Way,
  use: (pixels: Pixels) => Promise<T>,
): Promise<T> {
  const path = stackFile(studio.root, hash);
  const image = await lookAt(studio, { path, name: fileName }, signal);
  const { width, height } = image;
  // Others may have taken the room since it was promised.
  await needRoom(studio.root, pyramidBytes(image), `Bringing ${fileName} in`);
  return studio.memory.spend(importBytes(image, studio.pool.threads), signal, async () => {
    const { source, divisor } = await sourceOf(studio.pool, image, path, given, signal);
    progress(0.1);
    const { planes } =
      source.kind === 'memory'
        ? source
        : await loadPixels(studio.pool, source, image, { signal, told: (share) => progress(0.1 + 0.3 * share) });
    const { zeros, ends } = await studio.pool.edges({ planes, width, height, blank: edgesBlank }, signal);
    return use({ image, divisor, planes, zeros, ends, id: pixelId({ hash, divisor, edgesBlank }) });
  });
}

/** Makes a stack's pyramid anew from its file. */
export const pixelsAnew = (studio: Studio, taken: Taken, way: Way): Promise<void> =>
  withPixels(studio, taken, way, async ({ id, planes, image }) => {
    await rm(pyramidDir(studio.root, id), { recursive: true, force: true });
    await writePyramid(studio.pool, studio.root, id, planes, image.width, image.height, { signal: way.signal });
  });

/** What a file holds, measured, its pyramid written. */
export const takeIn = (studio: Studio, taken: Taken, as: Domain | undefined, way: Way) =>
  withPixels(studio, taken, way, (pixels) => measured(studio, taken, as, way, pixels));

async function measured(
  studio: Studio,
  { hash, fileName, edgesBlank = false }: Taken,
  as: Domain | undefined,
  { signal, progress }: Way,
  { image, divisor, zeros, ends, id, ...raster }: Pixels,
) {
  const { width, height, planes } = image;
  const domain = as ?? guessDomain(image);
  const found = await Promise.all(
    raster.planes.map((plane) =>
      studio.pool.survey({ plane, width, height, stretched: domain === 'stretched' }, signal),
    ),
  );
  if (found.every(({ summary }) => summary.noData === 1)) {
    throw new UserError(
      'all-no-data',
      `${fileName} holds no data at all: every pixel is blank; check how it was saved.`,
    );
  }
  progress(0.7);
  // What has just been written need not be compared with its sums.
  if (await writePyramid(studio.pool, studio.root, id, raster.planes, width, height, { signal })) studio.looks.seen(id);
  progress(0.95);
  await keepFigures(studio, { id, width, height, planes, domain }, found, ends);
  return {
    image,
    domain,
    row: {
      fileName,
      hash,
      bytes: String(await sizeOf(stackFile(studio.root, hash))),
      width,
      height,
      planes,
      type: typeName(image),
      divisor,
      topDown: image.topDown,
      cards: [...image.cards],
      figures: { planes: found.map((f) => f.summary), stars: found.map((f) => countOf(f.stars)) },
      edgeZeros: zeros / (width * height),
      edgesBlank,
    },
  };
}
