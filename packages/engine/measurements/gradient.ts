import { type Gradient, type GradientParams, measureGradient } from '@owl-loom/algorithms/gradient/gradient';
import { toFullSize, toLevel } from '@owl-loom/image/geometry/level-position';
import { defineMeasurement } from './kind';

/** The smooth background of an image. */
export interface GradientSpec {
  readonly kind: 'gradient';
  readonly nodes: readonly [number];
  readonly params: GradientParams;
}

export type GradientFigure = { readonly kind: 'gradient' } & Gradient;

/** Boxes in a level's pixels. */
function atLevel(params: GradientParams, level: number): GradientParams {
  if (params.samples === 'auto' || level === 0) return params;
  const samples = params.samples.map((box) => ({
    x: toLevel(box.x, level),
    y: toLevel(box.y, level),
    size: Math.max(2, box.size / 2 ** level),
  }));
  return { ...params, samples };
}

/** A gradient measured on a level, in full-size pixels. */
function atFullSize({ boxes, planes }: Gradient, level: number): Gradient {
  const n = 2 ** level;
  return {
    boxes: boxes.map((box) => ({ x: toFullSize(box.x, level), y: toFullSize(box.y, level), size: box.size * n })),
    planes: planes.map((plane) => {
      const { cx, cy, unit } = plane.model;
      return {
        ...plane,
        model: { ...plane.model, cx: toFullSize(cx, level), cy: toFullSize(cy, level), unit: unit * n },
      };
    }),
  };
}

export const gradient = defineMeasurement<GradientSpec, GradientFigure>({
  kind: 'gradient',
  called: 'the gradient of',
  version: 8,
  grid: 'own',
  planes: 'together',
  measure: ({ spec, images: [image], level }) => ({
    kind: 'gradient',
    ...atFullSize(measureGradient(image, atLevel(spec.params, level)), level),
  }),
});
