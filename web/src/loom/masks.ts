import type { Mask, Recipe } from '../../../core/recipe/schema';
import { maskUses, ownerAt } from '../../../core/recipe/walk';
import { stepPlace, valueAt, withValue } from '../store/paths';

/** A mask as it begins, with a name and what it does in a few words. */
export interface MaskStart {
  readonly name: string;
  readonly label: string;
  readonly mask: Mask;
}

/**
 * Masks that are made by one press: of where something is bright, of stars, of nothing yet.
 * @param strands those that it may be made of, and whether each has been stretched already
 * @param below what the cloth below is called there, where there is one, and whether it has been stretched
 */
export function maskStarts(
  strands: readonly { readonly id: string; readonly stretched: boolean }[],
  below?: { readonly name: string; readonly stretched: boolean },
): MaskStart[] {
  const bright = (of: Mask['of'], stretched: boolean): Mask => ({
    of,
    ...(!stretched && { steps: [{ do: 'stretch' }] }),
  });
  return [
    ...(below
      ? [{ name: 'below', label: `where ${below.name} is bright`, mask: bright({ below: true }, below.stretched) }]
      : []),
    ...strands.map(({ id, stretched }) => ({
      name: `${id} bright`,
      label: `where ${id} is bright`,
      mask: bright({ strand: id }, stretched),
    })),
    ...strands.map(({ id }) => ({ name: `${id} stars`, label: `the stars of ${id}`, mask: { of: { starMask: id } } })),
    { name: 'sheet', label: 'a blank sheet', mask: { of: { colour: '#ffffff' } } },
  ];
}

/** Paths of the layers and steps that are seen through the mask of what is chosen: its own, or all that share the mask that is chosen. */
function seenThrough(recipe: Recipe, chosen: string): string[] {
  if (stepPlace(chosen) && valueAt(recipe, `${chosen}.mask`) !== undefined) return [chosen];
  const owner = ownerAt(recipe, chosen);
  if (owner?.kind === 'layer') return [owner.path];
  if (owner?.kind !== 'mask') return [];
  return owner.path.endsWith('.mask') ? [owner.path.slice(0, -'.mask'.length)] : maskUses(recipe, owner.id ?? '');
}

/** The recipe without the mask of what is chosen, to be looked at; the same where there is none. */
export function withoutMask(recipe: Recipe, chosen: string): Recipe {
  return seenThrough(recipe, chosen)
    .filter((path) => valueAt(recipe, `${path}.mask`) !== undefined)
    .reduce((next, path) => withValue(next, `${path}.mask`, undefined), recipe);
}
