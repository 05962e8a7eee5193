import { threadId } from 'node:worker_threads';
import { buildGraph } from '@owl-loom/engine/build/graph-builder';
import type { SourceReader } from '@owl-loom/engine/evaluator';
import type { Graph, StackInfo } from '@owl-loom/engine/graph';
import type { RoiPlan } from '@owl-loom/engine/roi';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { Recipe } from '@owl-loom/recipe/schema';
import { openPixels, type PixelSource, type SourceSpec } from '../pixels/sources';

/** Everything from which a worker can build the same graph as the thread that asks it. */
export interface GraphInput {
  /** Short name under which workers keep what they have built. */
  readonly key: string;
  readonly recipe: Recipe;
  readonly stacks: readonly (readonly [string, StackInfo])[];
  readonly sources: Readonly<Record<string, SourceSpec>>;
}

/** The graphs and open files of the last few scenes. */
const scenes = new Map<string, { graph: Graph; sources: Map<string, Promise<PixelSource>> }>();
const KEPT_SCENES = 3;

/** A scene's graph, built once a thread. */
export function openGraph(scene: GraphInput): { graph: Graph; sources: Map<string, Promise<PixelSource>> } {
  const known = scenes.get(scene.key);
  if (known) return known;
  for (const [key, old] of scenes) {
    if (scenes.size < KEPT_SCENES) break;
    scenes.delete(key);
    for (const source of old.sources.values())
      source
        .then((s) => s.close())
        .catch((error: unknown) => console.error(`worker ${threadId}: closing a stack failed`, error));
  }
  const made = {
    graph: buildGraph(scene.recipe, new Map(scene.stacks)),
    sources: new Map<string, Promise<PixelSource>>(),
  };
  scenes.set(scene.key, made);
  return made;
}

/** A stack's pixels, opened once; what could not be opened is tried again the next time. */
function sourceOf(sources: Map<string, Promise<PixelSource>>, stack: string, scene: GraphInput): Promise<PixelSource> {
  const known = sources.get(stack);
  if (known) return known;
  const opening = openPixels(scene.sources[stack]);
  sources.set(stack, opening);
  opening.catch(() => sources.delete(stack));
  return opening;
}

/**
 * Reads the windows of stacks that a plan names.
 * @param room memory for the i-th of them, where there is some to be used again
 */
export async function readSourceRois(
  scene: GraphInput,
  needs: RoiPlan['sources'],
  level: number,
  room: (i: number, rect: Rect) => Float32Array | undefined = () => undefined,
): Promise<SourceReader> {
  const { sources } = openGraph(scene);
  const fetched = new Map<string, { rect: Rect; pixels: Float32Array }>();
  for (const [i, { stack, plane, rect }] of needs.entries()) {
    const pixels = await (await sourceOf(sources, stack, scene)).read(plane, rect, level, room(i, rect));
    fetched.set(`${plane} ${stack}`, { rect, pixels });
  }
  return (stack, plane) => {
    const window = fetched.get(`${plane} ${stack}`);
    if (!window) throw new Error('a window was not fetched');
    return window;
  };
}
