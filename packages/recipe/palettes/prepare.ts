import { uniqueId } from '../unique-id';
import type { Recipe, Strand } from '../schema';
import { stackOf, strandsReadByStep } from '../walk';
import { isMoveStep } from '../steps/index';

/** What is known of a set of stacks before anything is woven from them. */
export interface StackAssessment {
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
export const alignmentCheckRecipe = (name: string, reference: string, by?: 'structures'): Recipe => ({
  format: 'owl-loom-recipe',
  version: 1,
  frame: reference,
  strands: [
    { id: reference, from: { stack: reference }, steps: [] },
    { id: name, from: { stack: name }, steps: [{ do: 'align', to: reference, ...(by && { by }) }] },
  ],
});

/** A strand's own stack, whole. */
const stackIn = (strand: Strand): string | undefined => ('plane' in strand.from ? undefined : stackOf(strand.from));

/**
 * A recipe with a strand of the reference that others can be brought to. One that reads other strands cannot be: that would go round in a loop.
 * Where there is none, and a stack in use lies askew of the reference, it gets one, so that all recipes of a target have one frame.
 */
function withReference(
  recipe: Recipe,
  { reference, askew }: StackAssessment,
): { recipe: Recipe; onto: Strand | undefined } {
  const own = recipe.strands.filter((strand) => stackIn(strand) !== undefined);
  const free = own.filter(({ steps = [] }) => steps.every((step) => strandsReadByStep(step).length === 0));
  const there = free.find((strand) => stackIn(strand) === reference);
  if (there || reference === undefined) return { recipe, onto: there ?? free[0] };
  if (!own.some((strand) => askew.includes(stackIn(strand) ?? ''))) return { recipe, onto: free[0] };
  const id = uniqueId(
    reference,
    recipe.strands.map((strand) => strand.id),
  );
  const onto: Strand = { id, from: { stack: reference }, steps: [] };
  return { recipe: { ...recipe, strands: [...recipe.strands, onto] }, onto };
}

/**
 * A recipe that begins well: strands of stacks that lie askew are aligned to the target's reference, uneven skies are evened. What a strand
 * does already stays as it is, and everything added is an ordinary step.
 */
export function withPreparation(given: Recipe, ground: StackAssessment): Recipe {
  const { askew, byStructures = [], untold = [], uneven } = ground;
  const { recipe, onto } = withReference(given, ground);
  const isUntold = (strand: Strand): boolean => untold.includes(stackIn(strand) ?? '');
  const liesWell = (strand: Strand): boolean => !isUntold(strand) && !askew.includes(stackIn(strand) ?? '');
  // Those that lie well lie on each other; where one that does not is what they are brought to, they are askew of it.
  const moves = (strand: Strand): boolean =>
    onto !== undefined && strand !== onto && ![strand, onto].some(isUntold) && ![strand, onto].every(liesWell);
  let aligned = false;
  const strands = recipe.strands.map((strand) => {
    const stack = stackIn(strand);
    const steps = strand.steps ?? [];
    if (stack === undefined) return strand;
    const align = moves(strand) && !steps.some((step) => isMoveStep(step.do));
    const even = uneven.includes(stack) && !steps.some((step) => step.do === 'gradient');
    aligned ||= align;
    if (!align && !even) return strand;
    const way = [strand, onto].some((one) => one && byStructures.includes(stackIn(one) ?? ''))
      ? { by: 'structures' }
      : {};
    return {
      ...strand,
      steps: [
        ...(align && onto ? [{ do: 'align', to: onto.id, ...way }] : []),
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
  const isFirst = onto === recipe.strands.find((strand) => stackIn(strand) !== undefined);
  const frame = aligned && recipe.frame === undefined && onto && !isFirst ? { frame: onto.id } : {};
  return { ...recipe, ...frame, strands, ...extent };
}
