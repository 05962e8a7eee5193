import type { Mask, Recipe } from '@owl-loom/recipe/schema';
import { pathsUsingMask, stepOwnerAt } from '@owl-loom/recipe/walk';
import { stepLocation, valueAt, setAtPath } from '@owl-loom/recipe/paths';

/** A mask as it begins, with a name and what it does in a few words. */
export interface MaskPreset {
  readonly name: string;
  readonly label: string;
  readonly mask: Mask;
  /** What is to be done on the picture next: a colour touched, or a shape drawn. */
  readonly next?: 'touch' | 'draw';
}

/**
 * Masks that are made by one press, and by a touch of the picture: of where something is bright or has a hue, of stars, of nothing yet.
 * @param strands those that it may be made of, whether each has been stretched already, and whether it is in colour
 * @param below what the cloth below is called there, where there is one, and whether it has been stretched
 */
export function maskPresets(
  strands: readonly { readonly id: string; readonly stretched: boolean; readonly coloured?: boolean }[],
  below?: { readonly name: string; readonly stretched: boolean; readonly coloured?: boolean },
): MaskPreset[] {
  const bright = (of: Mask['of'], stretched: boolean): Mask => ({
    of,
    ...(!stretched && { steps: [{ do: 'stretch' }] }),
  });
  return [
    ...(below
      ? [{ name: 'below', label: `Bright parts of ${below.name}`, mask: bright({ below: true }, below.stretched) }]
      : []),
    ...strands.map(({ id, stretched }) => ({
      name: `${id} bright`,
      label: `Bright parts of ${id}`,
      mask: bright({ strand: id }, stretched),
    })),
    ...strands.map(({ id }) => ({ name: `${id} stars`, label: `Stars in ${id}`, mask: { of: { starMask: id } } })),
    ...(below?.coloured
      ? [
          {
            name: 'hue',
            label: `A hue in ${below.name} …`,
            mask: { of: { below: true }, hue: { centre: SOME_HUE } } satisfies Mask,
            next: 'touch' as const,
          },
        ]
      : []),
    ...strands
      .filter(({ coloured }) => coloured)
      .map(({ id }) => ({
        name: `${id} hue`,
        label: `A hue in ${id} …`,
        mask: { of: { strand: id }, hue: { centre: SOME_HUE } },
        next: 'touch' as const,
      })),
    { name: 'here', label: 'Draw an area …', mask: { of: { colour: '#000000' } }, next: 'draw' },
    { name: 'sheet', label: 'Blank mask', mask: { of: { colour: '#ffffff' } } },
  ];
}

/** A hue to begin with, until the picture is touched: that of warm red gas. */
const SOME_HUE = 35;

/** Paths of the layers and steps that are seen through the mask of what is chosen: its own, or all that share the mask that is chosen. */
function seenThrough(recipe: Recipe, chosen: string): string[] {
  if (stepLocation(chosen) && valueAt(recipe, `${chosen}.mask`) !== undefined) return [chosen];
  const owner = stepOwnerAt(recipe, chosen);
  if (owner?.kind === 'layer') return [owner.path];
  if (owner?.kind !== 'mask') return [];
  return owner.path.endsWith('.mask') ? [owner.path.slice(0, -'.mask'.length)] : pathsUsingMask(recipe, owner.id ?? '');
}

/** The recipe without the mask of what is chosen, to be looked at; the same where there is none. */
export function withoutMask(recipe: Recipe, chosen: string): Recipe {
  return seenThrough(recipe, chosen)
    .filter((path) => valueAt(recipe, `${path}.mask`) !== undefined)
    .reduce((next, path) => setAtPath(next, `${path}.mask`, undefined), recipe);
}
