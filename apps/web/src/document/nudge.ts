import type { Recipe, Step } from '@owl-loom/recipe/schema';
import { stepOwnerAt } from '@owl-loom/recipe/walk';
import { isMoveStep } from '@owl-loom/recipe/steps/index';
import { recipeChanged, selectionChanged } from '../store/draft';
import { stepLocation, stepsAt, withStep, setAtPath, stepAt } from '@owl-loom/recipe/paths';
import { store } from '../store/store';

/** A hundredth of a pixel is finer than anything that can be seen. */
export const hundredth = (value: number): number => Math.round(value * 100) / 100;

/** Where a step that moves what is chosen by hand stands, or would have to be put. */
function handPlace(recipe: Recipe, chosen: string): { list: string; index: number; there: boolean } | undefined {
  const own = stepLocation(chosen);
  if (own && stepAt(recipe, chosen)?.do === 'place') return { ...own, there: true };
  const owner = stepOwnerAt(recipe, chosen);
  if (owner?.kind !== 'layer' && owner?.kind !== 'strand') return undefined;
  const { steps, stepsPath: list } = owner;
  const last = steps.findLastIndex((step) => isMoveStep(step.do));
  if (last >= 0 && steps[last].do === 'place' && !steps[last].off) return { list, index: last, there: true };
  // After what moves it already, and before all that looks at its pixels: moves in a row are made in one.
  return { list, index: last + 1, there: false };
}

/**
 * A recipe in which the chosen layer or strand lies further to the right and up, by full-size pixels: by the step that moves it by hand,
 * or by a new one.
 * @returns the path of that step too; undefined where what is chosen cannot be moved
 */
export function nudged(
  recipe: Recipe,
  chosen: string,
  dx: number,
  dy: number,
): { readonly recipe: Recipe; readonly path: string; readonly added: boolean } | undefined {
  const place = handPlace(recipe, chosen);
  if (!place) return undefined;
  const path = `${place.list}[${place.index}]`;
  if (!place.there) {
    const step: Step = { do: 'place', dx, dy };
    return { recipe: withStep(recipe, place.list, place.index, step), path, added: true };
  }
  const step = stepsAt(recipe, place.list)[place.index];
  const moved = (key: 'dx' | 'dy', by: number): number => hundredth((Number(step[key]) || 0) + by);
  const next = { ...step, dx: moved('dx', dx), dy: moved('dy', dy) };
  return { recipe: setAtPath(recipe, path, next), path, added: false };
}

/**
 * Moves the chosen layer or strand; presses one after another count as one change. What is chosen stays chosen.
 * @param choose chooses the step that does it, so that it can be gone on with on the picture
 */
export function nudge(dx: number, dy: number, choose = false): void {
  const { recipe, selectedPath: chosen } = store.getState().draft;
  const made = recipe && nudged(recipe, chosen, dx, dy);
  if (!made) return;
  if (!made.added && dx === 0 && dy === 0) {
    if (choose) store.dispatch(selectionChanged(made.path));
    return;
  }
  const place = stepLocation(chosen);
  const own = stepLocation(made.path);
  // A step that is put in before the chosen one moves that on by one place.
  const behind = made.added && place && own && place.list === own.list && place.index >= own.index;
  const stays = behind ? `${place.list}[${place.index + 1}]` : chosen;
  store.dispatch(
    recipeChanged({
      recipe: made.recipe,
      chosen: choose ? made.path : stays,
      gesture: `nudge ${made.path.replace(/\[\d+\]$/, '')}`,
    }),
  );
}
