import { describe, expect, it, vi } from 'vitest';
import * as families from '@owl-loom/algorithms/colour/hue-ops';
import { randomFrom } from '@owl-loom/testing/random';
import { graphOf, recipeOf, type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import type { Recipe, Step } from '@owl-loom/recipe/schema';
import { fuseColourOps } from './colour-fusion';

const [width, height] = [60, 40];

/** Colours all over the cube. */
function picture(): TestStack {
  const random = randomFrom(21);
  const planes = [0, 1, 2].map(() => Float32Array.from({ length: width * height }, () => random.next()));
  return { width, height, planes, domain: 'stretched' };
}

const stacks = { P: picture() };
const HUES: Step = { do: 'hue-bands', bands: [{ centre: 140, width: 80, soft: 40, turn: -50, chroma: 1.2 }] };
const PUSH: Step = { do: 'hue-bands', bands: [{ centre: 30, width: 80, soft: 40, shift: [0.1, 0, 0.02] }] };
const CHROMA: Step = { do: 'saturation', amount: 0.3, shadows: 0.2 };
const CAP: Step = { do: 'cap', colour: 'green' };

const woven = (steps: Step[], path = 'strands[0]') =>
  evaluateRecipe(recipeOf([{ id: 'P', from: { stack: 'P' }, steps }]), stacks, path).raster.planes;

/** How often colours are taken apart on the way to a picture. */
function timesWorked(steps: Step[], path?: string): number {
  const work = vi.spyOn(families, 'applyColourOps');
  try {
    woven(steps, path);
    return new Set(work.mock.calls.map(([, works]) => works)).size;
  } finally {
    work.mockRestore();
  }
}

describe('steps on colours', () => {
  it('are run as one where one follows the other, and alone where another step stands between', () => {
    expect(timesWorked([HUES, CHROMA, PUSH])).toBe(1);
    expect(timesWorked([HUES, CAP, CHROMA])).toBe(2);
  });

  it.each([[[HUES, CHROMA]], [[PUSH, HUES, CHROMA, PUSH]], [[CHROMA, CAP, HUES, CHROMA]]])(
    'give what they give one by one',
    (steps) => {
      let single = stacks.P;
      for (const step of steps) {
        const own = { P: single };
        const recipe = recipeOf([{ id: 'P', from: { stack: 'P' }, steps: [step] }]);
        single = { ...single, planes: evaluateRecipe(recipe, own, 'strands[0]').raster.planes };
      }
      woven(steps).forEach((plane, p) =>
        plane.forEach((v, i) => expect(Math.abs(v - single.planes[p][i])).toBeLessThan(4e-5)),
      );
    },
  );

  it('are not joined where what lies between is read by another', () => {
    const recipe: Recipe = recipeOf([{ id: 'P', from: { stack: 'P' }, steps: [HUES, CHROMA] }]);
    const { nodes } = graphOf(recipe, stacks);
    const own = nodes.filter(({ kernel }) => kernel).map(({ node }) => node);
    const joined = (isRead: (index: number) => boolean) =>
      fuseColourOps(nodes, own, isRead, () => []).map(({ index }) => index);
    expect(joined(() => false)).toEqual([own[1]]);
    expect(joined((index) => index === own[0])).toEqual(own);
  });
});
