import { type StepOwner, strandOwners } from '@owl-loom/recipe/walk';
import type { Recipe, Step } from '@owl-loom/recipe/schema';
import { stepsAt, withStep } from '@owl-loom/recipe/paths';

/** Steps that come before every other: pixels must lie right before anything is measured of them together. */
const FIRST = new Set(['align']);

/** Strands from stacks that have no such step yet, other than the one that it names. */
const lacking = (recipe: Recipe, { do: kind, to }: Step): StepOwner[] =>
  strandOwners(recipe).filter(
    ({ id, source, steps }) => source && 'stack' in source && id !== to && !steps.some((step) => step.do === kind),
  );

/** How many strands a step would be given by {@link withStepForAll}. */
export const strandsWithoutStep = (recipe: Recipe, step: Step): number => lacking(recipe, step).length;

/** The recipe with a step such as a fit or an alignment on every strand from a stack that lacks one: at the head of the thread, or at its end before any stretch. */
export function withStepForAll(recipe: Recipe, step: Step): Recipe {
  return lacking(recipe, step).reduce((result, { stepsPath: list }) => {
    const stretch = stepsAt(result, list).findIndex((other) => other.do === 'stretch');
    const end = stretch < 0 ? stepsAt(result, list).length : stretch;
    return withStep(result, list, FIRST.has(step.do) ? 0 : end, structuredClone(step));
  }, recipe);
}
