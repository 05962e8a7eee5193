import { missingFilters, recipeFromPalette } from '#recipe/palettes/palette';
import { BUILT_IN_PALETTES } from '#recipe/palettes/built-in';
import { isDualBand } from '#image/metadata/filter';
import { daylightFromCamera, twoLinesFromCamera } from '../loom/camera-lines';
import type { Recipe } from '#recipe/schema';
import type { StackRow } from '../store/rows';

/** A way to begin: a recipe woven from the stacks that are there. */
export interface Start {
  readonly name: string;
  readonly says: string;
  readonly recipe: Recipe;
}

/** How a newcomer would call what there is to begin with, and the palettes for it: the first whose filters are there. */
const BEGINNINGS: readonly { readonly name: string; readonly palettes: readonly string[] }[] = [
  { name: 'Three lines', palettes: ['SHO'] },
  { name: 'Two lines', palettes: ['HOO'] },
  { name: 'Daylight colours', palettes: ['LRGB', 'RGB'] },
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
      name: `Daylight from ${name}`,
      says: 'the colours of the camera, the mean star white',
      recipe: daylightFromCamera(name),
    };
    const lines: Start = {
      name: `Two lines from ${name}`,
      says: 'hydrogen and oxygen as strands of their own, parted by what the camera sees of each',
      recipe: twoLinesFromCamera(name),
    };
    starts.push(...(isDualBand(filter) ? [lines, daylight] : [daylight, lines]));
  }
  const [first] = stacks;
  if (first)
    starts.push({
      name: 'One strand',
      says: `${first.name} alone; add the rest by hand`,
      recipe: oneStrand(first.name),
    });
  return starts;
}

/** Whether any shipped palette can be woven from a set of stacks: else there is nothing to hold side by side. */
export const hasPalettes = (stacks: readonly StackRow[]): boolean =>
  BUILT_IN_PALETTES.some((palette) => missingFilters(palette, stacks).length === 0);
