import type { Mix } from '../recipe/schema';

type Columns = Mix['mix'];
type Weights = Readonly<Record<string, number>>;

/**
 * The weights that a mix works with: those of columns and strands that are switched off count as though they were not there, while
 * their numbers stay in the recipe.
 */
export function weightsInEffect({ mix, off }: Mix): Columns {
  const without = (weights: Weights) =>
    Object.fromEntries(Object.entries(weights).filter(([id]) => !off?.strands?.includes(id)));
  return Object.fromEntries(
    (Object.entries(mix) as [keyof Columns, Weights | undefined][])
      .filter(([name, weights]) => weights !== undefined && !off?.columns?.includes(name))
      .map(([name, weights]) => [name, without(weights ?? {})]),
  );
}

/** A mix with a column or a strand switched off, or on again; with nothing off, the list is gone. */
export function withSwitched(mix: Mix, what: 'strands' | 'columns', name: string): Mix {
  const { off, ...rest } = mix;
  const list: readonly string[] = off?.[what] ?? [];
  const next = list.includes(name) ? list.filter((other) => other !== name) : [...list, name];
  const { [what]: _, ...others } = off ?? {};
  const left = next.length > 0 ? { ...others, [what]: next } : others;
  return Object.keys(left).length > 0 ? { ...rest, off: left } : rest;
}
