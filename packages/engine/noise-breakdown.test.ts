import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { measureBackground } from '@owl-loom/image/stats/background';
import { randomFrom } from '@owl-loom/testing/random';
import { recipeOf, strand, type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { propagateNoise, totalNoise, combineContributions } from './noise-propagation';
import { noiseBreakdown, noiseWarning } from './noise-breakdown';
import { measurementKeyIn } from './measurement-plan';

const [width, height] = [300, 240];
const quiet = (seed: number, noise: number): TestStack => {
  const random = randomFrom(seed);
  return {
    width,
    height,
    planes: [Float32Array.from({ length: width * height }, () => 0.05 + noise * random.normal())],
  };
};
const stacks = { Ha: quiet(1, 0.001), OIII: quiet(2, 0.002), L: quiet(3, 0.0005) };

/** How strands hang on the stacks, whose tones are known. */
function hangs(strands: Parameters<typeof recipeOf>[0], path: string) {
  const { graph, figures } = evaluateRecipe(recipeOf(strands), stacks, path);
  for (const { stack, node } of graph.nodes) {
    if (!stack) continue;
    const planes = stacks[stack.name as keyof typeof stacks].planes.map((plane) =>
      measureBackground(plane, { x: 0, y: 0, width, height }),
    );
    figures.set(measurementKeyIn(graph, { kind: 'tone', nodes: [node] }), { kind: 'tone', planes });
  }
  const found = propagateNoise(graph, graph.byPath.get(path) ?? -1, figures);
  if (!found) throw new Error('not known');
  return found;
}

describe('the noise account', () => {
  it('shares add up to all of it, the greatest first', () => {
    const hang = fc
      .array(
        fc.tuple(fc.constantFrom('Ha 0', 'OIII 0', 'C 0', 'C 1', 'C 2'), fc.double({ min: -1, max: 1, noNaN: true })),
        { minLength: 1 },
      )
      .map((parts) => new Map(parts));
    fc.assert(
      fc.property(hang, (of) => {
        const shares = noiseBreakdown(of);
        if (totalNoise(of) < 1e-150) return;
        expect(shares.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 9);
        shares.slice(1).forEach(({ share }, i) => expect(share).toBeLessThanOrEqual(shares[i].share));
        expect(new Set(shares.map(({ stack }) => stack)).size).toBe(shares.length);
      }),
    );
  });

  it('traces a luminance that holds hydrogen back to hydrogen', () => {
    const strands = [strand('Ha'), strand('OIII'), strand('L'), { id: 'syn', from: { formula: 'L + 0.5 * Ha' } }];
    const [syn] = hangs(strands, 'strands[3]');
    const [ha] = hangs(strands, 'strands[0]');
    // 1 · syn + 0.5 · Ha holds hydrogen once over, not by two halves that do not know of each other.
    const sum = combineContributions([
      { weight: 1, hang: syn },
      { weight: 0.5, hang: ha },
    ]);
    const own = (0.001 * 1) ** 2;
    const shares = noiseBreakdown(sum);
    expect(shares[0].stack).toBe('Ha');
    expect(shares[0].share).toBeCloseTo(own / (own + 0.0005 ** 2), 1);
  });

  it.each([
    [[0.8, 0.2], 'four fifths of green’s noise come from A'],
    [[0.68, 0.32], 'two thirds of green’s noise come from A'],
    [[0.99, 0.01], 'nearly all of green’s noise comes from A'],
    [[0.5, 0.5], undefined],
    [[1], undefined],
    [[], undefined],
  ])('says %j as %s', (parts, words) => {
    const shares = parts.map((share, i) => ({ stack: 'ABC'[i], share }));
    expect(noiseWarning('green', shares)).toBe(words);
  });
});
