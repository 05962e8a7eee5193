import { describe, expect, it } from 'vitest';
import { randomFrom } from '@owl-loom/testing/random';
import { recipeOf, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { fractionBelowSky } from './below-sky';
import { measureContinuum } from './continuum';
import { detectStarField } from '../stars/field';
import { withStars } from '@owl-loom/testing/stars';
import { measureSeeing } from './seeing';

const [width, height] = [520, 400];

interface Field {
  readonly k: number;
  /** FWHM of line and broad. */
  readonly fwhm?: readonly [number, number];
  /** Brightness of the gas in the line image. */
  readonly gas?: number;
  /** Scatter of the stars' colours. */
  readonly colours?: number;
  readonly seed?: number;
  readonly stars?: number;
}

/** A line and a broadband image of one field: Moffat stars with a share k of their light in the line, gas in the line alone. */
function field({ k, fwhm = [3, 3], gas = 0, colours = 0.03, seed = 5, stars = 260 }: Field) {
  const random = randomFrom(seed);
  const line = Float32Array.from({ length: width * height }, () => 0.02 + 0.0004 * random.normal());
  const broad = Float32Array.from(
    { length: width * height },
    (_, i) => 0.05 + 0.00001 * (i % width) + 0.0006 * random.normal(),
  );
  if (gas > 0) {
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        line[y * width + x] += gas * Math.max(0, Math.sin(x / 37 + Math.sin(y / 23)) * Math.cos(y / 51)) ** 2;
  }
  const put = (plane: Float32Array, x0: number, y0: number, flux: number, w: number) => {
    const alpha2 = (w / 2) ** 2 / (2 ** (1 / 3.5) - 1);
    const peak = (2.5 / (Math.PI * alpha2)) * flux;
    for (let y = Math.max(0, Math.ceil(y0 - 22)); y <= Math.min(height - 1, y0 + 22); y++) {
      for (let x = Math.max(0, Math.ceil(x0 - 22)); x <= Math.min(width - 1, x0 + 22); x++)
        plane[y * width + x] += peak * (1 + ((x - x0) ** 2 + (y - y0) ** 2) / alpha2) ** -3.5;
    }
  };
  for (let s = 0; s < stars; s++) {
    const [x, y] = [width * random.next(), height * random.next()];
    const flux = Math.min(6, 0.06 * (1 - random.next()) ** -0.9);
    put(broad, x, y, flux, fwhm[1]);
    put(line, x, y, k * Math.exp(colours * random.normal()) * flux, fwhm[0]);
  }
  return { line, broad, width, height };
}

describe('k by stars', () => {
  it.each([
    ['alike seeing', { k: 0.2 }],
    ['unlike seeing', { k: 0.35, fwhm: [2.6, 3.6] as const }],
    ['gas under the stars', { k: 0.2, gas: 0.004 }],
    ['a little of the light', { k: 0.06 }],
  ])('is true to one in a hundred with %s, and its error is honest', (_, of) => {
    const found = measureContinuum(withStars(field(of)), 'stars');
    expect(Math.abs(found.k / of.k - 1)).toBeLessThan(0.011);
    expect(found.stars).toBeGreaterThan(40);
    expect(found.kError / of.k).toBeLessThan(0.02);
  });

  it('has errors that hold the truth: inside 4 of them every time, inside 1 for a good part', () => {
    const off = Array.from({ length: 12 }, (_, seed) => {
      const { k, kError } = measureContinuum(withStars(field({ k: 0.2, seed: 100 + seed, gas: 0.004 })), 'stars');
      return Math.abs(k - 0.2) / kError;
    });
    expect(Math.max(...off)).toBeLessThan(4);
    expect(off.filter((v) => v < 1).length).toBeGreaterThan(4);
  }, 60_000);

  it('commutes with scaling: a line image twice as bright has twice the k', () => {
    const one = field({ k: 0.2 });
    const plain = measureContinuum(withStars(one), 'stars');
    const bright = measureContinuum(withStars({ ...one, line: one.line.map((v) => 2 * v) }), 'stars');
    expect(bright.k / plain.k).toBeCloseTo(2, 4);
    expect(bright.kError / plain.kError).toBeCloseTo(2, 3);
  });

  it('tells over-subtraction by the pixels that go below the sky', () => {
    const of = { k: 0.2 };
    const found = measureContinuum(withStars(field(of)), 'stars');
    expect(found.belowSky).toBeLessThan(0.01);
    expect(fractionBelowSky(withStars(field(of)), 2 * of.k)).toBeGreaterThan(3 * found.belowSky);
    // What is told for other k without the whole image is near what the whole image says.
    for (const [k, share] of found.shares.filter((_, i) => i % 4 === 0))
      expect(Math.abs(share - fractionBelowSky(withStars(field(of)), k))).toBeLessThan(0.004);
    expect(found.shares.at(-1)?.[0]).toBeCloseTo(2 * found.k, 9);
  });

  it('shows a few bright stars, where they stand', () => {
    const made = field({ k: 0.2 });
    const { spots } = measureContinuum(withStars(made), 'stars');
    expect(spots).toHaveLength(6);
    for (const [x, y] of spots) expect(made.broad[y * width + x]).toBeGreaterThan(0.12);
  });

  it('needs stars, and says so', () => {
    expect(() => measureContinuum(withStars(field({ k: 0.2, stars: 4 })), 'stars')).toThrow(
      /No usable stars in both images/,
    );
    expect(() => measureContinuum(withStars(field({ k: 0.2, stars: 0 })), 'stars')).toThrow(
      /No usable stars in both images/,
    );
  });

  it('of an image and itself is refused', () => {
    const { line, ...rest } = field({ k: 0.2 });
    expect(() => measureContinuum(withStars({ ...rest, line, broad: line.slice() }), 'stars')).toThrow(
      /Line and broadband are the same image/,
    );
  });
});

describe('k by skewness', () => {
  it.each([
    ['starlight alone', { k: 0.2 }],
    ['some gas', { k: 0.3, gas: 0.003 }],
    ['unlike seeing', { k: 0.25, fwhm: [2.8, 3.4] as const }],
  ])('is true to three in a hundred with %s', (_, of) => {
    const found = measureContinuum(withStars(field(of)), 'skewness');
    expect(Math.abs(found.k / of.k - 1)).toBeLessThan(0.03);
    expect(Math.abs(found.k - of.k)).toBeLessThan(4 * found.kError);
    expect(found.starlit).toBe(true);
  });

  it('has an error that holds what gas under the starlight does to k', () => {
    const misses: number[] = [];
    for (const seed of [5, 6, 7]) {
      const of = field({ k: 0.2, seed, gas: 0.004 });
      // Gas that shines where the stars are, as about a cluster.
      const line = of.line.map(
        (v, i) => v + 0.12 * Math.max(0, of.broad[i] - 0.06) * Math.max(0, Math.sin((i % width) / 57)),
      );
      const { k, kError } = measureContinuum(withStars({ ...of, line }), 'skewness');
      misses.push(Math.abs(k - 0.2));
      expect(Math.abs(k - 0.2)).toBeLessThan(2 * kError);
    }
    expect(Math.max(...misses)).toBeGreaterThan(0.01);
  });

  it('says where gas outshines the stars', () => {
    expect(measureContinuum(withStars(field({ k: 0.02, gas: 0.08 })), 'skewness').starlit).toBe(false);
  });
});

describe('the continuum step', () => {
  const of = withStars(field({ k: 0.2, fwhm: [2.7, 3.5], gas: 0.01 }));
  const stacks = { N: { width, height, planes: [of.line] }, C: { width, height, planes: [of.broad] } };
  const run = (step: object) =>
    evaluateRecipe(
      recipeOf([
        { id: 'N', from: { stack: 'N' }, steps: [{ do: 'continuum', broad: 'C', ...step }] },
        { id: 'C', from: { stack: 'C' } },
      ]),
      stacks,
      'strands[0]',
    );

  it('is N − k·(C − sky)', () => {
    const { raster, measured } = run({ k: 0.25 });
    const { sky } = measured['strands[0].steps[0]'] as { sky: number };
    expect(Math.abs(sky - 0.0526)).toBeLessThan(0.001);
    raster.planes[0].forEach((v, i) => expect(v).toBeCloseTo(of.line[i] - 0.25 * (of.broad[i] - sky), 6));
  });

  it('measures k by itself, and takes the stars away', () => {
    const { raster, measured } = run({});
    expect((measured['strands[0].steps[0]'] as { k: number }).k / 0.2).toBeCloseTo(1, 1);
    const left = (plane: Float32Array) => plane.filter((v) => v > 0.08).length;
    expect(left(raster.planes[0])).toBeLessThan(0.7 * left(of.line));
  });

  it('with the seeing matched leaves less of the stars', () => {
    const rough = (plane: Float32Array) => plane.filter((v) => Math.abs(v - 0.025) > 0.03).length;
    expect(rough(run({ matchSeeing: true }).raster.planes[0])).toBeLessThan(0.6 * rough(run({}).raster.planes[0]));
  });

  it('refuses a broadband strand that is the line itself', () => {
    expect(() =>
      evaluateRecipe(
        recipeOf([
          { id: 'N', from: { stack: 'N' } },
          { id: 'E', from: { strand: 'N' }, steps: [{ do: 'continuum', broad: 'N' }] },
        ]),
        stacks,
        'strands[1]',
      ),
    ).toThrow(/Line and broadband are the same image/);
    expect(() => run({ method: 'manual' })).toThrow(/The method “manual” needs k/);
  });

  it('match-seeing brings the sharper image to the other width and leaves the wider alone', () => {
    const both = recipeOf([
      { id: 'N', from: { stack: 'N' }, steps: [{ do: 'match-seeing', to: 'C0' }] },
      { id: 'C0', from: { stack: 'C' } },
      { id: 'C', from: { stack: 'C' }, steps: [{ do: 'match-seeing', to: 'N0' }] },
      { id: 'N0', from: { stack: 'N' } },
    ]);
    const soft = evaluateRecipe(both, stacks, 'strands[0]').raster.planes[0];
    expect(
      measureSeeing(detectStarField(soft, width, height)).fwhm /
        measureSeeing(detectStarField(of.broad, width, height)).fwhm,
    ).toBeCloseTo(1, 1);
    expect(evaluateRecipe(both, stacks, 'strands[2]').raster.planes[0]).toEqual(of.broad);
  });
});
