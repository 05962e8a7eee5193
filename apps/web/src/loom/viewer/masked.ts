import { pathsUsingMask, type StepOwner } from '@owl-loom/recipe/walk';
import type { Recipe } from '@owl-loom/recipe/schema';
import { stepLocation } from '@owl-loom/recipe/paths';

/**
 * The picture over which a mask is shown: that of the first step or layer that is seen through it, else the cloth.
 * @returns nothing where there is no such picture
 */
export function pictureUnder(
  recipe: Recipe,
  { path, id }: StepOwner,
  paths: Readonly<Record<string, unknown>>,
): string | undefined {
  const own = path.endsWith('.mask') ? path.slice(0, -'.mask'.length) : undefined;
  const users = own ? [own] : id === undefined ? [] : pathsUsingMask(recipe, id);
  const shown = users.map((user) => (stepLocation(user) ? user : `${user}@cloth`));
  return [...shown, 'cloth'].find((place) => paths[place] !== undefined);
}
