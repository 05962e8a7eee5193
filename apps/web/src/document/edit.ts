import type { NewStepContext } from '@owl-loom/recipe/steps/step-spec';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { uniqueId } from '@owl-loom/recipe/unique-id';
import { withStrandRenamed } from '@owl-loom/recipe/rename-strand';
import type { Mask, Recipe, Source, Step, Strand } from '@owl-loom/recipe/schema';
import { newStep } from '@owl-loom/recipe/new-step';
import { recipeChanged, gestureEnded } from '../store/draft';
import { stepLocation, stepsAt, withoutStep, withStep, withStepMoved, setAtPath, stepAt } from '@owl-loom/recipe/paths';
import { pathsUsingMask, stepOwnerAt, strandPath } from '@owl-loom/recipe/walk';
import { clampToLimits } from './limits';
import { withStepForAll } from './add-step-to-all';
import { store } from '../store/store';

const current = (): Recipe | null => store.getState().draft.recipe;

/** A number for a step's parameter keeps to what the recipe's schema allows, whichever control it came from. */
function withinLimits(recipe: Recipe, path: string, value: unknown): unknown {
  const match = /^(.*steps\[\d+\])\.([^.[\]]+)$/.exec(path);
  const step = match && stepAt(recipe, match[1]);
  return step ? clampToLimits(step.do, match[2], value) : value;
}

/** Changes one value; changes of one gesture count as one in the history. */
export function setValue(path: string, value: unknown, gesture?: string): void {
  const recipe = current();
  if (recipe)
    store.dispatch(
      recipeChanged({
        recipe: setAtPath(recipe, path, withinLimits(recipe, path, value)),
        gesture: gesture === undefined ? undefined : `${gesture} ${path}`,
      }),
    );
}

/**
 * Puts a strand at the end, and chooses it.
 * @param name that it is called by, or by one like it that is free
 */
export function addStrand(name: string, from: Source, steps: Step[] = []): void {
  const recipe = current();
  if (!recipe) return;
  const id = uniqueId(
    name,
    recipe.strands.map((strand) => strand.id),
  );
  const next = { ...recipe, strands: [...recipe.strands, { id, from, steps }] };
  store.dispatch(recipeChanged({ recipe: next, chosen: strandPath(next, id) }));
}

/** Puts a copy of a strand with all its steps at the end, and chooses it. */
export function duplicateStrand({ id, from, steps }: Strand): void {
  addStrand(id, structuredClone(from), structuredClone(steps));
}

/** Gives a strand another name, in all that reads it too. */
export function renameStrand(id: string, wanted: string): void {
  const recipe = current();
  if (recipe && wanted !== '' && wanted !== id)
    store.dispatch(recipeChanged({ recipe: withStrandRenamed(recipe, id, wanted) }));
}

export function removeStrand(id: string): void {
  const recipe = current();
  if (recipe)
    store.dispatch(
      recipeChanged({
        recipe: { ...recipe, strands: recipe.strands.filter((strand) => strand.id !== id) },
        chosen: 'cloth',
      }),
    );
}

/**
 * Adds a shared mask.
 * @param user path of the layer or step that is to be seen through it, which stays chosen; without one the mask itself is chosen
 */
export function addMask(name: string, mask: Mask, user?: string): void {
  const recipe = current();
  if (!recipe) return;
  const masks = recipe.masks ?? [];
  const id = uniqueId(
    name,
    masks.map((other) => other.id),
  );
  const next = { ...recipe, masks: [...masks, { id, ...mask }] };
  store.dispatch(
    user === undefined
      ? recipeChanged({ recipe: next, chosen: `masks[${masks.length}]` })
      : recipeChanged({ recipe: setAtPath(next, `${user}.mask`, id) }),
  );
}

export function removeMask(id: string): void {
  const recipe = current();
  const left = recipe?.masks?.filter((mask) => mask.id !== id) ?? [];
  if (recipe)
    store.dispatch(
      recipeChanged({ recipe: setAtPath(recipe, 'masks', left.length > 0 ? left : undefined), chosen: 'cloth' }),
    );
}

/** Gives a shared mask another name, and all that is seen through it. */
export function renameMask(id: string, wanted: string): void {
  const recipe = current();
  const index = recipe?.masks?.findIndex((mask) => mask.id === id) ?? -1;
  if (!recipe || index < 0 || wanted === '' || wanted === id) return;
  const name = uniqueId(wanted, recipe.masks?.map((mask) => mask.id) ?? []);
  const renamed = pathsUsingMask(recipe, id).reduce((next, user) => setAtPath(next, `${user}.mask`, name), recipe);
  store.dispatch(recipeChanged({ recipe: setAtPath(renamed, `masks[${index}].id`, name) }));
}

/** Where there is no picture yet, a rectangle of some size. */
const SOME_FRAME: Rect = { x: 0, y: 0, width: 1000, height: 1000 };

/** Puts a new step at the end of a list and chooses it; `where` tells how it may begin. */
export function addStep(kind: string, list: string, { frame = SOME_FRAME, colour }: Partial<NewStepContext>): void {
  const recipe = current();
  if (!recipe) return;
  const owner = stepOwnerAt(recipe, list);
  const self = owner?.kind === 'strand' ? owner.id : undefined;
  const others = recipe.strands.map(({ id }) => id).filter((id) => id !== self);
  const index = stepsAt(recipe, list).length;
  store.dispatch(
    recipeChanged({
      recipe: withStep(recipe, list, index, newStep(kind, { others, frame, colour })),
      chosen: `${list}[${index}]`,
    }),
  );
}

export function removeStep(path: string): void {
  const recipe = current();
  const place = stepLocation(path);
  if (recipe && place)
    store.dispatch(
      recipeChanged({
        recipe: withoutStep(recipe, place.list, place.index),
        chosen: place.list.replace(/\.steps$/, ''),
      }),
    );
}

/** Gives a step to every strand from a stack that lacks one. */
export function addForAll(step: Step): void {
  const recipe = current();
  if (recipe) store.dispatch(recipeChanged({ recipe: withStepForAll(recipe, step) }));
}

/** Moves a step along its thread by one. */
export function shiftStep(path: string, by: 1 | -1): void {
  const recipe = current();
  const place = stepLocation(path);
  if (!recipe || !place) return;
  const index = place.index + by;
  if (index < 0) return;
  const chosen = `${place.list}[${index}]`;
  store.dispatch(
    recipeChanged({
      recipe: withStepMoved(recipe, place, { list: place.list, index: by > 0 ? index + 1 : index }),
      chosen,
    }),
  );
}

/** Puts a copy of a step at the end of another thread. */
export function copyStep(step: Step, list: string, length: number): void {
  const recipe = current();
  if (recipe) store.dispatch(recipeChanged({ recipe: withStep(recipe, list, length, structuredClone(step)) }));
}

/** Ends a gesture: what moved until now is one step in the history. */
export const endGesture = (): void => {
  store.dispatch(gestureEnded());
};
