import { chromaNoiseOf } from '@owl-loom/algorithms/colour/chroma-noise';
import { rectAtLevel } from '@owl-loom/image/pyramid/pyramid';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { defineMeasurement } from './kind';

/** How colourful the sky of a stretched colour image is by noise alone. */
export interface ChromaNoiseSpec {
  readonly kind: 'chroma-noise';
  readonly nodes: readonly [number];
  /** The true sky, where it is known; else it is taken from the pixels about the sky's level. */
  readonly region?: Rect;
}

export interface ChromaNoiseFigure {
  readonly kind: 'chroma-noise';
  /** σ of OKLab's a and b about grey. */
  readonly noise: number;
}

export const chromaNoise = defineMeasurement<ChromaNoiseSpec, ChromaNoiseFigure>({
  kind: 'chroma-noise',
  called: 'the colour noise of',
  version: 1,
  grid: 'frame',
  planes: 'together',
  measure: ({ spec, images: [image], level }) => {
    const noise = chromaNoiseOf(image, spec.region && rectAtLevel(spec.region, level));
    // Averaging has drawn white noise in.
    return { kind: 'chroma-noise', noise: noise * 2 ** level };
  },
});
