import { type StepOwner, stepOwnerAt, transitiveDependents, strandPath } from '@owl-loom/recipe/walk';
import { layerLocation, stepLocation } from '@owl-loom/recipe/paths';
import { selectionChanged } from '../store/draft';
import { store, useAppSelector } from '../store/store';
import { viewChanged } from '../store/view';
import { addMask } from '../document/edit';
import { previousStatePath, stepInputPath } from '../document/state-paths';
import { type MaskPreset, maskPresets } from './masks';
import { useSession } from './session';

/**
 * Makes a mask, and takes up what is to be done on the picture next, where there is such a thing.
 * @param user path of the layer or step that is to be seen through it
 */
export function startMask({ name, mask, next }: MaskPreset, user?: string): void {
  addMask(name, mask, user);
  const made = (store.getState().draft.recipe?.masks?.length ?? 0) - 1;
  if (!next || made < 0) return;
  store.dispatch(selectionChanged(`masks[${made}]`));
  const { brush } = store.getState().view;
  store.dispatch(
    viewChanged(
      next === 'touch'
        ? { tool: 'hue' }
        : { tool: 'paint', selectedShape: null, maskAs: 'veil', brush: { ...brush, shape: 'ellipse', mode: 'reveal' } },
    ),
  );
}

/** What the cloth below is called for a mask of a layer or a step; undefined where there is none. */
function belowName(path: string, owner: StepOwner | undefined): string | undefined {
  if (owner?.kind === 'layer') return (layerLocation(owner.path)?.index ?? 0) > 0 ? 'the cloth below' : undefined;
  return stepLocation(path) && owner?.kind !== 'mask' ? 'the input of this step' : undefined;
}

/**
 * The masks that can be made of the recipe by one press; none where there is no recipe.
 * @param user path of the layer or step that is to be seen through it: what is made of its strand would go round in a loop
 */
export function useMaskStarts(user?: string): MaskPreset[] {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const { scene } = useSession();
  if (!recipe) return [];
  const owner = user === undefined ? undefined : stepOwnerAt(recipe, user);
  const loops = owner?.kind === 'strand' ? transitiveDependents(recipe, owner.id ?? '') : new Set<string>();
  const stretched = (path: string | undefined) => path !== undefined && scene?.paths[path]?.domain !== 'linear';
  const coloured = (path: string | undefined) => path !== undefined && scene?.paths[path]?.planes === 3;
  const name = user === undefined ? undefined : belowName(user, owner);
  const under =
    user !== undefined && owner?.kind === 'layer'
      ? previousStatePath(recipe, owner.path)
      : stepInputPath(recipe, user ?? '');
  return maskPresets(
    recipe.strands
      .filter(({ id }) => !loops.has(id))
      .map(({ id }) => {
        const path = strandPath(recipe, id);
        return { id, stretched: stretched(path), coloured: coloured(path) };
      }),
    name === undefined ? undefined : { name, stretched: stretched(under), coloured: coloured(under) },
  );
}
