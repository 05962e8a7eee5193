import { UserError } from '../errors';
import { namesRead } from '../formula/compile';
import type { Layer, Recipe, Source } from './schema';

/** Ids of the strands that a source reads by itself, each once, first ones first. */
export function strandsOf(source: Source): string[] {
  if ('strand' in source) return [source.strand];
  if ('average' in source) return [...new Set(source.average)];
  if ('mix' in source) return [...new Set(Object.values(source.mix).flatMap((column) => Object.keys(column ?? {})))];
  if ('formula' in source) return readBy(source.formula);
  return [];
}

/** Names that a formula reads; one that cannot be read yet reads none. */
function readBy(formula: string): string[] {
  try {
    return namesRead(formula);
  } catch (fault) {
    if (fault instanceof UserError) return [];
    throw fault;
  }
}

/** Ids of the strands that the visible cloth is made of, those behind other strands too. */
export function strandsInUse(recipe: Recipe): ReadonlySet<string> {
  const byId = new Map(recipe.strands.map((strand) => [strand.id, strand]));
  const used = new Set<string>();
  const visit = (id: string): void => {
    const strand = byId.get(id);
    if (!strand || used.has(id)) return;
    used.add(id);
    strandsOf(strand.from).forEach(visit);
  };
  const walk = (layers: readonly Layer[]): void => {
    for (const layer of layers) {
      if (layer.visible === false) continue;
      if ('layers' in layer.of) walk(layer.of.layers);
      else strandsOf(layer.of).forEach(visit);
    }
  };
  walk(recipe.cloth?.layers ?? []);
  return used;
}
