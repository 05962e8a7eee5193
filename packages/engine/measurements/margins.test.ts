import { describe, expect, it } from 'vitest';
import { marginsSpec, measurementKeyIn, withKey, specsFor, cheapestPlan } from '../measurement-plan';
import { MeasurementEstimator } from '../estimator';
import type { Recipe } from '@owl-loom/recipe/schema';
import { mono, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { MEASUREMENT_KINDS, type Measurement } from './index';

const [width, height] = [1400, 900];
const stacks = {
  A: mono(width, height, (x, y) => 0.1 + 0.01 * Math.sin(x / 9) * Math.cos(y / 7)),
  B: mono(width, height, (x, y) => (x < 3 ? Number.NaN : 0.2 + 0.02 * Math.sin(x / 9) * Math.cos(y / 7))),
};

/** One strand that is the frame, one with a narrow border of its own and brighter by a line, one moved by a few pixels. */
const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    { id: 'A', from: { stack: 'A' } },
    { id: 'B', from: { stack: 'B' }, steps: [{ do: 'scale', multiply: 2 }] },
    { id: 'C', from: { stack: 'A' }, steps: [{ do: 'place', dx: -5, dy: 2 }] },
  ],
  cloth: { layers: [{ id: 'all', of: { mix: { red: { A: 1 }, green: { B: 1 }, blue: { C: 1 } } } }] },
};

const { graph } = evaluateRecipe(recipe, stacks, 'cloth');
const TRUTH = [
  { left: 0, right: 0, bottom: 0, top: 0 },
  { left: 3, right: 0, bottom: 0, top: 0 },
  { left: 0, right: 5, bottom: 2, top: 0 },
];

describe('where the parts of a cloth end', () => {
  it('is wanted of each of them', () => {
    const specs = specsFor(graph, { figure: 'ends', path: 'cloth' });
    expect(specs).toEqual(graph.coverageParts.map(({ node }) => marginsSpec(node)));
    expect(specs).toHaveLength(3);
  });

  it('is told to the pixel at full size', () => {
    const measured = graph.coverageParts.map(({ path, node }) => {
      const { raster } = evaluateRecipe(recipe, stacks, path);
      return MEASUREMENT_KINDS.ends.measure({ spec: marginsSpec(node), images: [raster], on: [], level: 0 });
    });
    expect(measured).toEqual(TRUTH.map((ends) => ({ kind: 'ends', ends })));
  });

  it('follows through a line without pixels', () => {
    expect(graph.coverageParts.map(({ node }) => cheapestPlan(graph, marginsSpec(node)).by)).toEqual([
      'measuring',
      'carrying',
      'measuring',
    ]);
  });

  it('is as a level shows it where it is guessed: in steps of its pixels', async () => {
    const known = new Map<string, Measurement>();
    const guessed = new Set<string>();
    const guesser = new MeasurementEstimator(
      {
        graph,
        pixelsFor: (kind) => MEASUREMENT_KINDS[kind].estimatePixels ?? 0,
        exact: (key) => known.get(key),
        onExact: (key, figure) => void known.set(key, figure),
        placeholder: () => undefined,
        image: async (_, rect, level) => {
          expect(level).toBe(1);
          const plane = new Float32Array(rect.width * rect.height);
          // A border three pixels wide is one wide on this level: the next pixel has data on one side.
          plane.forEach((_, i) => {
            if (i % rect.width < 1) plane[i] = Number.NaN;
          });
          return { rect, planes: [plane] };
        },
      },
      new Map<string, Measurement>(),
    );
    const node = graph.coverageParts[2].node;
    const figure = await guesser.figure(withKey(graph, marginsSpec(node)), guessed);
    expect(figure).toEqual({ kind: 'ends', ends: { left: 2, right: 0, bottom: 0, top: 0 } });
    expect([...guessed]).toEqual([measurementKeyIn(graph, marginsSpec(node))]);
  });

  it('is nothing of an image without data', () => {
    const rect = { x: 0, y: 0, width: 8, height: 6 };
    const images = [{ rect, planes: [new Float32Array(48).fill(Number.NaN)] }];
    expect(MEASUREMENT_KINDS.ends.measure({ spec: marginsSpec(0), images, on: [], level: 0 })).toEqual({
      kind: 'ends',
      ends: null,
    });
  });
});
