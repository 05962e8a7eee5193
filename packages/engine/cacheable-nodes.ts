import { intersect, sameRect } from '@owl-loom/image/geometry/rect';
import type { Recipe } from '@owl-loom/recipe/schema';
import { stepOwners } from '@owl-loom/recipe/walk';
import { STEP_SPECS } from '@owl-loom/recipe/steps/index';
import { type Graph, dependencyClosure } from './graph';

/** Whether any step of a recipe is of a kind whose result is kept. */
export const hasCacheableStep = (recipe: Recipe): boolean =>
  [...stepOwners(recipe)].some(({ steps }) => steps.some((step) => !step.off && STEP_SPECS.get(step.do)?.cacheResult));

/**
 * The images that are worth keeping at full size: those after steps of kinds that say so, as far as they lie within the frame,
 * since pictures are kept of the frame.
 * @param before only those that this node is made of
 * @returns nodes, inputs before what is made of them
 */
export function cacheableNodes(graph: Graph, recipe: Recipe, before?: number): number[] {
  const found = new Set<number>();
  const reached = before === undefined ? undefined : new Set(dependencyClosure(graph.nodes, before));
  for (const { steps, stepsPath } of stepOwners(recipe)) {
    steps.forEach((step, i) => {
      const at = graph.byPath.get(`${stepsPath}[${i}]`);
      if (step.off || at === undefined || at === before || !STEP_SPECS.get(step.do)?.cacheResult) return;
      if (reached && !reached.has(at)) return;
      const { extent } = graph.nodes[at];
      if (sameRect(intersect(extent, graph.frame), extent)) found.add(at);
    });
  }
  return [...found].sort((a, b) => a - b);
}
