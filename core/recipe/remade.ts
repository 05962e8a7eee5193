import type { Layer, Mask, Source, Step } from './schema';

/** What becomes of each part of a layer, the parts in it left to be remade after it. */
export interface Remaking {
  readonly layer?: (layer: Layer) => Layer;
  readonly mask?: (mask: Mask) => Mask;
  readonly steps?: (steps: readonly Step[]) => readonly Step[];
}

/** A source with whatever layers it has remade. */
export const remadeSource = <S extends Source | Mask['of']>(source: S, by: Remaking): S =>
  'layers' in source ? { ...source, layers: source.layers.map((layer) => remadeLayer(layer, by)) } : source;

/** Steps with the masks that stand in them. */
export const remadeSteps = (steps: readonly Step[], by: Remaking): Step[] =>
  (by.steps?.(steps) ?? steps).map((step) =>
    step.mask === undefined ? step : { ...step, mask: remadeUse(step.mask, by) },
  );

/** A mask that is written in place; one that is named stays as it is. */
const remadeUse = (mask: string | Mask, by: Remaking): string | Mask =>
  typeof mask === 'string' ? mask : remadeMask(mask, by);

/** A mask with its source and steps, however deep. */
export function remadeMask(mask: Mask, by: Remaking): Mask {
  const own = by.mask?.(mask) ?? mask;
  return { ...own, of: remadeSource(own.of, by), ...(own.steps && { steps: remadeSteps(own.steps, by) }) };
}

/** A layer with its source, steps and mask, however deep. */
export function remadeLayer(layer: Layer, by: Remaking): Layer {
  const own = by.layer?.(layer) ?? layer;
  return {
    ...own,
    of: remadeSource(own.of, by),
    ...(own.steps && { steps: remadeSteps(own.steps, by) }),
    ...(own.mask !== undefined && { mask: remadeUse(own.mask, by) }),
  };
}
