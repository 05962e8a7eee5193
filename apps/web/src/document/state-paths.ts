import { layersOfList, stepOwnerAt, layerListOf } from '@owl-loom/recipe/walk';
import type { Recipe } from '@owl-loom/recipe/schema';
import { stepLocation } from '@owl-loom/recipe/paths';

/** Path of the image that comes into a step. */
export function stepInputPath(recipe: Recipe, path: string): string {
  const place = stepLocation(path);
  if (!place) return path;
  if (place.index > 0) return `${place.list}[${place.index - 1}]`;
  const owner = stepOwnerAt(recipe, path);
  if (owner?.kind !== 'cloth') return owner?.sourcePath ?? path;
  const layers = layersOfList(recipe, 'cloth.layers');
  const top = layers.findLast(({ visible }) => visible) ?? layers[0];
  return top ? `${top.path}@cloth` : path;
}

/** Path of the state before the chosen one: a step's input, a strand's source, the cloth below a layer; undefined where nothing came before. */
export function previousStatePath(recipe: Recipe, chosen: string): string | undefined {
  if (stepLocation(chosen)) return stepInputPath(recipe, chosen);
  const owner = stepOwnerAt(recipe, chosen);
  if (!owner) return undefined;
  if (owner.kind === 'cloth')
    return owner.steps.length > 0 ? stepInputPath(recipe, `${owner.stepsPath}[0]`) : undefined;
  if (owner.kind !== 'layer') return chosen === owner.path ? owner.sourcePath : undefined;
  const layers = layersOfList(recipe, layerListOf(owner.path));
  const below = layers[layers.findIndex(({ path }) => path === owner.path) - 1];
  return below && `${below.path}@cloth`;
}
