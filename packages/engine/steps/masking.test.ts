import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { growMargin, morphDisc } from '@owl-loom/algorithms/mask/morphology';
import type { Step } from '@owl-loom/recipe/schema';
import { randomFrom } from '@owl-loom/testing/random';
import { graphOf, mono, recipeOf, strand, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';

const [width, height] = [40, 30];
const made = (plane: Float32Array, step: Step): Float32Array =>
  evaluateRecipe(recipeOf([strand('A', [step])]), { A: { width, height, planes: [plane] } }, 'strands[0]').raster
    .planes[0];
const noise = (seed: number, absent = 0.05): Float32Array => {
  const random = randomFrom(seed);
  return Float32Array.from({ length: width * height }, () => (random.next() < absent ? Number.NaN : random.next()));
};

describe('grow', () => {
  /** The greatest, or the least, by looking at every pixel of the disc. */
  const plain = (plane: Float32Array, radius: number): Float32Array =>
    plane.map((own, i) => {
      const [x0, y0] = [i % width, Math.floor(i / width)];
      const seen = [...plane.keys()]
        .filter((k) => ((k % width) - x0) ** 2 + (Math.floor(k / width) - y0) ** 2 <= radius * radius)
        .map((k) => plane[k])
        .filter((v) => v === v);
      return own !== own ? own : radius < 0 ? Math.min(...seen) : Math.max(...seen);
    });

  it.each([0.4, 1, 1.5, 2, 4.2, -1, -3.5])('takes what lies within a disc of %f, whatever is missing', (radius) => {
    const plane = noise(3);
    expect(made(plane, { do: 'grow', radius })).toEqual(plain(plane, radius));
  });

  it('grown and shrunk again holds all that was there; the other way round no more than was there', () => {
    fc.assert(
      fc.property(fc.nat(99), fc.double({ min: 0, max: 5, noNaN: true }), (seed, radius) => {
        const plane = noise(seed, 0);
        const rect = { x: 0, y: 0, width, height };
        const closed = morphDisc(morphDisc(plane, rect, radius, rect), rect, -radius, rect);
        const open = morphDisc(morphDisc(plane, rect, -radius, rect), rect, radius, rect);
        plane.forEach((v, i) => {
          expect(closed[i]).toBeGreaterThanOrEqual(v);
          expect(open[i]).toBeLessThanOrEqual(v);
        });
      }),
      { numRuns: 30 },
    );
  });

  it('of less than a pixel changes nothing, as on a level that cannot show it', () => {
    const plane = noise(5, 0);
    const rect = { x: 0, y: 0, width, height };
    expect(growMargin(0.7)).toBe(0);
    expect(morphDisc(plane, rect, 0.7, rect)).toEqual(plane);
  });
});

describe('range', () => {
  const ramp = mono(101, 1, (x) => x / 100);
  const kept = (low: number, high: number, feather: number) =>
    evaluateRecipe(recipeOf([strand('A', [{ do: 'range', low, high, feather }])]), { A: ramp }, 'strands[0]').raster
      .planes[0];

  it('is 1 between and falls by a smoothstep over the feather', () => {
    const values = kept(0.4, 0.6, 0.2);
    values.forEach((v, i) => {
      const x = Math.fround(i / 100);
      const t = Math.max(0, 1 - Math.max(0, 0.4 - x, x - 0.6) / 0.2);
      expect(v).toBeCloseTo(3 * t * t - 2 * t ** 3, 6);
    });
  });

  it('without a feather is all or nothing, ends counted in', () => {
    expect([...kept(0.5, 0.75, 0)].map((v, i) => v === (i >= 50 && i <= 75 ? 1 : 0)).every(Boolean)).toBe(true);
  });

  it('whose low lies above its high is refused with the place', () => {
    const graph = graphOf(recipeOf([strand('A', [{ do: 'range', low: 0.6, high: 0.2 }])]), { A: ramp });
    expect(graph.faults[0].path).toBe('strands[0].steps[0].low');
  });
});

it('invert twice is what it was; floor lets nothing be darker and leaves the rest', () => {
  const plane = noise(9);
  made(made(plane, { do: 'invert' }), { do: 'invert' }).forEach((v, i) => {
    if (Number.isNaN(plane[i])) expect(v).toBeNaN();
    else expect(v).toBeCloseTo(plane[i], 6);
  });
  made(plane, { do: 'floor', level: 0.4 }).forEach((v, i) => {
    if (Number.isNaN(plane[i])) expect(v).toBeNaN();
    else expect(v).toBe(Math.max(Math.fround(0.4), plane[i]));
  });
});
