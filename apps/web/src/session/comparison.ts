import { useMemo } from 'react';
import type { Recipe } from '@owl-loom/recipe/schema';
import { usePalettesQuery, useRecipeQuery, useSwatchQuery } from '../store/api';
import { useAppSelector } from '../store/store';
import type { ComparisonTarget } from '../store/view';
import { withoutMask } from './masks';

/** What the picture is held against, where that is another recipe than the open one. */
export type ComparedRecipe =
  | { readonly state: 'none' | 'coming' }
  | { readonly state: 'missing'; readonly why: string }
  | { readonly state: 'there'; readonly recipe: Recipe };

const NONE: ComparedRecipe = { state: 'none' };
const COMING: ComparedRecipe = { state: 'coming' };

/** The kinds that are looked for in the open recipe itself. */
const isOwn = ({ kind }: ComparisonTarget): boolean => kind === 'before' || kind === 'place';

/** The recipe that the picture is held against, as far as it is not the open one. */
export function useComparedRecipe(target: string): ComparedRecipe {
  const { compare, comparisonTarget: against, heldRecipe: held } = useAppSelector((state) => state.view);
  const { recipe, selectedPath: chosen, past } = useAppSelector((state) => state.draft);
  const wanted = compare !== 'off' && !isOwn(against) ? against : undefined;
  const other = wanted?.kind === 'recipe' ? wanted.id : undefined;
  const { data: stored } = useRecipeQuery(other ?? '', { skip: other === undefined });
  const kept = wanted?.kind === 'swatch' ? wanted.id : undefined;
  const { data: swatch } = useSwatchQuery(kept ?? '', { skip: kept === undefined });
  const { data: sheet } = usePalettesQuery(target, { skip: wanted?.kind !== 'palette' });
  return useMemo((): ComparedRecipe => {
    if (!wanted || !recipe) return NONE;
    const there = (found: Recipe | undefined, why: string): ComparedRecipe =>
      found ? { state: 'there', recipe: found } : { state: 'missing', why };
    switch (wanted.kind) {
      case 'unmasked': {
        const bare = withoutMask(recipe, chosen);
        return there(bare === recipe ? undefined : bare, 'The selection has no mask.');
      }
      case 'held':
        return there(held ?? undefined, 'No reference state yet: press the pin.');
      case 'opened':
        return there(past[0] ?? recipe, '');
      case 'recipe':
        return stored && stored.id === wanted.id ? { state: 'there', recipe: stored.body } : COMING;
      case 'swatch':
        return swatch && swatch.id === wanted.id ? { state: 'there', recipe: swatch.body } : COMING;
      case 'palette': {
        if (!sheet) return COMING;
        const entry = sheet.entries.find(({ name }) => name === wanted.name);
        return there(entry?.recipe ?? undefined, 'This target lacks filters of this palette.');
      }
      default:
        return NONE;
    }
  }, [wanted, recipe, chosen, held, past, stored, swatch, sheet]);
}

/** Where in the other recipe the image lies that answers the shown one: the same place of another state, the cloth of another picture. */
export function comparedPath(
  against: ComparisonTarget,
  path: string,
  paths: Readonly<Record<string, unknown>>,
): string {
  const another =
    against.kind === 'recipe' || against.kind === 'palette' || (against.kind === 'swatch' && !against.own);
  return !another && paths[path] !== undefined ? path : 'cloth';
}
