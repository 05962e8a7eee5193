import type { Recipe } from '@owl-loom/recipe/schema';
import { filterColour } from '@owl-loom/recipe/filter-colours';
import { knownFilter } from '@owl-loom/image/metadata/filter';
import type { StackRow } from '@owl-loom/api/stacks';
import { useStacks } from './stacks-context';

/** The colour of a strand's thread: that of its stack's filter, or a plain one where it is woven from several. */
function strandColour(recipe: Recipe | null, id: string, stacks: readonly StackRow[]): string {
  const strand = recipe?.strands.find((s) => s.id === id);
  if (!strand) return 'var(--color-soft)';
  const { from } = strand;
  if ('stack' in from) return filterColour(stacks.find(({ name }) => name === from.stack)?.filter ?? from.stack);
  if ('strand' in from && from.strand !== id) return strandColour(recipe, from.strand, stacks);
  // One that is made by arithmetic and named as a filter, as a line of a colour camera, has that one's colour.
  const named = knownFilter(id);
  return named ? filterColour(named) : 'var(--color-soft)';
}

/** Colours of a recipe's strands, by their ids. */
export function useStrandColours(recipe: Recipe | null): (id: string) => string {
  const stacks = useStacks();
  return (id) => strandColour(recipe, id, stacks);
}
