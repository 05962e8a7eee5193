import { stepAt } from '@owl-loom/recipe/names';
import type { Recipe } from '@owl-loom/recipe/schema';
import type { DescribeReply } from '../../worker/protocol';

/**
 * What was measured, as far as it is of the recipe as it is now: where a step of another kind has come to stand, what was measured at that
 * place is none of its own, and no editor reads the measurements of another.
 */
export function toldOf(described: DescribeReply, recipe: Recipe): DescribeReply {
  const isOwn = ([path]: [string, unknown]): boolean => described.kinds[path] === stepAt(recipe, path)?.do;
  const own = <T>(byPath: Readonly<Record<string, T>>): Record<string, T> =>
    Object.fromEntries(Object.entries(byPath).filter(isOwn));
  return { ...described, measured: own(described.measured), charts: own(described.charts) };
}
