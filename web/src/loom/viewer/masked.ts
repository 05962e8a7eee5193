import { maskUses, type Owner } from '../../../../core/recipe/walk';
import type { Recipe } from '../../../../core/recipe/schema';
import { stepPlace } from '../../../../core/recipe/paths';

/**
 * The picture over which a mask is shown: that of the first step or layer that is seen through it, else the cloth.
 * @returns nothing where there is no such picture
 */
export function pictureUnder(
  recipe: Recipe,
  { path, id }: Owner,
  paths: Readonly<Record<string, unknown>>,
): string | undefined {
  const own = path.endsWith('.mask') ? path.slice(0, -'.mask'.length) : undefined;
  const users = own ? [own] : id === undefined ? [] : maskUses(recipe, id);
  const shown = users.map((user) => (stepPlace(user) ? user : `${user}@cloth`));
  return [...shown, 'cloth'].find((place) => paths[place] !== undefined);
}
