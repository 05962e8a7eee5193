import type { Recipe } from '../../../../core/recipe/schema';
import {
  maskOwners,
  type Owner,
  ownerAt,
  ownersOf,
  liesIn,
  strandOwners,
  strandsReadBy,
} from '../../../../core/recipe/walk';

/** What an owner and all that lies in it read: paths of strands and of shared masks. */
function readBy(recipe: Recipe, owner: Owner): string[] {
  const inner = [...ownersOf(recipe)].filter(({ path }) => liesIn(path, owner.path));
  const strands = new Map(strandOwners(recipe).map(({ id = '', path }) => [id, path]));
  const masks = new Map(maskOwners(recipe).map(({ id = '', path }) => [id, path]));
  return inner.flatMap((one) => [
    ...strandsReadBy(one).flatMap((id) => strands.get(id) ?? []),
    ...one.masks.flatMap((id) => masks.get(id) ?? []),
  ]);
}

/**
 * How much each thread is wanted in sight while something is chosen: 0 the chosen one itself, 1 what the shown tie-up is made of and what
 * is chosen is made of or seen through, 2 what those are made of and what is made of the chosen one, 3 whatever has steps of its own, 4 the rest.
 * @param mix path of the tie-up that is shown
 */
export function ranksOf(recipe: Recipe, chosen: string, mix: string | undefined): (path: string) => number {
  const owner = ownerAt(recipe, chosen);
  const threads = [...strandOwners(recipe), ...maskOwners(recipe)];
  const outer = threads.find(({ path }) => liesIn(chosen, path));
  const tied = mix === undefined ? undefined : ownerAt(recipe, mix);
  const near = new Set([owner, tied].flatMap((one) => (one && one.kind !== 'cloth' ? readBy(recipe, one) : [])));
  const far = new Set(threads.filter(({ path }) => near.has(path)).flatMap((one) => readBy(recipe, one)));
  return (path) => {
    if (outer?.path === path) return 0;
    if (near.has(path)) return 1;
    const one = threads.find((thread) => thread.path === path);
    if (far.has(path) || (outer && one && readBy(recipe, one).includes(outer.path))) return 2;
    return one && one.steps.length > 0 ? 3 : 4;
  };
}
