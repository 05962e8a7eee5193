import type { Recipe } from '@owl-loom/recipe/schema';
import type { Spot } from '../../image-view/ImageView';
import { valueAt, stepAt } from '@owl-loom/recipe/paths';
import { numberOf } from '../../session/measured-values';
import { setValue } from '../../document/edit';
import { straightenedAngle } from './straightened-angle';

/** Screen pixels that a line must have: a shorter one has no direction that anyone meant. */
const SHORTEST = 8;

/** Where the free turn of what is chosen stands: of the cloth or of a `place` step; undefined where nothing is turned. */
export function degreesPath(recipe: Recipe, chosen: string): string | undefined {
  if (chosen === 'cloth') return 'cloth.orient.degrees';
  const step = stepAt(recipe, chosen);
  return step?.do === 'place' ? `${chosen}.degrees` : undefined;
}

/** Turns what is chosen so that a line that was drawn on it lies level or upright. */
export function straighten(recipe: Recipe, chosen: string, from: Spot, to: Spot): void {
  const path = degreesPath(recipe, chosen);
  const [dx, dy] = [to.sx - from.sx, from.sy - to.sy];
  if (path !== undefined && Math.hypot(dx, dy) > SHORTEST)
    setValue(path, straightenedAngle(numberOf(valueAt(recipe, path)) ?? 0, dx, dy));
}
