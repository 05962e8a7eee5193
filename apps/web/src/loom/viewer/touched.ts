import type { Recipe } from '@owl-loom/recipe/schema';
import type { ChangeRef } from '../../../worker/protocol';
import { stepLocation } from '@owl-loom/recipe/paths';
import { stepInputPath } from '../../document/state-paths';

/**
 * The change that what is chosen makes.
 * @param shown path of the image that the picture shows: nothing is told of another
 */
export function changeOf(recipe: Recipe, chosen: string, shown: string): ChangeRef | undefined {
  if (shown === `${chosen}@cloth`) return { path: chosen };
  return shown === chosen && stepLocation(chosen) ? { path: chosen, before: stepInputPath(recipe, chosen) } : undefined;
}
