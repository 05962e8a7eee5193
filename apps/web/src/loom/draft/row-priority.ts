import type { Recipe } from '@owl-loom/recipe/schema';
import {
  maskOwners,
  type StepOwner,
  stepOwnerAt,
  stepOwners,
  isPathInside,
  strandOwners,
  strandDependencies,
} from '@owl-loom/recipe/walk';

/** For an owner: paths of the strands and shared masks that it and all that lies in it read. */
function reader(recipe: Recipe): (owner: StepOwner) => readonly string[] {
  const owners = [...stepOwners(recipe)];
  const strands = new Map(strandOwners(recipe).map(({ id = '', path }) => [id, path]));
  const masks = new Map(maskOwners(recipe).map(({ id = '', path }) => [id, path]));
  return (owner) =>
    owners
      .filter(({ path }) => isPathInside(path, owner.path))
      .flatMap((one) => [
        ...strandDependencies(one).flatMap((id) => strands.get(id) ?? []),
        ...one.masks.flatMap((id) => masks.get(id) ?? []),
      ]);
}

/**
 * How much each thread is wanted in sight while something is chosen: 0 the chosen one itself, 1 what the shown tie-up is made of and what
 * is chosen is made of or seen through, 2 what those are made of and what is made of the chosen one, 3 whatever has steps of its own, 4 the rest.
 * @param mix path of the tie-up that is shown
 */
export function rowPriority(recipe: Recipe, chosen: string, mix: string | undefined): (thread: StepOwner) => number {
  const readBy = reader(recipe);
  const threads = [...strandOwners(recipe), ...maskOwners(recipe)];
  const outer = threads.find(({ path }) => isPathInside(chosen, path))?.path;
  const shown = [stepOwnerAt(recipe, chosen), mix === undefined ? undefined : stepOwnerAt(recipe, mix)];
  const near = new Set(shown.flatMap((one) => (one && one.kind !== 'cloth' ? readBy(one) : [])));
  const far = new Set(threads.filter(({ path }) => near.has(path)).flatMap(readBy));
  return (thread) => {
    const { path, steps } = thread;
    if (path === outer) return 0;
    if (near.has(path)) return 1;
    if (far.has(path) || (outer !== undefined && readBy(thread).includes(outer))) return 2;
    return steps.length > 0 ? 3 : 4;
  };
}
