import { layersOfList, stepOwnerAt } from '@owl-loom/recipe/walk';
import { layerLocation } from '@owl-loom/recipe/paths';
import type { Recipe } from '@owl-loom/recipe/schema';
import type { ViewState, Watch } from '../../store/view';

/** Path of the cloth up to the layer that something belongs to, of the topmost list of layers; undefined where it is in none. */
function upToLayer(recipe: Recipe, chosen: string): string | undefined {
  const [layer] = /^cloth\.layers\[\d+\]/.exec(chosen) ?? [];
  const list = layer && layerLocation(layer)?.list;
  // Up to the topmost layer it is the cloth before its finishing steps.
  return list && layersOfList(recipe, list).some(({ path }) => path === layer) ? `${layer}@cloth` : undefined;
}

/** What can be watched while something is set, besides itself. */
export function watchable(recipe: Recipe, chosen: string): readonly Watch[] {
  if (chosen === 'cloth' || !recipe.cloth || !stepOwnerAt(recipe, chosen)) return [];
  const up = upToLayer(recipe, chosen);
  const isNew = up !== undefined && chosen !== up.slice(0, -'@cloth'.length);
  return isNew ? ['layer', 'cloth'] : ['cloth'];
}

/**
 * Path that the picture keeps showing while something else is set; undefined where it shows what is chosen. Held against the state before,
 * or against another place, that is what one wants to see.
 */
export function watchedPath(
  recipe: Recipe | null,
  chosen: string,
  { watch, compare, comparisonTarget: against }: Pick<ViewState, 'watch' | 'compare' | 'comparisonTarget'>,
  paths: Readonly<Record<string, unknown>> | undefined,
): string | undefined {
  if (!recipe || watch === 'bead') return undefined;
  if (compare !== 'off' && (against.kind === 'before' || against.kind === 'place')) return undefined;
  const can = watchable(recipe, chosen);
  const path =
    watch === 'layer' && can.includes('layer') ? upToLayer(recipe, chosen) : can.length > 0 ? 'cloth' : undefined;
  return path !== undefined && paths?.[path] ? path : undefined;
}

/** The next way of watching, in the order of the switch. */
export function nextWatch(watch: Watch, can: readonly Watch[]): Watch {
  const all: readonly Watch[] = ['bead', ...can];
  return all[(all.indexOf(watch) + 1) % all.length];
}
