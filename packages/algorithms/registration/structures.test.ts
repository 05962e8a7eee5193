import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { type Field, ring, seen, spiral, starPoor, turned } from '@owl-loom/testing/fields';
import { recipeOf, strand, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { type Affine, IDENTITY, invertAffine, mapPoint } from '@owl-loom/image/geometry/affine';
import { crossCorrelation, padded, transform } from './fft';
import { alignStructures } from './structures';

const [width, height] = [750, 500];
const bare = (field: Field): Field => ({ ...field, stars: [] });
const view = (field: Field, filter: string, seed: number, map?: Affine) => ({
  plane: seen(field, filter, { fwhm: seed % 2 ? 2.4 : 3.2, noise: 0.001, seed, map, glow: 0.02 }),
  width,
  height,
});
/** The greatest distance of a corner or the middle from where the truth has it. */
const missOf = (map: Affine, truth: Affine): number =>
  Math.max(
    ...[
      [0, 0],
      [width, 0],
      [0, height],
      [width, height],
      [width / 2, height / 2],
    ].map(([x, y]) => {
      const [p, q] = [mapPoint(map, x, y), mapPoint(truth, x, y)];
      return Math.hypot(p[0] - q[0], p[1] - q[1]);
    }),
  );

describe('alignment by structures', () => {
  const poor = starPoor(4, width, height);
  it.each([
    ['two lines of a nebula without stars', bare(poor), 'Ha', 'OIII', turned(width, height, 3.7, 1, 15, -9)],
    ['two lines with few stars, in place', poor, 'Ha', 'OIII', undefined],
    ['one line, of another size', bare(poor), 'Ha', 'Ha', turned(width, height, -2.2, 0.99, 30, 44)],
    ['a spiral in light and hydrogen', spiral(5, width, height), 'L', 'Ha', turned(width, height, 4.2, 0.985, 6, -5)],
  ] as const)('places %s to half a pixel', (_, field, first, second, map) => {
    const found = alignStructures(view(field, second, 2, map), view(field, first, 1), 'similarity');
    expect(missOf(found.map, map ? invertAffine(map) : IDENTITY)).toBeLessThan(0.5);
    expect(found.correlation).toBeGreaterThan(0.2);
    expect(found.certainty).toBeGreaterThan(0.18);
  });

  it.each([
    ['fields that have nothing in common', bare(poor), bare(ring(3, width, height))],
    ['two nebulae alike in kind', bare(poor), bare(starPoor(8, width, height))],
    ['a ring that looks the same at every turn', bare(ring(3, width, height)), bare(ring(3, width, height))],
    ['noise', { ...poor, stars: [], gas: () => 0 }, { ...poor, stars: [], gas: () => 0 }],
  ] as const)('refuses %s', (_, one, other) => {
    const [filter, second] = one === other || one.gas(' ', 0, 0) === 0 ? ['R', 'B'] : ['Ha', 'OIII'];
    expect(() => alignStructures(view(other, second, 2), view(one, filter, 1), 'similarity')).toThrow(
      /The structures of the two images do not match well enough/,
    );
  });

  it('refuses images of very unlike sizes in words', () => {
    const small = starPoor(4, 90, 60);
    const plane = seen(small, 'OIII', { fwhm: 3, noise: 0.001, seed: 2, glow: 0.02 });
    const large = { plane: new Float32Array(1300 * 1000).map((_, i) => Math.sin(i)), width: 1300, height: 1000 };
    for (const pair of [
      [{ plane, width: 90, height: 60 }, large],
      [large, { plane, width: 90, height: 60 }],
    ])
      expect(() => alignStructures(pair[0], pair[1], 'similarity')).toThrow(
        /The structures of the two images do not match well enough/,
      );
  });

  it('is a step: the image comes to lie where the other does', () => {
    const map = turned(width, height, 1.5, 1, 12, 7);
    const stacks = {
      Ha: { width, height, planes: [view(poor, 'Ha', 1).plane] },
      OIII: { width, height, planes: [view(poor, 'OIII', 2, map).plane] },
    };
    const steps = [{ do: 'align', to: 'Ha', by: 'structures' }];
    const { measured } = evaluateRecipe(recipeOf([strand('Ha'), strand('OIII', steps)]), stacks, 'strands[1]');
    const { matrix, by, certainty } = measured['strands[1].steps[0]'] as {
      matrix: number[][];
      by: string;
      certainty: number;
    };
    const [[xx, xy, tx], [yx, yy, ty]] = matrix;
    expect(by).toBe('structures');
    expect(certainty).toBeGreaterThan(0.18);
    expect(missOf({ xx, xy, tx, yx, yy, ty }, invertAffine(map))).toBeLessThan(0.5);
  });
});

describe('Fourier transforms', () => {
  it('give back what went in, times the number of points', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 5 }),
        fc.array(fc.double({ min: -9, max: 9, noNaN: true })),
        (power, list) => {
          const size = 2 ** power;
          const values = Float32Array.from({ length: size * size }, (_, i) => list[i] ?? Math.sin(i));
          const spectrum = padded({ width: size, height: size }, size, values);
          transform(spectrum, -1);
          transform(spectrum, 1);
          values.forEach((v, i) => expect(spectrum.re[i] / size ** 2).toBeCloseTo(v, 9));
        },
      ),
    ));

  it('give sums of products at all shifts, of two grids at once', () => {
    const size = 8;
    const grid = (seed: number) => Float32Array.from({ length: 64 }, (_, i) => Math.sin(seed * i + 1));
    const [a, c, b] = [grid(1.7), grid(0.9), grid(2.3)];
    const [both, other] = [padded({ width: 8, height: 8 }, size, a, c), padded({ width: 8, height: 8 }, size, b)];
    transform(both, -1);
    transform(other, -1);
    const [ab, cb] = crossCorrelation(both, other);
    for (const [of, sums] of [
      [a, ab],
      [c, cb],
    ] as const)
      for (let dy = 0; dy < size; dy++)
        for (let dx = 0; dx < size; dx++) {
          let sum = 0;
          for (let y = 0; y < size; y++)
            for (let x = 0; x < size; x++) sum += of[y * size + x] * b[((y + dy) % size) * size + ((x + dx) % size)];
          expect(sums[dy * size + dx]).toBeCloseTo(sum, 6);
        }
  });
});
