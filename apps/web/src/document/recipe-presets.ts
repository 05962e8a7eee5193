import { missingFilters, recipeFromPalette } from '@owl-loom/recipe/palettes/palette';
import { BUILT_IN_PALETTES } from '@owl-loom/recipe/palettes/built-in';
import { isDualBand } from '@owl-loom/image/metadata/filter';
import { daylightFromCamera, twoLinesFromCamera } from './camera-lines';
import type { Recipe } from '@owl-loom/recipe/schema';
import type { StackRow } from '@owl-loom/api/stacks';

/** A way to begin: a recipe woven from the stacks that are there. */
export interface Start {
  readonly name: string;
  readonly says: string;
  readonly recipe: Recipe;
}

/** How a newcomer would call what there is to begin with, and the palettes for it: the first whose filters are there. */
const BEGINNINGS: readonly { readonly name: string; readonly palettes: readonly string[] }[] = [
  { name: 'SHO', palettes: ['SHO'] },
  { name: 'HOO', palettes: ['HOO'] },
  { name: 'RGB', palettes: ['LRGB', 'RGB'] },
];

/** A recipe of one stack alone, to be added to. */
export const oneStrand = (stack: string): Recipe => ({
  format: 'owl-loom-recipe',
  version: 1,
  name: 'Untitled',
  strands: [{ id: stack, from: { stack }, steps: [] }],
  cloth: { layers: [{ id: 'base', of: { strand: stack }, steps: [{ do: 'stretch' }] }] },
});

/** Recipes to begin with, by which filters there are. */
export function recipePresets(stacks: readonly StackRow[]): Start[] {
  // A palette needs each filter in one plane.
  const mono = stacks.filter((stack) => stack.planes === 1);
  const starts = BEGINNINGS.flatMap(({ name, palettes }): Start[] => {
    const palette = palettes
      .map((wanted) => BUILT_IN_PALETTES.find((own) => own.name === wanted))
      .find((own) => own !== undefined && missingFilters(own, mono).length === 0);
    return palette ? [{ name, says: palette.says, recipe: { ...recipeFromPalette(palette, mono), name } }] : [];
  });
  for (const { name, filter } of stacks.filter(({ planes }) => planes === 3)) {
    const daylight: Start = {
      name: `RGB from ${name}`,
      says: 'camera colours, white balance on the stars',
      recipe: daylightFromCamera(name),
    };
    const lines: Start = {
      name: `Ha and OIII from ${name}`,
      says: 'hydrogen and oxygen as separate strands, by the camera response to each line',
      recipe: twoLinesFromCamera(name),
    };
    starts.push(...(isDualBand(filter) ? [lines, daylight] : [daylight, lines]));
  }
  const [first] = stacks;
  if (first)
    starts.push({
      name: 'Single strand',
      says: `${first.name} alone; add the rest by hand`,
      recipe: oneStrand(first.name),
    });
  return starts;
}

/** Whether any shipped palette can be woven from a set of stacks: else there is nothing to hold side by side. */
export const hasPalettes = (stacks: readonly StackRow[]): boolean =>
  BUILT_IN_PALETTES.some((palette) => missingFilters(palette, stacks).length === 0);
