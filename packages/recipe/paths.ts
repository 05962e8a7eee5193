import type { Layer, Mask, Recipe, Source, Step, Strand } from './schema';

/** `cloth.layers[1].steps[0]` as keys. */
export const parsePath = (path: string): (string | number)[] =>
  path
    .split(/[.[\]]+/)
    .filter(Boolean)
    .map((key) => (/^\d+$/.test(key) ? Number(key) : key));

/** What stands at a path of a recipe; undefined where nothing does. */
export function valueAt(recipe: Recipe, path: string): unknown {
  return parsePath(path).reduce<unknown>(
    (value, key) =>
      typeof value === 'object' && value !== null ? (value as Record<string | number, unknown>)[key] : undefined,
    recipe,
  );
}

/** The recipe with one value changed; the parts that do not change are shared. Undefined removes the key. */
export function setAtPath(recipe: Recipe, path: string, value: unknown): Recipe {
  const set = (node: unknown, keys: (string | number)[]): unknown => {
    const [key, ...rest] = keys;
    if (key === undefined) return value;
    if (Array.isArray(node)) return node.map((item, i) => (i === key ? set(item, rest) : item));
    const before = (node ?? {}) as Record<string | number, unknown>;
    const next = set(before[key], rest);
    if (next === undefined) {
      const { [key]: _, ...others } = before;
      return others;
    }
    return { ...before, [key]: next };
  };
  return set(recipe, parsePath(path)) as Recipe;
}

/** A step's path taken apart: the list that it stands in, and its place there. */
export function stepLocation(path: string): { list: string; index: number } | undefined {
  const match = /^(.*steps)\[(\d+)\]$/.exec(path);
  return match ? { list: match[1], index: Number(match[2]) } : undefined;
}

/** A layer's path taken apart: the list that it stands in, and its place there. */
export function layerLocation(path: string): { list: string; index: number } | undefined {
  const match = /^(.*layers)\[(\d+)\]$/.exec(path);
  return match ? { list: match[1], index: Number(match[2]) } : undefined;
}

/** What stands at a path, by the form that a checked recipe has there. */
const formAt = <T>(recipe: Recipe, path: string): T | undefined => valueAt(recipe, path) as T | undefined;

/** The steps of a list; none where there is no list. */
export const stepsAt = (recipe: Recipe, list: string): Step[] => formAt<Step[]>(recipe, list) ?? [];

/** The step at a path; undefined where the path is none of a step, or no step stands there. */
export const stepAt = (recipe: Recipe, path: string): Step | undefined =>
  stepLocation(path) ? formAt<Step>(recipe, path) : undefined;

/** The layers of a list; none where there is no list. */
export const layersAt = (recipe: Recipe, list: string): Layer[] => formAt<Layer[]>(recipe, list) ?? [];

/** The layer at a path of a layer. */
export const layerAt = (recipe: Recipe, path: string): Layer | undefined =>
  layerLocation(path) ? formAt<Layer>(recipe, path) : undefined;

/** The strand at a path of a strand, `strands[0]`. */
export const strandAt = (recipe: Recipe, path: string): Strand | undefined => formAt<Strand>(recipe, path);

/** The source at a path of a source, `strands[0].from` or `….of`. */
export const sourceAt = (recipe: Recipe, path: string): Source | undefined => formAt<Source>(recipe, path);

/** The mask at a path of a mask, `masks[0]` or `….mask`; undefined where a name stands. */
export function maskAt(recipe: Recipe, path: string): (Mask & { id?: string }) | undefined {
  const mask = formAt<Mask | string>(recipe, path);
  return typeof mask === 'string' ? undefined : mask;
}

/** A step put into a list before the place `index`. */
export const withStep = (recipe: Recipe, list: string, index: number, step: Step): Recipe =>
  setAtPath(recipe, list, stepsAt(recipe, list).toSpliced(index, 0, step));

/** A step taken out of its list. */
export const withoutStep = (recipe: Recipe, list: string, index: number): Recipe =>
  setAtPath(recipe, list, stepsAt(recipe, list).toSpliced(index, 1));

/** A step moved within its list or to another; `to` counts in the list as it was before. */
export function withStepMoved(
  recipe: Recipe,
  from: { list: string; index: number },
  to: { list: string; index: number },
): Recipe {
  const step = stepsAt(recipe, from.list)[from.index];
  const target = from.list === to.list && to.index > from.index ? to.index - 1 : to.index;
  return withStep(withoutStep(recipe, from.list, from.index), to.list, target, step);
}
