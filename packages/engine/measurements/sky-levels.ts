import { skyLevelsOf } from '@owl-loom/image/stats/sky-levels';
import { defineMeasurement } from './kind';

/** Sky level of each plane of a colour image, from the same pixels in all. */
export interface SkyLevelsSpec {
  readonly kind: 'sky-levels';
  readonly nodes: readonly [number];
}

export interface SkyLevelsFigure {
  readonly kind: 'sky-levels';
  readonly skies: readonly number[];
}

export const skyLevels = defineMeasurement<SkyLevelsSpec, SkyLevelsFigure>({
  kind: 'sky-levels',
  called: 'the sky levels of',
  version: 1,
  grid: 'frame',
  planes: 'together',
  measure: ({ images: [{ planes, rect }] }) => ({
    kind: 'sky-levels',
    skies: skyLevelsOf(planes, rect.width, rect.height),
  }),
  propagateLinear: ({ skies }, { a, b }) => ({
    kind: 'sky-levels',
    skies: skies.map((sky, p) => a[p % a.length] + b[p % b.length] * sky),
  }),
});
