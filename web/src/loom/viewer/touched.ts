import type { Recipe } from '../../../../core/recipe/schema';
import type { Change } from '../../../workers/protocol';
import { stepPlace } from '../../../../core/recipe/paths';
import { inputPath } from '../bench/inputs';

/**
 * The change that what is chosen makes.
 * @param shown path of the image that the picture shows: nothing is told of another
 */
export function changeOf(recipe: Recipe, chosen: string, shown: string): Change | undefined {
  if (shown === `${chosen}@cloth`) return { path: chosen };
  return shown === chosen && stepPlace(chosen) ? { path: chosen, before: inputPath(recipe, chosen) } : undefined;
}
