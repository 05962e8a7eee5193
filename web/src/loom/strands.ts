import type { Recipe } from '../../../core/recipe/schema';
import { filterColour } from '../../../core/stack/colours';

const filters = new Map<string, string | null>();

/** Tells the drawing which filter each stack was taken through. */
export function learnFilters(stacks: readonly { name: string; filter: string | null }[]): void {
  for (const { name, filter } of stacks) filters.set(name, filter);
}

/** The colour of a strand's thread: that of its stack's filter, or a plain one where it is woven from several. */
export function strandColour(recipe: Recipe | null, id: string): string {
  const strand = recipe?.strands.find((s) => s.id === id);
  if (!strand) return 'var(--color-soft)';
  if ('stack' in strand.from) return filterColour(filters.get(strand.from.stack) ?? strand.from.stack);
  if ('strand' in strand.from && strand.from.strand !== id) return strandColour(recipe, strand.from.strand);
  return 'var(--color-soft)';
}
