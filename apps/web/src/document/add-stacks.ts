import { toast } from 'sonner';
import { withPreparation, type StackAssessment } from '@owl-loom/recipe/palettes/prepare';
import { uniqueId } from '@owl-loom/recipe/unique-id';
import { stepName } from '@owl-loom/recipe/names';
import type { Recipe } from '@owl-loom/recipe/schema';
import { strandPath } from '@owl-loom/recipe/walk';
import { fetchStackAssessment } from '../store/create-recipe';
import { recipeChanged, undone } from '../store/draft';
import { store } from '../store/store';

/** A recipe with strands of more stacks. */
export function withStacks(recipe: Recipe, names: readonly string[]): { recipe: Recipe; ids: string[] } {
  const taken = recipe.strands.map(({ id }) => id);
  const ids = names.map((name) => {
    const id = uniqueId(name, taken);
    taken.push(id);
    return id;
  });
  const added = names.map((name, i) => ({ id: ids[i], from: { stack: name }, steps: [] }));
  return { recipe: { ...recipe, strands: [...recipe.strands, ...added] }, ids };
}

/** The recipe with what the stacks of some strands are known to need; other strands stay as they are, where they need not be moved themselves. */
export function withNeeds(recipe: Recipe, ids: readonly string[], ground: StackAssessment): Recipe {
  const stacks = new Set(
    recipe.strands.flatMap(({ id, from }) => (ids.includes(id) && 'stack' in from ? [from.stack] : [])),
  );
  const only = (names: readonly string[] = []): string[] => names.filter((name) => stacks.has(name));
  const prepared = withPreparation(recipe, {
    ...ground,
    askew: only(ground.askew),
    byStructures: only(ground.byStructures),
    uneven: only(ground.uneven),
  });
  // How the cloth is cut is what it was.
  return { ...prepared, ...(recipe.cloth && { cloth: recipe.cloth }) };
}

/** What was added to strands, in words; nothing where nothing was. */
export function needsInWords(before: Recipe, after: Recipe): string | undefined {
  const parts = after.strands.flatMap((strand) => {
    const own = before.strands.find(({ id }) => id === strand.id)?.steps?.length ?? 0;
    const added = (strand.steps ?? []).slice(0, (strand.steps?.length ?? 0) - own).map((step) => stepName(step.do));
    return added.length > 0 ? [`${strand.id}: ${added.join(', ')}`] : [];
  });
  return parts.length > 0 ? `Added what the stacks need. ${parts.join('; ')}.` : undefined;
}

/** Adds strands of stacks and chooses the first; what they are known to need comes as steps, which a press takes away again. */
export async function addStacks(target: string, names: readonly string[]): Promise<void> {
  const { recipe: before } = store.getState().draft;
  if (!before || names.length === 0) return;
  const { recipe, ids } = withStacks(before, names);
  store.dispatch(recipeChanged({ recipe, chosen: strandPath(recipe, ids[0]) }));
  const { ground } = await fetchStackAssessment(target);
  const { recipe: now } = store.getState().draft;
  // Another recipe may be open by now, or the strand gone.
  if (!now || !ids.every((id) => now.strands.some((strand) => strand.id === id))) return;
  const prepared = withNeeds(now, ids, ground);
  const says = needsInWords(now, prepared);
  if (!says) return;
  store.dispatch(recipeChanged({ recipe: prepared }));
  toast.info(says, { action: { label: 'Undo', onClick: () => void store.dispatch(undone()) }, duration: 8000 });
}
