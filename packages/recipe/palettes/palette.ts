import { UserError } from '@owl-loom/base/errors';
import { type RecipeMapper, mapLayer, mapMask, mapSource, mapSteps } from '../map-recipe';
import type { Recipe, Step } from '../schema';
import { stackOf } from '../walk';
import { joinWithAnd } from '@owl-loom/base/join-words';

/** A way to weave that belongs to no target: a recipe in which filters stand in place of stacks. */
export interface Palette {
  readonly name: string;
  readonly says: string;
  /** A recipe whose stacks are called by their filters. */
  readonly recipe: Recipe;
}

/** A stack of a target, as far as a palette looks at it. */
export interface FilteredStack {
  readonly name: string;
  readonly filter: string | null;
  readonly planes: number;
}

/** Filters that a palette weaves, each once, in the order of its strands. */
export const filtersOf = ({ recipe }: Palette): string[] => [
  ...new Set(recipe.strands.flatMap(({ from }) => stackOf(from) ?? [])),
];

/** What plays a filter's part: its stack in one plane where a strand takes the whole, else in three. */
function stackFor(filter: string, planed: boolean, stacks: readonly FilteredStack[]): FilteredStack | undefined {
  const mine = stacks.filter((stack) => stack.filter === filter);
  return mine.find(({ planes }) => (planes === 3) === planed) ?? mine[0];
}

/** Filters of a palette that a set of stacks lacks. */
export const missingFilters = (palette: Palette, stacks: readonly FilteredStack[]): string[] =>
  filtersOf(palette).filter((filter) => !stacks.some((stack) => stack.filter === filter));

/**
 * A palette as a recipe for a set of stacks.
 * @throws UserError naming the filters that are missing
 */
export function recipeFromPalette(palette: Palette, stacks: readonly FilteredStack[]): Recipe {
  const missing = missingFilters(palette, stacks);
  if (missing.length > 0)
    throw new UserError(
      'missing-filter',
      `${palette.name} needs ${joinWithAnd(missing)}, which this target does not have. Import it, or set the filter of a stack in Stacks.`,
    );
  const strands = palette.recipe.strands.map((strand) => {
    const { from } = strand;
    if (!('stack' in from)) return strand;
    return { ...strand, from: { ...from, stack: stackFor(from.stack, 'plane' in from, stacks)?.name ?? from.stack } };
  });
  return { ...palette.recipe, name: palette.name, strands };
}

/** Steps that mend one picture at one place, and mean nothing on another. */
const OF_ONE_PICTURE: ReadonlySet<string> = new Set(['crop', 'mend', 'align', 'place']);
/** Parameters that are places in one picture, by step. */
const PLACES: Readonly<Record<string, readonly string[]>> = {
  gradient: ['samples'],
  'level-sky': ['region'],
  'linear-fit': ['region'],
  starless: ['also', 'spare', 'partner'],
  'stars-only': ['also', 'spare', 'partner'],
  'star-shrink': ['also', 'spare'],
};

function placelessStep({ hold: _, ...step }: Step): Step {
  const left = new Set(PLACES[step.do] ?? []);
  return Object.fromEntries(Object.entries(step).filter(([key]) => !left.has(key))) as Step;
}

/** Leaves out whatever is of one picture. */
const STRIP_POSITIONS: RecipeMapper = {
  steps: (steps) => steps.filter((step) => !OF_ONE_PICTURE.has(step.do)).map(placelessStep),
  mask: ({ paint: _, ...mask }) => mask,
};

/**
 * A recipe as a palette. Whatever belongs to its one picture is left out: crops, alignments, mended places, painted strokes, boxes and
 * rectangles, pinned measurements, the sky.
 * @throws UserError where two of its stacks have one filter, or a stack has none
 */
export function paletteFromRecipe(
  recipe: Recipe,
  stacks: readonly FilteredStack[],
  name: string,
  says: string,
): Palette {
  const { sky: _, cloth, masks, ...rest } = recipe;
  const filterOf = (stack: string): string => {
    const found = stacks.find((row) => row.name === stack)?.filter;
    if (!found)
      throw new UserError(
        'no-filter',
        `A palette needs the filter of every stack, but ${stack} has none. Set it in Stacks.`,
      );
    return found;
  };
  const names = [...new Set(recipe.strands.flatMap(({ from }) => stackOf(from) ?? []))];
  for (const [i, stack] of names.entries()) {
    const twin = names.slice(0, i).find((other) => filterOf(other) === filterOf(stack));
    if (twin !== undefined)
      throw new UserError(
        'repeated-filter',
        `A palette uses one stack per filter, but ${twin} and ${stack} are both ${filterOf(stack)}. Remove one of them first.`,
      );
  }
  const { orient: _turned, extent, ...woven } = cloth ?? { layers: [] };
  return {
    name,
    says,
    recipe: {
      ...rest,
      strands: recipe.strands.map((strand) => ({
        ...strand,
        from:
          'stack' in strand.from
            ? { ...strand.from, stack: filterOf(strand.from.stack) }
            : mapSource(strand.from, STRIP_POSITIONS),
        ...(strand.steps && { steps: mapSteps(strand.steps, STRIP_POSITIONS) }),
      })),
      ...(masks && { masks: masks.map((mask) => ({ ...mapMask(mask, STRIP_POSITIONS), id: mask.id })) }),
      ...(cloth && {
        cloth: {
          ...woven,
          layers: woven.layers.map((layer) => mapLayer(layer, STRIP_POSITIONS)),
          ...(woven.steps && { steps: mapSteps(woven.steps, STRIP_POSITIONS) }),
          ...(typeof extent === 'string' && { extent }),
        },
      }),
    },
  };
}
