import type { Recipe } from './schema';
import { strandDependents } from './walk';

interface Named {
  readonly id?: string;
  readonly name?: string;
}
const titleOf = ({ name, id }: Named): string => name ?? id ?? '';

/** A list with one thing as another list has it: changed, added at its place, or taken away; nothing where neither has it. */
function taken<T extends Named>(list: readonly T[] = [], from: readonly T[] = [], title: string): T[] | undefined {
  const [here, there] = [list, from].map((one) => one.findIndex((item) => titleOf(item) === title));
  if (here < 0 && there < 0) return undefined;
  if (there < 0) return list.toSpliced(here, 1);
  if (here < 0) return list.toSpliced(Math.min(there, list.length), 0, from[there]);
  return list.with(here, from[there]);
}

/**
 * A recipe with one thing as another state of it had that: a strand, a mask, a layer of the cloth, or the finish of the picture.
 * @param where as differences between recipes name it
 * @returns nothing where that is none of these, or a strand that is to go is still read
 */
export function withPartFrom(recipe: Recipe, from: Recipe, where: string): Recipe | undefined {
  const { cloth, sky: _sky, frame: _frame, ...rest } = recipe;
  if (where === 'picture') {
    const { sky, frame } = from;
    const finish = from.cloth && cloth ? { ...from.cloth, layers: cloth.layers } : cloth;
    return { ...rest, ...(sky && { sky }), ...(frame !== undefined && { frame }), ...(finish && { cloth: finish }) };
  }
  const layer = /^(?:mask of )?layer (.*)$/.exec(where)?.[1];
  if (layer !== undefined) {
    const layers = taken(cloth?.layers, from.cloth?.layers, layer);
    return layers && cloth ? { ...recipe, cloth: { ...cloth, layers } } : undefined;
  }
  const mask = /^mask (.*)$/.exec(where)?.[1];
  if (mask !== undefined) {
    const masks = taken(recipe.masks, from.masks, mask);
    return masks && { ...recipe, masks };
  }
  if (!from.strands.some(({ id }) => id === where) && strandDependents(recipe, where).length > 0) return undefined;
  const strands = taken(recipe.strands, from.strands, where);
  return strands && { ...recipe, strands };
}
