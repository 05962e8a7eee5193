import type { Recipe } from '../../../../core/recipe/schema';
import { stepPlace } from '../../store/paths';

/** Path of the image that comes into a step. */
export function inputPath(recipe: Recipe, path: string): string {
  const place = stepPlace(path);
  if (!place) return path;
  if (place.index > 0) return `${place.list}[${place.index - 1}]`;
  const owner = place.list.replace(/\.steps$/, '');
  if (owner === 'cloth') {
    const layers = recipe.cloth?.layers ?? [];
    const top = layers.findLastIndex((layer) => layer.visible !== false);
    return `cloth.layers[${Math.max(0, top)}]@cloth`;
  }
  return owner.startsWith('strands') ? `${owner}.from` : `${owner}.of`;
}

/** Path of the state before the chosen one: a step's input, a strand's source, the cloth below a layer; undefined where nothing came before. */
export function beforePath(recipe: Recipe, chosen: string): string | undefined {
  if (stepPlace(chosen)) return inputPath(recipe, chosen);
  const strand = /^strands\[\d+\]$/.exec(chosen);
  if (strand) return `${chosen}.from`;
  const layer = /^cloth\.layers\[(\d+)\]/.exec(chosen);
  if (layer) return Number(layer[1]) > 0 ? `cloth.layers[${Number(layer[1]) - 1}]@cloth` : undefined;
  return chosen === 'cloth' && (recipe.cloth?.steps ?? []).length > 0 ? inputPath(recipe, 'cloth.steps[0]') : undefined;
}
