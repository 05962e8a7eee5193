import type { Layer, Mask, Source, Step } from './schema';

/** What becomes of each part of a layer, the parts in it left to be remade after it. */
export interface RecipeMapper {
  readonly layer?: (layer: Layer) => Layer;
  readonly mask?: (mask: Mask) => Mask;
  readonly steps?: (steps: readonly Step[]) => readonly Step[];
}

/** A source with whatever layers it has remade. */
export const mapSource = <S extends Source | Mask['of']>(source: S, by: RecipeMapper): S =>
  'layers' in source ? { ...source, layers: source.layers.map((layer) => mapLayer(layer, by)) } : source;

/** Steps with the masks that stand in them. */
export const mapSteps = (steps: readonly Step[], by: RecipeMapper): Step[] =>
  (by.steps?.(steps) ?? steps).map((step) =>
    step.mask === undefined ? step : { ...step, mask: remadeUse(step.mask, by) },
  );

/** A mask that is written in place; one that is named stays as it is. */
const remadeUse = (mask: string | Mask, by: RecipeMapper): string | Mask =>
  typeof mask === 'string' ? mask : mapMask(mask, by);

/** A mask with its source and steps, however deep. */
export function mapMask(mask: Mask, by: RecipeMapper): Mask {
  const own = by.mask?.(mask) ?? mask;
  return { ...own, of: mapSource(own.of, by), ...(own.steps && { steps: mapSteps(own.steps, by) }) };
}

/** A layer with its source, steps and mask, however deep. */
export function mapLayer(layer: Layer, by: RecipeMapper): Layer {
  const own = by.layer?.(layer) ?? layer;
  return {
    ...own,
    of: mapSource(own.of, by),
    ...(own.steps && { steps: mapSteps(own.steps, by) }),
    ...(own.mask !== undefined && { mask: remadeUse(own.mask, by) }),
  };
}
