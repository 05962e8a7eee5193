import {
  layersOfList,
  maskOwners,
  pathsUsingMask,
  type StepOwner,
  stepOwnerAt,
  layerListOf,
  layerListParent,
  strandOwners,
} from '@owl-loom/recipe/walk';
import type { Recipe } from '@owl-loom/recipe/schema';
import { selectionChanged } from '../../store/draft';
import { stepLocation, valueAt } from '@owl-loom/recipe/paths';
import { store } from '../../store/store';

/**
 * Places that arrow keys go to, in the order of the drawing: strands with their steps, shared masks, the layers of the room, the cloth. A mask
 * that is written in place is a row of its own while one is in it.
 */
export function navigationRows(recipe: Recipe, chosen: string): string[][] {
  const withSteps = ({ path, stepsPath, steps }: StepOwner) => [path, ...steps.map((_, k) => `${stepsPath}[${k}]`)];
  const cloth = stepOwnerAt(recipe, 'cloth');
  const own = stepOwnerAt(recipe, chosen);
  return [
    ...strandOwners(recipe).map(withSteps),
    ...maskOwners(recipe).map(withSteps),
    ...(own?.kind === 'mask' && own.within !== undefined ? [withSteps(own)] : []),
    ...layersOfList(recipe, layerListOf(chosen)).map(withSteps).reverse(),
    cloth ? withSteps(cloth) : ['cloth'],
  ];
}

const draft = () => store.getState().draft;
const choose = (path: string | undefined): void => {
  if (path !== undefined) store.dispatch(selectionChanged(path));
};

/** Along a thread, or to the one above or below. */
export function moveSelection(across: number, down: number): void {
  const { recipe, selectedPath: chosen } = draft();
  if (!recipe) return;
  const rows = navigationRows(recipe, chosen);
  const row = rows.findIndex((list) => list.includes(chosen));
  if (row < 0) return;
  const target = rows[Math.min(rows.length - 1, Math.max(0, row + down))];
  const column = rows[row].indexOf(chosen) + across;
  choose(target[Math.min(target.length - 1, Math.max(0, column))]);
}

/** Into the small cloth that is chosen. */
export function enterGroup(): void {
  const { recipe, selectedPath: chosen } = draft();
  const inner = recipe && stepOwnerAt(recipe, chosen);
  choose(recipe && inner ? layersOfList(recipe, `${inner.sourcePath}.layers`).at(-1)?.path : undefined);
}

/** Out of the small cloth that one is in. */
export function leaveGroup(): void {
  const { recipe, selectedPath: chosen } = draft();
  choose((recipe ? layerListParent(recipe, layerListOf(chosen)) : undefined)?.path);
}

/** Where the mask of a place stands: of a step, else of the layer that holds it. */
export function maskOf(recipe: Recipe, chosen: string): string | undefined {
  const owner = stepOwnerAt(recipe, chosen);
  const users = stepLocation(chosen) ? [chosen, owner?.path] : [owner?.path];
  for (const user of users) {
    const mask = user === undefined ? undefined : valueAt(recipe, `${user}.mask`);
    if (typeof mask === 'object') return `${user}.mask`;
    const shared = maskOwners(recipe).find(({ id }) => id === mask);
    if (mask !== undefined && shared) return shared.path;
  }
  return undefined;
}

/** From where a shared mask was gone into, so that the way back leads there. */
let from: string | undefined;

/** Into the mask of what is chosen. */
export function selectMask(): void {
  const { recipe, selectedPath: chosen } = draft();
  const mask = recipe ? maskOf(recipe, chosen) : undefined;
  if (mask === undefined) return;
  from = chosen;
  choose(mask);
}

/** From a mask back to what is seen through it: what one came from, else the first that there is. */
export function selectMaskUser(): void {
  const { recipe, selectedPath: chosen } = draft();
  const owner = recipe && stepOwnerAt(recipe, chosen);
  if (!recipe || owner?.kind !== 'mask') return;
  const uses =
    owner.within === undefined ? pathsUsingMask(recipe, owner.id ?? '') : [owner.path.replace(/\.mask$/, '')];
  const came = from !== undefined && maskOf(recipe, from) === owner.path ? from : undefined;
  choose(came ?? uses[0]);
}
