import { useMemo } from 'react';
import { useAppSelector } from '../../store/store';
import { comparedPath } from '../../session/comparison';
import { previousStatePath } from '../../document/state-paths';
import { imageTitle } from '@owl-loom/recipe/names';
import { useSession } from '../../session/session';

/** The image that the shown one is held against. */
export interface Other {
  readonly path: string;
  /** Whether it is one of another recipe than the open one. */
  readonly beside: boolean;
  readonly name: string;
}

/** The image that the shown one is held against; undefined where there is none. */
export function useComparedImage(shown: string): Other | undefined {
  const { compare, comparisonTarget: against } = useAppSelector((state) => state.view);
  const { recipe, selectedPath: chosen } = useAppSelector((state) => state.draft);
  const { beside, scene } = useSession();
  return useMemo((): Other | undefined => {
    if (compare === 'off' || !recipe) return undefined;
    if (against.kind === 'before') {
      const path = previousStatePath(recipe, chosen);
      return path === undefined ? undefined : { path, beside: false, name: 'before' };
    }
    if (against.kind === 'place') return { path: against.path, beside: false, name: imageTitle(recipe, against.path) };
    if (beside.state !== 'there' || !scene) return undefined;
    const path = comparedPath(against, shown, scene.beside);
    if (scene.beside[path] === undefined) return undefined;
    const names = {
      unmasked: 'without its mask',
      held: 'reference state',
      opened: 'as opened',
      recipe: beside.recipe.name ?? 'untitled recipe',
      palette: beside.recipe.name ?? '',
      swatch: 'swatch',
    };
    return { path, beside: true, name: names[against.kind] };
  }, [compare, against, recipe, chosen, beside, scene, shown]);
}
