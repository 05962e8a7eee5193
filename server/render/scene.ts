import { buildGraph } from '../../core/engine/build';
import type { Graph } from '../../core/engine/graph';
import { contentKey } from '../../core/engine/hash';
import type { Recipe } from '../../core/recipe/schema';
import type { OpenStack } from './stack';
import type { GraphInput } from './opened';

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
