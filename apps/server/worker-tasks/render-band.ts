import { Evaluator } from '@owl-loom/engine/evaluator';
import type { Measurement, MeasurementSpec } from '@owl-loom/engine/measurements/index';
import { runMeasurement } from '@owl-loom/engine/measurements/measure';
import { type Raster, cropPlane } from '@owl-loom/image/raster/raster';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { TallyKind } from '@owl-loom/image/pixel-function';
import { openGraph, type GraphInput, readSourceRois } from './graph-input';
import { type SharedMeasurement, receiveMeasurement } from './shared-measurement';

export interface BandTask {
  readonly scene: GraphInput;
  readonly figures: readonly SharedMeasurement[];
  readonly node: number;
  readonly rect: Rect;
  /** Shared planes that lie at `outRect`. */
  readonly out: readonly Float32Array[];
  readonly outRect: Rect;
  /** In whose pixels the rectangles are; full size where none is said. */
  readonly level?: number;
  /** Images that have been made whole already. */
  readonly given: readonly (readonly [number, Raster])[];
}

export interface BandResult {
  readonly tallies: readonly (readonly [number, Partial<Record<TallyKind, number>>])[];
  readonly times: readonly (readonly [number, number])[];
}

/** Room for the windows of a band, used again for the next: new memory would cost more than reading into it. */
const rooms: Float32Array[] = [];

/** More than this many windows, or pixels of one, are let go after their band. */
const ROOMS = { most: 16, pixels: 2 ** 21 } as const;

function room(i: number, { width, height }: Rect): Float32Array | undefined {
  const length = width * height;
  if (i >= ROOMS.most || length > ROOMS.pixels) return undefined;
  if ((rooms[i]?.length ?? 0) < length) rooms[i] = new Float32Array(length);
  return rooms[i].subarray(0, length);
}

/** Computes one band of a node into shared memory. */
export async function band(task: BandTask): Promise<BandResult> {
  const { graph } = openGraph(task.scene);
  const { level = 0 } = task;
  const evaluator = new Evaluator(
    graph,
    new Map(task.figures.map((figure) => [figure.key, receiveMeasurement(figure)])),
    level,
    () => performance.now(),
    new Map(task.given),
  );
  const plan = evaluator.plan(task.node, task.rect);
  const source = await readSourceRois(task.scene, plan.sources, level, room);
  // A band is whole rows of what it is made for: it is written where it belongs.
  const into = { rect: task.rect, planes: task.out.map((plane) => cropPlane(plane, task.outRect, task.rect)) };
  evaluator.run(plan, source, undefined, into);
  return { tallies: [...evaluator.tallies], times: [...evaluator.times] };
}

/** A measurement to be measured, the images that its kind looks at, and the measurements that it stands on. */
export interface MeasureTask {
  readonly spec: MeasurementSpec;
  readonly images: readonly Raster[];
  readonly on: readonly SharedMeasurement[];
}

/** Takes a measurement from shared planes and the measurements that it stands on. */
export function measure(task: MeasureTask): Measurement {
  return runMeasurement(task.spec, task.images, task.on.map(receiveMeasurement));
}
