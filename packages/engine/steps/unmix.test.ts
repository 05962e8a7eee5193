import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomFrom } from '@owl-loom/testing/random';
import { recipeOf, type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { invertResponse } from './unmix';

const [w, h] = [96, 80];
const SKIES = [0.011, 0.014, 0.012];
const FIRST = [1, 0.11, 0.03] as const;
const SECOND = [0.05, 0.86, 0.64] as const;

/** A field of two lines and of starlight, seen by three planes with noise. */
function camera(noise: number): { stack: TestStack; first: Float32Array; second: Float32Array } {
  const random = randomFrom(8);
  const lump = (x: number, y: number, cx: number, cy: number, r: number) =>
    Math.exp(-((x - cx) ** 2 + (y - cy) ** 2) / (2 * r * r));
  const first = Float32Array.from({ length: w * h }, (_, i) => 0.2 * lump(i % w, Math.floor(i / w), 30, 30, 5));
  const second = Float32Array.from({ length: w * h }, (_, i) => 0.1 * lump(i % w, Math.floor(i / w), 62, 50, 6));
  const planes = [0, 1, 2].map((p) =>
    first.map((f, i) => SKIES[p] + FIRST[p] * f + SECOND[p] * second[i] + noise * random.normal()),
  );
  return { stack: { width: w, height: h, planes }, first, second };
}

const parted = (stack: TestStack, step: object) =>
  evaluateRecipe(
    recipeOf([{ id: 'A', from: { stack: 'A' }, steps: [{ do: 'unmix', ...step }] }]),
    { A: stack },
    'strands[0]',
  ).raster.planes;

describe('parting two lines', () => {
  it('gives each line alone, over its own sky, and nothing is left', () => {
    const { stack, first, second } = camera(0.00005);
    const [a, b, rest] = parted(stack, { first: [...FIRST], second: [...SECOND] });
    a.forEach((v, i) => expect(Math.abs(v - SKIES[0] - first[i])).toBeLessThan(0.001));
    b.forEach((v, i) => expect(Math.abs(v - SKIES[1] - second[i])).toBeLessThan(0.001));
    rest.forEach((v) => expect(Math.abs(v - SKIES[2])).toBeLessThan(0.001));
  });

  it('with the common responses leaves a fifth of the other line at most', () => {
    const { stack, second } = camera(0.00005);
    const [a] = parted(stack, {});
    const at = second.indexOf(Math.max(...second));
    expect(Math.abs(a[at] - SKIES[0])).toBeLessThan(0.2 * second[at]);
  });

  it('finds a third light where its response is given', () => {
    const white = [0.5, 0.6, 0.55] as const;
    const { stack } = camera(0.00005);
    const star = stack.planes.map((plane, p) => plane.map((v, i) => (i === 40 * w + 80 ? v + 0.1 * white[p] : v)));
    const [a, b, c] = parted({ ...stack, planes: star }, { first: [...FIRST], second: [...SECOND], third: [...white] });
    expect(c[40 * w + 80] - SKIES[2]).toBeCloseTo(0.1, 2);
    expect(a[40 * w + 80] - SKIES[0]).toBeCloseTo(0, 2);
    expect(b[40 * w + 80] - SKIES[1]).toBeCloseTo(0, 2);
  });

  it('undoes any mixing of lights that can be told apart', () => {
    const share = fc.integer({ min: 0, max: 100 }).map((percent) => percent / 100);
    const triple = fc.tuple(share, share, share);
    fc.assert(
      fc.property(triple, triple, triple, triple, (first, second, third, light) => {
        const rows = invertResponse(first, second, third);
        fc.pre(rows !== undefined);
        const seen = [0, 1, 2].map((p) => light[0] * first[p] + light[1] * second[p] + light[2] * third[p]);
        rows?.forEach((row, k) =>
          expect(row[0] * seen[0] + row[1] * seen[1] + row[2] * seen[2]).toBeCloseTo(light[k], 6),
        );
      }),
    );
  });

  it('refuses lights that look alike, and mono images, in one sentence', () => {
    const { stack } = camera(0.001);
    expect(() => parted(stack, { first: [1, 0.5, 0.2], second: [2, 1, 0.4] })).toThrow('too similar to separate');
    expect(() => parted({ width: w, height: h, planes: [stack.planes[0]] }, {})).toThrow(/colour/);
  });
});
