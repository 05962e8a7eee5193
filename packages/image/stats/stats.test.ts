import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addNoise, randomFrom, scene } from '@owl-loom/testing/random';
import { FINEST_SCALE_SIGMA, finestScale, planeNoise } from './noise';
import { median, quantiles } from './quantile';
import { saturationLevel } from './saturation';
import { skyLevel } from './sky';
import { summarise } from './summary';
import { measureBackground } from './background';

const normals = (n: number, mean: number, sigma: number, seed = 1) => {
  const random = randomFrom(seed);
  return Float32Array.from({ length: n }, () => mean + sigma * random.normal());
};

describe('quantiles', () => {
  const sorted = (values: Float32Array, q: number) => {
    const s = [...values].filter((v) => !Number.isNaN(v)).sort((a, b) => a - b);
    const rank = q * (s.length - 1);
    return s[Math.floor(rank)] + (s[Math.ceil(rank)] - s[Math.floor(rank)]) * (rank - Math.floor(rank));
  };

  it('are those of a sorted list, signs and gaps included', () => {
    fc.assert(
      fc.property(
        fc.array(fc.float({ noDefaultInfinity: true }), { minLength: 1, maxLength: 200 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (list, q) => {
          const values = Float32Array.from(list);
          fc.pre(values.some((v) => !Number.isNaN(v)));
          expect(quantiles(values, [q])[0]).toBeCloseTo(sorted(values, q), 5);
        },
      ),
    );
  });

  it.each([300, 30_000])('of %i values are the same by whatever way they are found', (n) => {
    const values = normals(n, 0.2, 0.3, n);
    for (const q of [0, 0.001, 0.37, 0.5, 1]) expect(quantiles(values, [q])[0]).toBeCloseTo(sorted(values, q), 6);
  });

  it('stay exact where a sample shows the way', () => {
    const values = normals(400_001, 0.3, 0.1, 9);
    values[17] = Number.NaN;
    for (const q of [0, 0.001, 0.37, 0.5, 0.999, 1])
      expect(quantiles(values, [q])[0]).toBeCloseTo(sorted(values, q), 8);
  });

  it('of many equal values are that value', () => {
    const values = new Float32Array(500_000).fill(0.25);
    values.fill(0.5, 0, 10);
    expect(median(values)).toBe(0.25);
  });

  it('of nothing are NaN', () => expect(median(new Float32Array([Number.NaN]))).toBeNaN());
});

describe('sky', () => {
  it('is found under stars and clouds', () => {
    const image = addNoise(scene(3, 300, 200, { clouds: 0.05 }), 0, 1, 0.002, 4);
    // Half of this scene is clear; the clouds draw the sky up by a fraction of the noise only.
    expect(Math.abs(skyLevel(image).sky - 0.02)).toBeLessThan(0.0015);
  });

  it('of plain noise is its mean, with its σ', () => {
    const { sky, sigma, used } = skyLevel(normals(200_000, 0.1, 0.01));
    expect(sky).toBeCloseTo(0.1, 3);
    expect(sigma / 0.01).toBeCloseTo(1, 1);
    expect(used).toBeGreaterThan(198_500);
  });

  it('moves with the image', () => {
    const image = addNoise(scene(5, 120, 90), 0, 1, 0.003, 6);
    fc.assert(
      fc.property(
        fc.double({ min: -1, max: 1, noNaN: true }),
        fc.double({ min: 0.1, max: 10, noNaN: true }),
        (a, b) => {
          expect(skyLevel(image.map((v) => a + b * v)).sky).toBeCloseTo(a + b * skyLevel(image).sky, 4);
        },
      ),
      { numRuns: 20 },
    );
  });

  it('of a flat image is that value, of an empty one NaN', () => {
    expect(skyLevel(new Float32Array(50).fill(0.4)).sky).toBeCloseTo(0.4, 6);
    expect(skyLevel(new Float32Array([Number.NaN])).sky).toBeNaN();
  });
});

describe('noise', () => {
  it('keeps of white noise what the kernel says', () => {
    const fine = finestScale(normals(300 * 300, 0, 1, 11), 300, 300).filter((v) => !Number.isNaN(v));
    const rms = Math.sqrt(fine.reduce((sum, v) => sum + v * v, 0) / fine.length);
    expect(rms).toBeCloseTo(FINEST_SCALE_SIGMA, 2);
  });

  it.each([0.0005, 0.002, 0.01])('of σ %f is found under stars, clouds, a gradient and gaps', (sigma) => {
    const image = addNoise(scene(7, 400, 300), 0, 1, sigma, 8);
    for (let y = 0; y < 300; y++)
      for (let x = 0; x < 400; x++) image[y * 400 + x] += 0.0001 * x + (y < 12 ? Number.NaN : 0);
    expect(planeNoise(image, 400, 300) / sigma).toBeGreaterThan(0.97);
    expect(planeNoise(image, 400, 300) / sigma).toBeLessThan(1.1);
  });

  it('of a large plane comes from strips and is as true', () => {
    const sigma = 0.003;
    expect(planeNoise(normals(2500 * 1700, 0.1, sigma, 13), 2500, 1700) / sigma).toBeCloseTo(1, 2);
  });
});

describe('summary and tone', () => {
  it('counts no data and finds the ends', () => {
    const values = Float32Array.from([Number.NaN, 1, 2, 3, 4, 10]);
    expect(summarise(values, 3, 2)).toMatchObject({ median: 3, mean: 4, min: 1, max: 10, noData: 1 / 6 });
  });

  it('takes sky and noise from the region where one is given', () => {
    const left = normals(100 * 100, 0.1, 0.001, 2);
    const values = Float32Array.from({ length: 200 * 100 }, (_, i) =>
      i % 200 < 100 ? left[(i % 200) + 100 * Math.floor(i / 200)] : 0.7,
    );
    const rect = { x: 0, y: 0, width: 200, height: 100 };
    const tone = measureBackground(values, rect, { x: 10, y: 10, width: 80, height: 80 });
    expect(tone.sky).toBeCloseTo(0.1, 4);
    expect(tone.noise / 0.001).toBeCloseTo(1, 1);
  });

  it('gives the spread of the signal without its noise', () => {
    const image = scene(21, 300, 300, { stars: 0, clouds: 0.05 });
    const rect = { x: 0, y: 0, width: 300, height: 300 };
    const quiet = measureBackground(image, rect).spread;
    const noisy = measureBackground(addNoise(image, 0, 1, 0.01, 22), rect).spread;
    expect(noisy / quiet).toBeGreaterThan(0.85);
    expect(noisy / quiet).toBeLessThan(1.15);
  });
});

describe('saturation', () => {
  it('is seen where pixels pile up, not at a lone peak', () => {
    const values = normals(10_000, 0.1, 0.01);
    values[5] = 0.9;
    expect(saturationLevel(values)).toBe(Number.POSITIVE_INFINITY);
    values.fill(1, 100, 130);
    expect(saturationLevel(values)).toBeCloseTo(0.995, 3);
  });
});
