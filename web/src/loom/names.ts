import { STEP_KINDS } from '../../../core/steps/index';
import type { Layer, Recipe, Source } from '../../../core/recipe/schema';

export const stepName = (kind: string): string => STEP_KINDS.get(kind)?.name ?? kind.replaceAll('-', ' ');

/** A source in two or three words. */
export function sourceName(source: Source): string {
  if ('stack' in source) return source.plane ? `${source.stack}, ${source.plane}` : source.stack;
  if ('strand' in source) return source.strand;
  if ('mix' in source) return 'tie-up';
  if ('average' in source) return `average of ${source.average.join(', ')}`;
  if ('formula' in source) return 'formula';
  if ('colour' in source) return source.colour;
  return 'layers' in source ? 'layers' : 'cloth below';
}

export const layerName = (layer: Layer, index: number): string => layer.name ?? layer.id ?? `layer ${index + 1}`;

/** Which image a path belongs to, as people call it. */
export function placeName(recipe: Recipe, path: string): string {
  const strand = /^strands\[(\d+)\]/.exec(path);
  if (strand) return recipe.strands[Number(strand[1])]?.id ?? '';
  const layer = /^cloth\.layers\[(\d+)\](@cloth)?/.exec(path);
  if (layer) {
    const index = Number(layer[1]);
    const found = recipe.cloth?.layers[index];
    if (!found) return '';
    return layer[2] && index > 0 ? `Cloth up to ${layerName(found, index)}` : layerName(found, index);
  }
  return 'Cloth';
}
