import { buildGraph } from '@owl-loom/engine/build/graph-builder';
import type { Graph } from '@owl-loom/engine/graph';
import { contentKey } from '@owl-loom/base/content-hash';
import type { Recipe } from '@owl-loom/recipe/schema';
import type { OpenStack } from '../pixels/open-stack';
import type { GraphInput } from '../worker-tasks/graph-input';

/** A recipe over opened stacks: its graph for this thread, and what workers need to build the same one. */
export function buildGraphInput(
  recipe: Recipe,
  stacks: ReadonlyMap<string, OpenStack>,
): { graph: Graph; scene: GraphInput } {
  const infos = [...stacks].map(([name, stack]) => [name, stack.info] as const);
  const sources = Object.fromEntries([...stacks].map(([name, stack]) => [name, stack.source]));
  return {
    graph: buildGraph(recipe, new Map(infos)),
    scene: { key: contentKey([recipe, infos]), recipe, stacks: infos, sources },
  };
}
