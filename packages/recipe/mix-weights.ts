import type { Mix } from './schema';
import { entriesOf } from '@owl-loom/base/typed-keys';

type Columns = Mix['mix'];
type Weights = Readonly<Record<string, number>>;

/**
 * The weights that a mix works with: those of columns and strands that are switched off count as though they were not there, while
 * their numbers stay in the recipe.
 */
export function activeWeights({ mix, off }: Mix): Columns {
  const without = (weights: Weights) =>
    Object.fromEntries(Object.entries(weights).filter(([id]) => !off?.strands?.includes(id)));
  return Object.fromEntries(
    entriesOf(mix)
      .filter(([name, weights]) => weights !== undefined && !off?.columns?.includes(name))
      .map(([name, weights]) => [name, without(weights ?? {})]),
  );
}

/** A mix with a column or a strand switched off, or on again; with nothing off, the list is gone. */
export function toggleMixInput(mix: Mix, what: 'strands' | 'columns', name: string): Mix {
  const { off, ...rest } = mix;
  const list: readonly string[] = off?.[what] ?? [];
  const next = list.includes(name) ? list.filter((other) => other !== name) : [...list, name];
  const { [what]: _, ...others } = off ?? {};
  const left = next.length > 0 ? { ...others, [what]: next } : others;
  return Object.keys(left).length > 0 ? { ...rest, off: left } : rest;
}

/** Whether a column is divided by the sum of its absolute weights. */
export const isShared = ({ weights, asIs }: Mix, column: keyof Columns): boolean =>
  weights === 'share' && !asIs?.includes(column);

/**
 * What each weight of a column comes to: of a shared column its part of the sum of the absolute weights in effect, else the weight itself.
 */
export function effectOf(mix: Mix, column: keyof Columns): Readonly<Record<string, number>> {
  const weights = activeWeights(mix)[column] ?? {};
  if (!isShared(mix, column)) return weights;
  const sum = Object.values(weights).reduce((total, w) => total + Math.abs(w), 0);
  return sum > 0 ? Object.fromEntries(Object.entries(weights).map(([id, w]) => [id, w / sum])) : weights;
}

/** Whether a weight cannot change anything: it is the only one of a shared column, and counts as 1 whatever it is. */
export function isIdle(mix: Mix, column: keyof Columns, id: string): boolean {
  if (!isShared(mix, column)) return false;
  const tied = Object.entries(activeWeights(mix)[column] ?? {}).filter(([, w]) => w !== 0);
  return tied.length === 1 && tied[0][0] === id;
}

/** A mix with a column whose weights count as they are, or are shared again. */
export function withAsIs(mix: Mix, column: keyof Columns, asIs: boolean): Mix {
  const { asIs: before = [], ...rest } = mix;
  const others = before.filter((name) => name !== column);
  const next = asIs ? [...others, column] : others;
  return next.length > 0 ? { ...rest, asIs: next } : rest;
}
