import { stackOf } from '@owl-loom/recipe/walk';
import { isMoveStep } from '@owl-loom/recipe/steps/index';
import type { Recipe, Strand } from '@owl-loom/recipe/schema';

/** Two stacks laid on each other, on the pixels of a third, the reference. */
export interface PairSpec {
  readonly reference: string;
  readonly front: string;
  readonly back: string;
  /** Whether both are first aligned to the reference. */
  readonly aligned: boolean;
}

/** Paths of the two in {@link pairRecipe}. */
export interface PairPaths {
  readonly front: string;
  readonly back: string;
}

/** By what a stack is aligned. */
export type Way = 'stars' | 'structures';

const plain = (name: string): Strand => ({ id: name, from: { stack: name }, steps: [] });

/** A recipe that lays two stacks on each other; the one behind is brought to the brightness of the one in front, so that only their places differ. */
export function pairRecipe({ reference, front, back, aligned }: PairSpec): { recipe: Recipe; paths: PairPaths } {
  const names = [...new Set([reference, front, back])];
  const laid = (name: string): Strand['steps'] =>
    aligned && name !== reference ? [{ do: 'align', to: reference }] : [];
  const [ahead, behind] = [`${front} in front`, `${back} behind`];
  const strands: Strand[] = [
    ...names.map(plain),
    { id: ahead, from: { strand: front }, steps: laid(front) },
    {
      id: behind,
      from: { strand: back },
      steps: [...(laid(back) ?? []), ...(front === back ? [] : [{ do: 'linear-fit', to: ahead, method: 'levels' }])],
    },
  ];
  return {
    recipe: { format: 'owl-loom-recipe', version: 1, frame: reference, strands },
    paths: { front: `strands[${names.length}]`, back: `strands[${names.length + 1}]` },
  };
}

/**
 * A recipe in which the strands of some stacks begin with an alignment.
 * @param moved names of the stacks that do not lie on the reference, and by what each is aligned
 * @returns the same recipe where there is nothing to mend, or where it has no strand of the reference
 */
export function addAlignSteps(recipe: Recipe, moved: ReadonlyMap<string, Way>, reference: string): Recipe {
  const onto = recipe.strands.find((strand) => stackOf(strand.from) === reference);
  if (!onto) return recipe;
  let changed = false;
  const strands = recipe.strands.map((strand) => {
    const stack = stackOf(strand.from);
    const placed = (strand.steps ?? []).some((step) => isMoveStep(step.do));
    if (stack === undefined || !moved.has(stack) || placed) return strand;
    changed = true;
    const way = moved.get(stack);
    const align = { do: 'align', to: onto.id, ...(way === 'structures' && { by: way }) };
    return { ...strand, steps: [align, ...(strand.steps ?? [])] };
  });
  return changed ? { ...recipe, strands } : recipe;
}
