import { UserError } from '@owl-loom/base/errors';
import type { Layer, Mix, Recipe } from '../schema';
import { stackOf } from '../walk';
import { joinWithAnd } from '@owl-loom/base/join-words';
import type { Palette, FilteredStack } from './palette';

type MixLayer = Layer & { of: Mix };
type Columns = Mix['mix'];

/** The lowest layer that ties strands up to columns. */
const tieUpOf = (recipe: Recipe): MixLayer | undefined =>
  recipe.cloth?.layers.find((layer): layer is MixLayer => 'mix' in layer.of && layer.visible !== false);

/** Names of strands in the weights of a mix, each once. */
const strandsIn = (mix: Columns): string[] => [
  ...new Set(Object.values(mix).flatMap((weights) => Object.keys(weights ?? {}))),
];

/**
 * A recipe in the colours of a palette: its lowest tie-up gets the palette's weights, everything else stays: what was done to the strands,
 * masks, other layers, the finish. Strands are found by the filter of the stack that they come from.
 * @throws UserError where the recipe has no tie-up or no strand of a filter, or where the palette is more than weights
 */
export function withPaletteWeights(recipe: Recipe, palette: Palette, stacks: readonly FilteredStack[]): Recipe {
  const own = tieUpOf(recipe);
  if (!own) throw new UserError('no-tie-up', 'This recipe has no tie-up that could take other colours.');
  const theirs = tieUpOf(palette.recipe);
  if (!theirs) throw new UserError('no-tie-up', `It is more than a tie-up.`);
  const used = strandsIn(theirs.of.mix);
  const filters = new Map(palette.recipe.strands.map(({ id, from }) => [id, stackOf(from)]));
  if (used.some((id) => filters.get(id) === undefined))
    throw new UserError('not-weights', `It weaves more than stacks by weights.`);
  const filterOf = (name: string | undefined): string | null | undefined =>
    stacks.find((stack) => stack.name === name)?.filter;
  // What the tie-up reads already is what was made ready for it.
  const reads = new Set(strandsIn(own.of.mix));
  const ordered = [...recipe.strands].sort((a, b) => Number(reads.has(b.id)) - Number(reads.has(a.id)));
  const strandFor = new Map(
    used.map((id) => [id, ordered.find(({ from }) => filterOf(stackOf(from)) === filters.get(id))?.id]),
  );
  const lacking = used.filter((id) => strandFor.get(id) === undefined);
  if (lacking.length > 0)
    throw new UserError(
      'no-strand',
      `This recipe has no strand of ${joinWithAnd(lacking.map((id) => filters.get(id) ?? id))}.`,
    );
  const mix = Object.fromEntries(
    Object.entries(theirs.of.mix).map(([column, weights]) => [
      column,
      Object.fromEntries(Object.entries(weights ?? {}).map(([id, weight]) => [strandFor.get(id), weight])),
    ]),
  ) as Columns;
  const { off: _, asIs: __, ...kept } = own.of;
  const of: Mix = { ...kept, mix, weights: theirs.of.weights, ...(theirs.of.asIs && { asIs: theirs.of.asIs }) };
  return {
    ...recipe,
    name: `${recipe.name ?? 'Untitled'}, ${palette.name}`.slice(0, 200),
    cloth: recipe.cloth && {
      ...recipe.cloth,
      layers: recipe.cloth.layers.map((layer) => (layer === own ? { ...layer, of } : layer)),
    },
  };
}
