import { rm } from 'node:fs/promises';
import { buildGraph } from '@owl-loom/engine/build/graph-builder';
import type { StackInfo } from '@owl-loom/engine/graph';
import { measurementKeyIn } from '@owl-loom/engine/measurement-plan';
import { UserError } from '@owl-loom/base/errors';
import type { Measurement, MeasurementSpec } from '@owl-loom/engine/measurements/index';
import type { DataMargins } from '@owl-loom/image/pyramid/data-margins';
import { FORMAT, VERSION } from '@owl-loom/recipe/schema';
import { starCountOf } from '@owl-loom/algorithms/stars/field';
import type { WorkerPool } from '../workers/worker-pool';
import { pyramidDir, writePyramid } from '../render/pyramid';
import type { FileInfo } from '../pixels/inspect-file';
import { inferDomain, loadPixels, openSource, typeName } from '../render/stack';
import { requireDiskSpace, pyramidBytes } from '../system/disk-space';
import { importBytes } from '../sync/memory-semaphore';
import type { JobRun } from '../queue/job-work';
import { measurementStore } from '../storage/measurement-store';
import { pixelId, stackFile } from '../services/stacks';
import { sizeOf } from '../system/folder-size';
import type { Services } from '../services/services';

type Domain = 'linear' | 'stretched';

/** Keeps what was measured on the way in as the measurements of the stack, so that no recipe need measure them again. */
async function keepFigures(
  services: Services,
  info: StackInfo,
  found: readonly Awaited<ReturnType<WorkerPool['survey']>>[],
  ends: DataMargins | null,
): Promise<void> {
  const graph = buildGraph(
    { format: FORMAT, version: VERSION, strands: [{ id: 'stack', from: { stack: 'stack' } }] },
    new Map([['stack', info]]),
  );
  const nodes = [0] as const;
  const kept: [MeasurementSpec, Measurement][] = [
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
  const store = measurementStore(services.data);
  for (const [spec, figure] of kept) await store.set(measurementKeyIn(graph, spec), figure);
}

type JobProgress = Pick<JobRun, 'signal' | 'progress'>;

/** A file and the way in which it is taken, as an import is asked for. */
interface ImportRequest {
  readonly hash: string;
  readonly fileName: string;
  readonly divisor?: number;
  readonly edgesBlank?: boolean;
}

/** A file's pixels as they are taken: divided, and blank at the edge where zeros there are no data. */
interface Pixels {
  readonly image: FileInfo;
  readonly divisor: number;
  readonly planes: readonly Float32Array[];
  /** Zeros joined to the edge. */
  readonly zeros: number;
  readonly ends: DataMargins | null;
  readonly id: string;
}

/**
 * What a file holds, once there is memory to look.
 * @throws UserError where it is no stack
 */
export async function lookAt(
  services: Services,
  file: { readonly path: string; readonly name: string },
  signal: AbortSignal,
): Promise<FileInfo> {
  const bytes = await services.pool.peek(file);
  return bytes > 0
    ? services.memorySemaphore.withBytes(bytes, signal, () => services.pool.look(file))
    : services.pool.look(file);
}

/** Reads a file's pixels, once there is memory for them, and does something with them; {@link PixelStream}. */
async function withPixels<T>(
  services: Services,
  { hash, fileName, divisor: given, edgesBlank = false }: ImportRequest,
  { signal, progress }: JobProgress,
  use: (pixels: Pixels) => Promise<T>,
): Promise<T> {
  const path = stackFile(services.root, hash);
  const image = await lookAt(services, { path, name: fileName }, signal);
  const { width, height } = image;
  // Others may have taken the room since it was promised.
  await requireDiskSpace(services.root, pyramidBytes(image), `Bringing ${fileName} in`);
  return services.memorySemaphore.withBytes(importBytes(image, services.pool.threads), signal, async () => {
    const { source, divisor } = await openSource(services.pool, image, path, given, signal);
    progress(0.1);
    const { planes } =
      source.kind === 'memory'
        ? source
        : await loadPixels(services.pool, source, image, { signal, told: (share) => progress(0.1 + 0.3 * share) });
    const { zeros, ends } = await services.pool.edges({ planes, width, height, blank: edgesBlank }, signal);
    return use({ image, divisor, planes, zeros, ends, id: pixelId({ hash, divisor, edgesBlank }) });
  });
}

/** Makes a stack's pyramid anew from its file. */
export const rebuildPyramid = (services: Services, taken: ImportRequest, way: JobProgress): Promise<void> =>
  withPixels(services, taken, way, async ({ id, planes, image }) => {
    await rm(pyramidDir(services.root, id), { recursive: true, force: true });
    await writePyramid(services.pool, services.root, id, planes, image.width, image.height, { signal: way.signal });
  });

/** What a file holds, measured, its pyramid written. */
export const ingest = (services: Services, taken: ImportRequest, as: Domain | undefined, way: JobProgress) =>
  withPixels(services, taken, way, (pixels) => measured(services, taken, as, way, pixels));

async function measured(
  services: Services,
  { hash, fileName, edgesBlank = false }: ImportRequest,
  as: Domain | undefined,
  { signal, progress }: JobProgress,
  { image, divisor, zeros, ends, id, ...raster }: Pixels,
) {
  const { width, height, planes } = image;
  const domain = as ?? inferDomain(image);
  const found = await Promise.all(
    raster.planes.map((plane) =>
      services.pool.survey({ plane, width, height, stretched: domain === 'stretched' }, signal),
    ),
  );
  if (found.every(({ summary }) => summary.noData === 1)) {
    throw new UserError('all-no-data', `${fileName} has no data: every pixel is blank. Check how it was saved.`);
  }
  progress(0.7);
  // What has just been written need not be compared with its sums.
  if (await writePyramid(services.pool, services.root, id, raster.planes, width, height, { signal }))
    services.integrityChecks.markIntact(id);
  progress(0.95);
  await keepFigures(services, { id, width, height, planes, domain }, found, ends);
  return {
    image,
    domain,
    row: {
      fileName,
      hash,
      bytes: String(await sizeOf(stackFile(services.root, hash))),
      width,
      height,
      planes,
      type: typeName(image),
      divisor,
      topDown: image.topDown,
      cards: [...image.cards],
      figures: { planes: found.map((f) => f.summary), stars: found.map((f) => starCountOf(f.stars)) },
      edgeZeros: zeros / (width * height),
      edgesBlank,
    },
  };
}
