import { expect, it } from 'vitest';
import type { Step } from '@owl-loom/recipe/schema';
import { graphOf, mono, recipeOf, strand } from '@owl-loom/testing/evaluate-recipe';
import { hasCacheableStep, cacheableNodes } from './cacheable-nodes';

const stacks = { A: mono(60, 40, (x) => x), B: mono(90, 40, (x) => x) };
const quiet: Step = { do: 'denoise' };

it('what is kept are images after steps that say so, on the way to what is asked for, and within the frame', () => {
  const recipe = recipeOf(
    [
      strand('A', [{ do: 'scale' }, quiet, { do: 'blur', radius: 2 }]),
      // Larger than the frame: a picture of the frame would not hold it.
      strand('B', [quiet]),
      {
        id: 'C',
        from: { strand: 'A' },
        steps: [
          { ...quiet, off: true },
          { do: 'blur', radius: 1 },
        ],
      },
    ],
    { layers: [{ of: { strand: 'C' }, steps: [{ do: 'stretch' }, quiet] }] },
  );
  const graph = graphOf(recipe, stacks);
  const at = (path: string) => graph.byPath.get(path) ?? -1;
  expect(cacheableNodes(graph, recipe)).toEqual([at('strands[0].steps[1]'), at('cloth.layers[0].steps[1]')]);
  // The last image of a layer is the cloth itself: it is not before itself.
  expect(cacheableNodes(graph, recipe, at('cloth'))).toEqual([at('strands[0].steps[1]')]);
  expect(cacheableNodes(graph, recipe, at('strands[0].steps[0]'))).toEqual([]);
  expect(hasCacheableStep(recipe)).toBe(true);
  expect(hasCacheableStep(recipeOf([strand('A', [{ ...quiet, off: true }, { do: 'scale' }])]))).toBe(false);
});

it('of a step taken in part, what is kept is what it comes to', () => {
  const recipe = recipeOf([
    strand('A', [
      { ...quiet, opacity: 0.5 },
      { do: 'blur', radius: 1 },
    ]),
  ]);
  const graph = graphOf(recipe, stacks);
  const [kept] = cacheableNodes(graph, recipe);
  expect(graph.nodes[kept].kind).toBe('part');
});
