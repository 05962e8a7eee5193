import type { Recipe, Strand } from '../recipe/schema';
import { stackOf, strandsOfStep } from '../recipe/walk';
import { isMove } from '../steps/index';

/** What is known of a set of stacks before anything is woven from them. */
export interface Ground {
  /** The stack on whose pixels the others lie; the one that most others lie on anyway. */
  readonly reference?: string;
  /** Stacks that lie askew of it. */
  readonly askew: readonly string[];
  /** Stacks of which only structures tell how they lie, since stars are too few. */
  readonly byStructures?: readonly string[];
  /** Stacks of which neither stars nor structures tell how they lie: they stay where they are. */
  readonly untold?: readonly string[];
  /** Stacks whose sky is uneven. */
  readonly uneven: readonly string[];
}

/** The recipe that measures how one stack lies on another. */
export const lieRecipe = (name: string, reference: string, by?: 'structures'): Recipe => ({
  format: 'owl-loom-recipe',
  version: 1,
  frame: reference,
  strands: [
    { id: reference, from: { stack: reference }, steps: [] },
    { id: name, from: { stack: name }, steps: [{ do: 'align', to: reference, ...(by && { by }) }] },
  ],
});

/**
 * A recipe that begins well: strands of stacks that lie askew are aligned, uneven skies are evened. What a strand does already stays as it
 * is, and everything added is an ordinary step.
 */
export function begunWell(
  recipe: Recipe,
  { reference, askew, byStructures = [], untold = [], uneven }: Ground,
): Recipe {
  const own = recipe.strands.filter((strand) => stackOf(strand.from) !== undefined);
  // What reads other strands, as a fit does, cannot be what those are brought to: that would go round in a loop.
  const free = own.filter(({ steps = [] }) => steps.every((step) => strandsOfStep(step).length === 0));
  const isTold = (strand: Strand): boolean => !untold.includes(stackOf(strand.from) ?? '');
  const liesWell = (strand: Strand): boolean => isTold(strand) && !askew.includes(stackOf(strand.from) ?? '');
  const onto = free.find((strand) => stackOf(strand.from) === reference) ?? free.find(liesWell) ?? free[0];
  // Those that lie well lie on each other; where one that does not is what they are brought to, they are askew of it.
  const moves = (strand: Strand): boolean =>
    onto !== undefined && strand !== onto && [strand, onto].every(isTold) && ![strand, onto].every(liesWell);
  const starless = (stack: string): boolean =>
    byStructures.includes(stack) || byStructures.includes(stackOf(onto?.from ?? { colour: '' }) ?? '');
  let aligned = false;
  const strands = recipe.strands.map((strand) => {
    const stack = stackOf(strand.from);
    const steps = strand.steps ?? [];
    if (stack === undefined || 'plane' in strand.from) return strand;
    const align = moves(strand) && !steps.some((step) => isMove(step.do));
    const even = uneven.includes(stack) && !steps.some((step) => step.do === 'gradient');
    aligned ||= align;
    if (!align && !even) return strand;
    return {
      ...strand,
      steps: [
        ...(align && onto ? [{ do: 'align', to: onto.id, ...(starless(stack) && { by: 'structures' }) }] : []),
        ...(even ? [{ do: 'gradient' }] : []),
        ...steps,
      ],
    };
  });
  const { cloth } = recipe;
  // What was turned leaves corners without data.
  const extent =
    aligned && cloth && cloth.extent === undefined ? { cloth: { ...cloth, extent: 'common' as const } } : {};
  // The frame is that of the strand that the others are brought to.
  const frame = aligned && recipe.frame === undefined && onto && onto !== own[0] ? { frame: onto.id } : {};
  return { ...recipe, ...frame, strands, ...extent };
}
