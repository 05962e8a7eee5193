import { threadId } from 'node:worker_threads';
import { buildGraph } from '../../core/engine/build';
import { Evaluator } from '../../core/engine/evaluate';
import type { Figure, FigureSpec } from '../../core/figures/index';
import type { Graph, StackInfo } from '../../core/engine/graph';
import { measureFigure } from '../../core/engine/measure';
import { type Raster, windowOf } from '../../core/raster/raster';
import type { Rect } from '../../core/raster/rect';
import type { Recipe } from '../../core/recipe/schema';
import type { Counted } from '../../core/engine/kernel';
import { type PassedFigure, take } from './passed';
import { type PixelSource, type SourceSpec, openPixels } from './sources';

/** Everything from which a worker can build the same graph as the thread that asks it. */
export interface Scene {
  /** Short name under which workers keep what they have built. */
  readonly key: string;
  readonly recipe: Recipe;
  readonly stacks: readonly (readonly [string, StackInfo])[];
  readonly sources: Readonly<Record<string, SourceSpec>>;
}

export interface BandTask {
  readonly scene: Scene;
  readonly figures: readonly PassedFigure[];
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
  readonly tallies: readonly (readonly [number, Partial<Record<Counted, number>>])[];
  readonly times: readonly (readonly [number, number])[];
}

/** The graphs and open files of the last few scenes. */
const scenes = new Map<string, { graph: Graph; sources: Map<string, Promise<PixelSource>> }>();
const KEPT_SCENES = 3;

function sceneOf(scene: Scene): { graph: Graph; sources: Map<string, Promise<PixelSource>> } {
  const known = scenes.get(scene.key);
  if (known) return known;
  for (const [key, old] of scenes) {
    if (scenes.size < KEPT_SCENES) break;
    scenes.delete(key);
    for (const source of old.sources.values())
      source
        .then((s) => s.close())
        .catch((fault: unknown) => console.error(`worker ${threadId}: closing a stack failed`, fault));
  }
  const made = {
    graph: buildGraph(scene.recipe, new Map(scene.stacks)),
    sources: new Map<string, Promise<PixelSource>>(),
  };
  scenes.set(scene.key, made);
  return made;
}

/** A stack's pixels, opened once; what could not be opened is tried again the next time. */
function sourceOf(sources: Map<string, Promise<PixelSource>>, stack: string, scene: Scene): Promise<PixelSource> {
  const known = sources.get(stack);
  if (known) return known;
  const opening = openPixels(scene.sources[stack]);
  sources.set(stack, opening);
  opening.catch(() => sources.delete(stack));
  return opening;
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
  const { graph, sources } = sceneOf(task.scene);
  const { level = 0 } = task;
  const evaluator = new Evaluator(
    graph,
    new Map(task.figures.map((figure) => [figure.key, take(figure)])),
    level,
    () => performance.now(),
    new Map(task.given),
  );
  const plan = evaluator.plan(task.node, task.rect);
  const fetched = new Map<string, { rect: Rect; pixels: Float32Array }>();
  for (const [i, need] of plan.sources.entries()) {
    const { stack, plane, rect } = need;
    const pixels = await (await sourceOf(sources, stack, task.scene)).read(plane, rect, level, room(i, rect));
    fetched.set(`${plane} ${stack}`, { rect, pixels });
  }
  const source = (stack: string, plane: number) => {
    const window = fetched.get(`${plane} ${stack}`);
    if (!window) throw new Error('a window was not fetched');
    return window;
  };
  // A band is whole rows of what it is made for: it is written where it belongs.
  const into = { rect: task.rect, planes: task.out.map((plane) => windowOf(plane, task.outRect, task.rect)) };
  evaluator.run(plan, source, undefined, into);
  return { tallies: [...evaluator.tallies], times: [...evaluator.times] };
}

/** A figure to be measured, the images that its kind looks at, and the figures that it stands on. */
export interface MeasureTask {
  readonly spec: FigureSpec;
  readonly images: readonly Raster[];
  readonly on: readonly PassedFigure[];
}

/** Measures a figure from shared planes and the figures that it stands on. */
export function measure(task: MeasureTask): Figure {
  return measureFigure(task.spec, task.images, task.on.map(take));
}
