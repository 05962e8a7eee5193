import type { ContinuumMethod } from '@owl-loom/algorithms/continuum/result';
import type { Circle } from '@owl-loom/algorithms/inpaint/harmonic-fill';
import { findResidualStars } from '@owl-loom/algorithms/inpaint/residual-stars';
import { defineMeasurement } from './kind';
import type { ContinuumFigure } from './continuum';
import { unpackFields } from './stars';
import type { Background } from './background';

/** Where stars are left over when the second, broadband image is taken off the first, a line image. */
export interface RemainsSpec {
  readonly kind: 'remains';
  /**
   * Line and broadband image; then, where a step removed stars from one of them, the same two with stars: the light that is left is looked
   * for about those.
   */
  readonly nodes: readonly [number, number] | readonly [number, number, number, number];
  /** How much of it is taken off: given, or as it is measured. */
  readonly k: number | ContinuumMethod;
}

export interface RemainsFigure {
  readonly kind: 'remains';
  /** In full-size frame pixels, the brightest star first, after all others those at the border. */
  readonly circles: readonly Circle[];
}

export const residualStarsKind = defineMeasurement<RemainsSpec, RemainsFigure>({
  kind: 'remains',
  called: 'what is left of stars in',
  version: 4,
  grid: 'frame',
  planes: 'together',
  pixelInputs: () => [0, 1],
  dependsOn: ({ nodes, k }) => {
    const [line, broad] = nodes.length === 4 ? nodes.slice(2) : nodes;
    return [
      { kind: 'stars', nodes: [broad] },
      { kind: 'tone', nodes: [nodes[1]] },
      ...(typeof k === 'number' ? [] : [{ kind: 'continuum' as const, nodes: [line, broad] as const, method: k }]),
    ];
  },
  measure: ({ spec, images, on }) => {
    const [{ planes, rect }, broad] = images;
    const field = unpackFields(on[0])[0];
    const k = typeof spec.k === 'number' ? spec.k : (on[2] as ContinuumFigure).k;
    const input = {
      line: planes[0],
      broad: broad.planes[0],
      broadStars: field,
      broadSky: (on[1] as Background).planes[0].sky,
      width: rect.width,
      height: rect.height,
    };
    return { kind: 'remains', circles: findResidualStars(input, k) };
  },
  placeholder: () => ({ kind: 'remains', circles: [] }),
});
