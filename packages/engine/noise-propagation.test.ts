import { describe, expect, it } from 'vitest';
import type { Step } from '@owl-loom/recipe/schema';
import { planeNoise } from '@owl-loom/image/stats/noise';
import { measureBackground } from '@owl-loom/image/stats/background';
import { randomFrom } from '@owl-loom/testing/random';
import { recipeOf, strand, type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { propagateNoise, totalNoise, combineContributions } from './noise-propagation';
import { measurementKeyIn } from './measurement-plan';

const [width, height] = [400, 300];
const rect = { x: 0, y: 0, width, height };
const sky = (seed: number, level: number, noise: number): Float32Array => {
  const random = randomFrom(seed);
  return Float32Array.from({ length: width * height }, () => level + noise * random.normal());
};
const stacks: Record<string, TestStack> = {
  Ha: { width, height, planes: [sky(1, 0.02, 0.0008)] },
  R: { width, height, planes: [sky(2, 0.05, 0.002)] },
  C: { width, height, planes: [sky(3, 0.03, 0.001), sky(4, 0.04, 0.002), sky(5, 0.05, 0.003)] },
};

/** The hangs of a path's planes, with the tones of the stacks known, and of other paths where they are named. */
function hangs(strands: Parameters<typeof recipeOf>[0], path: string, measured: readonly string[] = []) {
  const { graph, figures } = evaluateRecipe(recipeOf(strands), stacks, path);
  for (const node of graph.nodes) {
    if (!node.stack) continue;
    const planes = stacks[node.stack.name].planes.map((plane) => measureBackground(plane, rect));
    figures.set(measurementKeyIn(graph, { kind: 'tone', nodes: [node.node] }), { kind: 'tone', planes });
  }
  for (const other of measured) {
    const planes = evaluateRecipe(recipeOf(strands), stacks, other).raster.planes.map((plane) =>
      measureBackground(plane, rect),
    );
    figures.set(measurementKeyIn(graph, { kind: 'tone', nodes: [graph.byPath.get(other) ?? -1] }), {
      kind: 'tone',
      planes,
    });
  }
  const found = propagateNoise(graph, graph.byPath.get(path) ?? -1, figures);
  if (!found) throw new Error('not known');
  return found;
}

/** The noise that the pixels show. */
const shown = (strands: Parameters<typeof recipeOf>[0], path: string): number[] =>
  evaluateRecipe(recipeOf(strands), stacks, path).raster.planes.map((plane) => planeNoise(plane, width, height));

const CASES: Record<string, Step[]> = {
  continuum: [{ do: 'continuum', broad: 'R', method: 'manual', k: 0.3 }],
  'continuum mended': [{ do: 'continuum', broad: 'R', method: 'manual', k: 0.3, mend: true }],
  scale: [{ do: 'scale', multiply: 3, add: 0.1 }],
  'linear fit': [{ do: 'linear-fit', to: 'R', method: 'levels' }],
  gradient: [{ do: 'gradient', model: 'polynomial', degree: 1 }],
  'in part': [{ do: 'scale', multiply: 3, opacity: 0.5 }],
  stretch: [{ do: 'stretch', black: 0, strength: 30 }],
};

describe('noise through a strand', () => {
  it.each(Object.entries(CASES))('with %s is what its pixels show', (_, steps) => {
    const strands = [strand('Ha', steps), strand('R')];
    const [hang] = hangs(strands, 'strands[0]');
    expect(totalNoise(hang) / shown(strands, 'strands[0]')[0]).toBeCloseTo(1, 1);
  });

  it('follows formulas and mixes, colour ones too', () => {
    const strands = [
      strand('Ha'),
      strand('R'),
      strand('C'),
      { id: 'f', from: { formula: 'red = Ha + 2 * R\ngreen = sqrt(R)\nblue = C.blue - 0.5 * C.red' } },
      {
        id: 'm',
        from: {
          mix: { red: { Ha: 1, R: 1 }, green: { R: 1 }, blue: { C: 1 } },
          weights: 'share' as const,
          gain: { Ha: 2 },
        },
      },
    ];
    for (const path of ['strands[3]', 'strands[4]']) {
      const wanted = shown(strands, path);
      hangs(strands, path).forEach((hang, p) => expect(totalNoise(hang) / wanted[p]).toBeCloseTo(1, 1));
    }
    expect([...hangs(strands, 'strands[3]')[2].keys()].sort()).toEqual(['C 0', 'C 2']);
  });

  it('of a sum of related strands is right: what was taken off comes back', () => {
    const strands = [strand('Ha', [{ do: 'continuum', broad: 'R', method: 'manual', k: 0.4 }]), strand('R')];
    const [line] = hangs(strands, 'strands[0]');
    const [broad] = hangs(strands, 'strands[1]');
    const together = totalNoise(
      combineContributions([
        { weight: 1, hang: line },
        { weight: 0.4, hang: broad },
      ]),
    );
    expect(together / 0.0008).toBeCloseTo(1, 1);
    // As squares of strangers it would be far too much.
    expect(Math.hypot(totalNoise(line), 0.4 * totalNoise(broad)) / together).toBeGreaterThan(1.5);
  });

  it('takes in what smoothing did where it has been measured, and needs the tones of the stacks', () => {
    const strands = [strand('Ha', [{ do: 'blur', radius: 2 }]), strand('R')];
    const wanted = shown(strands, 'strands[0]')[0];
    expect(totalNoise(hangs(strands, 'strands[0]')[0]) / 0.0008).toBeCloseTo(1, 1);
    expect(totalNoise(hangs(strands, 'strands[0]', ['strands[0]'])[0]) / wanted).toBeCloseTo(1, 5);
    const { graph, figures } = evaluateRecipe(recipeOf(strands), stacks, 'strands[0]');
    expect(propagateNoise(graph, graph.byPath.get('strands[0]') ?? -1, figures)).toBeUndefined();
  });

  it('hangs on its input even where a level means nothing', () => {
    const [hang] = hangs([strand('Ha', [{ do: 'structures', from: 2, to: 4 }])], 'strands[0]');
    expect([...hang.keys()]).toEqual(['Ha 0']);
  });
});
