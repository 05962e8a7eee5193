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
