import { missingIn, wovenFrom } from '../../../core/palette/palette';
import { SHIPPED } from '../../../core/palette/shipped';
import type { Recipe } from '../../../core/recipe/schema';
import type { StackRow } from '../store/rows';

/** A way to begin: a recipe woven from the stacks that are there. */
export interface Start {
  readonly name: string;
  readonly says: string;
  readonly recipe: Recipe;
}

/** Palettes to begin with, and how a newcomer would call them. */
const BEGINNINGS: Readonly<Record<string, string>> = {
  SHO: 'Three lines',
  HOO: 'Two lines',
  RGB: 'Daylight colours',
};

/** Recipes to begin with, by which filters there are. */
export function startsFor(stacks: readonly StackRow[]): Start[] {
  // A palette needs each filter in one plane; a camera's colour stack is woven by its planes, by hand.
  const mono = stacks.filter((stack) => stack.planes === 1);
  const starts = SHIPPED.filter((palette) => palette.name in BEGINNINGS && missingIn(palette, mono).length === 0).map(
    (palette): Start => {
      const name = BEGINNINGS[palette.name];
      return { name, says: palette.says, recipe: { ...wovenFrom(palette, mono), name } };
    },
  );
  const [first] = stacks;
  if (first)
    starts.push({
      name: 'One strand',
      says: `${first.name} alone; add the rest by hand`,
      recipe: {
        format: 'owl-loom-recipe',
        version: 1,
        name: 'Untitled',
        strands: [{ id: first.name, from: { stack: first.name }, steps: [] }],
        cloth: { layers: [{ id: 'base', of: { strand: first.name }, steps: [{ do: 'stretch' }] }] },
      },
    });
  return starts;
}

/** Whether any shipped palette can be woven from a set of stacks: else there is nothing to hold side by side. */
export const hasPalettes = (stacks: readonly StackRow[]): boolean =>
  SHIPPED.some((palette) => missingIn(palette, stacks).length === 0);
