import { namesGiven, withNameRead } from '@owl-loom/algorithms/formula/names';
import { uniqueId } from './unique-id';
import { type RecipeMapper, mapLayer, mapMask, mapSource, mapSteps } from './map-recipe';
import type { Mask, Mix, Recipe, Source, Step } from './schema';
import { stepOwners, strandsReadBySource, strandsReadByStep } from './walk';

/** Numbers by strand, one of them under another name at its place. */
const keyed = <T extends Record<string, number> | undefined>(numbers: T, from: string, to: string): T =>
  numbers && (Object.fromEntries(Object.entries(numbers).map(([id, value]) => [id === from ? to : id, value])) as T);

const mixed = (source: Mix, from: string, to: string): Mix => ({
  ...source,
  mix: Object.fromEntries(Object.entries(source.mix).map(([column, weights]) => [column, keyed(weights, from, to)])),
  ...(source.gain && { gain: keyed(source.gain, from, to) }),
  ...(source.off?.strands && {
    off: { ...source.off, strands: source.off.strands.map((id) => (id === from ? to : id)) },
  }),
});

/** A source that reads a strand by its other name; layers in it are remade by themselves. */
function source<S extends Source | Mask['of']>(of: S, from: string, to: string): S {
  if (!strandsReadBySource(of).includes(from) && !('mix' in of)) return of;
  if ('strand' in of) return { ...of, strand: to };
  if ('starMask' in of) return { ...of, starMask: to };
  if ('average' in of) return { ...of, average: of.average.map((id) => (id === from ? to : id)) };
  if ('formula' in of) return { ...of, formula: withNameRead(of.formula, from, to) };
  return 'mix' in of ? ({ ...of, ...mixed(of, from, to) } as S) : of;
}

/** Parameters that name the strand; what any step may carry names none. */
const step = (given: Step, from: string, to: string): Step =>
  strandsReadByStep(given).includes(from)
    ? (Object.fromEntries(
        Object.entries(given).map(([key, value]) => [key, !CARRIED.has(key) && value === from ? to : value]),
      ) as Step)
    : given;

const CARRIED: ReadonlySet<string> = new Set(['do', 'name', 'mask']);

/** Names that a strand cannot take without meaning something else: those of other strands, and values that formulas which read it call so. */
const takenNames = (recipe: Recipe, id: string): string[] => [
  ...recipe.strands.map((strand) => strand.id).filter((other) => other !== id),
  ...[...stepOwners(recipe)].flatMap(({ source: of }) =>
    // One that cannot be parsed reads nothing.
    of && 'formula' in of && strandsReadBySource(of).includes(id) ? namesGiven(of.formula) : [],
  ),
];

/**
 * A recipe with a strand called by another name, and all that reads it: sources, tie-ups, formulas, steps, masks, the frame.
 * @param wanted taken as it is where it is free, else by a number more; formulas hold names without quotation marks
 */
export function withStrandRenamed(recipe: Recipe, id: string, wanted: string): Recipe {
  const to = uniqueId(wanted.replaceAll('"', '’'), takenNames(recipe, id));
  const by: RecipeMapper = {
    layer: (layer) => ({ ...layer, of: source(layer.of, id, to) }),
    mask: (mask) => ({ ...mask, of: source(mask.of, id, to) }),
    steps: (steps) => steps.map((one) => step(one, id, to)),
  };
  const { cloth, masks, frame } = recipe;
  return {
    ...recipe,
    strands: recipe.strands.map((strand) => ({
      ...strand,
      id: strand.id === id ? to : strand.id,
      from: mapSource(source(strand.from, id, to), by),
      ...(strand.steps && { steps: mapSteps(strand.steps, by) }),
    })),
    ...(masks && { masks: masks.map((mask) => ({ ...mapMask(mask, by), id: mask.id })) }),
    ...(cloth && {
      cloth: {
        ...cloth,
        layers: cloth.layers.map((layer) => mapLayer(layer, by)),
        ...(cloth.steps && { steps: mapSteps(cloth.steps, by) }),
      },
    }),
    ...(frame === id && { frame: to }),
  };
}
