import { describe, expect, it } from 'vitest';
import { buildGraph } from '@owl-loom/engine/build/graph-builder';
import type { StackInfo } from '@owl-loom/engine/graph';
import { parseRecipe } from '@owl-loom/recipe/parse';
import { type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { recipePresets } from './recipe-presets';
import type { StackRow } from '@owl-loom/api/stacks';
import { daylightFromCamera, twoLinesFromCamera, withCameraLines } from './camera-lines';

/** What a camera sees of hydrogen on the left, oxygen on the right, over a sky; the numbers are those that `unmix` takes by itself. */
const [width, height] = [60, 40];
const light = (x: number): [number, number] => [x < 20 ? 0.2 : 0, x >= 40 ? 0.15 : 0];
const HYDROGEN = [1, 0.1, 0.03];
const OXYGEN = [0.05, 1, 0.75];
const camera: TestStack = {
  width,
  height,
  planes: [0, 1, 2].map((p) =>
    Float32Array.from({ length: width * height }, (_, i) => {
      const [ha, oiii] = light(i % width);
      return 0.03 + HYDROGEN[p] * ha + OXYGEN[p] * oiii + 1e-4 * Math.sin(7.1 * i * (p + 1));
    }),
  ),
};
const infos = new Map<string, StackInfo>([['B_colour', { id: 'c', width, height, planes: 3, domain: 'linear' }]]);

describe('two lines from a colour camera', () => {
  it('are strands of their own names, and the camera’s colour and sum are at hand', () => {
    const recipe = parseRecipe(twoLinesFromCamera('B_colour'));
    expect(recipe.strands.map(({ id }) => id)).toEqual(['B_colour', 'Ha', 'OIII', 'camera', 'sum']);
    const graph = buildGraph(recipe, infos);
    expect(graph.faults).toEqual([]);
    expect(graph.warnings).toEqual([]);
    const at = (strand: number, x: number) =>
      evaluateRecipe(
        { ...recipe, strands: recipe.strands.map((one) => (one.id === 'OIII' ? { ...one, steps: [] } : one)) },
        {
          B_colour: camera,
        },
        `strands[${strand}]`,
      ).raster.planes[0][20 * width + x];
    expect(at(1, 10) - at(1, 30)).toBeCloseTo(0.2, 2);
    expect(at(1, 50) - at(1, 30)).toBeCloseTo(0, 2);
    expect(at(2, 50) - at(2, 30)).toBeCloseTo(0.15, 2);
    expect(at(2, 10) - at(2, 30)).toBeCloseTo(0, 2);
    expect(at(4, 10) - at(4, 30)).toBeCloseTo((0.2 * 1.13) / 3, 2);
  });

  it('are made of a step in a strand, under free names, what stood before it kept', () => {
    const recipe = {
      ...twoLinesFromCamera('B_colour'),
      strands: [
        { id: 'my camera', from: { stack: 'B_colour' }, steps: [{ do: 'gradient' }, { do: 'unmix' }] },
        { id: 'Ha', from: { stack: 'B_colour', plane: 'red' as const } },
      ],
    };
    const made = withCameraLines(recipe, 'strands[0].steps[1]');
    expect(made?.lines).toEqual(['Ha-2', 'OIII']);
    expect(made?.recipe.strands[2].from).toEqual({ formula: '"my camera".red' });
    expect(made?.recipe.strands[4]).toMatchObject({ id: 'camera', steps: [{ do: 'gradient' }] });
    expect(buildGraph(parseRecipe({ ...made?.recipe, cloth: undefined }), infos).faults).toEqual([]);
    expect(withCameraLines(recipe, 'cloth.layers[0].steps[0]')).toBeUndefined();
  });

  it('and daylight are ways to begin with a colour file, two lines first where its filter says so', () => {
    const row = (filter: string) => [{ name: 'B_colour', filter, planes: 3 } as StackRow];
    const names = (filter: string) => recipePresets(row(filter)).map(({ name }) => name);
    expect(names('colour').slice(0, 2)).toEqual(['RGB from B_colour', 'Ha and OIII from B_colour']);
    expect(names('dual band')[0]).toBe('Ha and OIII from B_colour');
    expect(buildGraph(parseRecipe(daylightFromCamera('B_colour')), infos).faults).toEqual([]);
  });
});
