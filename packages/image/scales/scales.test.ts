import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cropPlane } from '../raster/raster';
import type { Rect } from '../geometry/rect';
import { planeNoise } from '../stats/noise';
import { addNoise, randomFrom, scene } from '@owl-loom/testing/random';
import { mono, recipeOf, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { gaussian, gaussianMargin } from './gaussian';
import { noiseInScale, starlet, starletMargin } from './starlet';

const rect = (width: number, height: number): Rect => ({ x: 0, y: 0, width, height });
const [w, h] = [120, 90];
const random = randomFrom(12);
const rough = Float32Array.from({ length: w * h }, () => random.next());

/** Direct convolution, weights of what is there brought back to 1: slow and plain. */
function direct(plane: Float32Array, sigma: number): Float32Array {
  const reach = Math.ceil(4 * sigma);
  return plane.map((own, i) => {
    if (own !== own) return Number.NaN;
    const [x, y] = [i % w, Math.floor(i / w)];
    let [sum, weight] = [0, 0];
    for (let v = Math.max(0, y - reach); v <= Math.min(h - 1, y + reach); v++) {
      for (let u = Math.max(0, x - reach); u <= Math.min(w - 1, x + reach); u++) {
        const value = plane[v * w + u];
        if (value !== value) continue;
        const g = Math.exp(-((u - x) ** 2 + (v - y) ** 2) / (2 * sigma ** 2));
        sum += g * value;
        weight += g;
      }
    }
    return sum / weight;
  });
}

const worst = (a: Float32Array, b: Float32Array) =>
  a.reduce(
    (m, v, i) =>
      v === v && b[i] === b[i]
        ? Math.max(m, Math.abs(v - b[i]))
        : v === b[i] || (v !== v && b[i] !== b[i])
          ? m
          : Number.POSITIVE_INFINITY,
    0,
  );

describe('a Gaussian', () => {
  it.each([0.7, 2, 5])('of σ %f is the direct sum, holes and borders included', (sigma) => {
    const holed = rough.map((v, i) => (i % 37 === 5 ? Number.NaN : v));
    expect(worst(gaussian(holed, rect(w, h), sigma, rect(w, h)), direct(holed, sigma))).toBeLessThan(3e-4);
  });

  it.each([9, 17])('of σ %f on its coarse grid is the same to a hundredth of the brightest', (sigma) => {
    const image = scene(4, w, h, { clouds: 0.5, stars: 20 });
    expect(worst(gaussian(image, rect(w, h), sigma, rect(w, h)), direct(image, sigma))).toBeLessThan(0.012);
  });

  it.each([8.5, 12, 15.9, 16.1, 24, 40])(
    'of σ %f spreads a point to the true bell, wherever the point lies',
    (sigma) => {
      const side = Math.ceil(16 * sigma);
      const square = { x: 0, y: 0, width: side, height: side };
      for (const offset of [0, 1, 3, 6, 11]) {
        const plane = new Float32Array(side * side);
        const at = (side >> 1) + offset;
        plane[at * side + at] = 2 * Math.PI * sigma ** 2;
        const found = gaussian(plane, square, sigma, square);
        let worstOff = 0;
        for (let y = 0; y < side; y += 3) {
          for (let x = 0; x < side; x += 3) {
            const bell = Math.exp(-((x - at) ** 2 + (y - at) ** 2) / (2 * sigma ** 2));
            worstOff = Math.max(worstOff, Math.abs(found[y * side + x] - bell));
          }
        }
        expect(worstOff).toBeLessThan(1e-3);
      }
    },
  );

  it('does not care how the picture is cut into windows', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(1.3, 6, 11),
        fc.integer({ min: 0, max: 60 }),
        fc.integer({ min: 0, max: 40 }),
        (sigma, x, y) => {
          const window = { x, y, width: 40, height: 30 };
          const m = gaussianMargin(sigma);
          const x0 = Math.max(0, x - m);
          const y0 = Math.max(0, y - m);
          const part = { x: x0, y: y0, width: Math.min(w, x + 40 + m) - x0, height: Math.min(h, y + 30 + m) - y0 };
          const whole = cropPlane(gaussian(rough, rect(w, h), sigma, rect(w, h)), rect(w, h), window);
          expect(worst(gaussian(cropPlane(rough, rect(w, h), part), part, sigma, window), whole)).toBeLessThan(2e-6);
        },
      ),
      { numRuns: 25 },
    );
  });

  it('keeps a flat plane flat, and widens a star by its own σ', () => {
    const flat = gaussian(new Float32Array(w * h).fill(0.4), rect(w, h), 12, rect(w, h));
    for (const v of flat) expect(v).toBeCloseTo(0.4, 5);
    const star = mono(w, h, (x, y) => Math.exp(-((x - 60) ** 2 + (y - 45) ** 2) / (2 * 3 ** 2))).planes[0];
    const wide = gaussian(star, rect(w, h), 4, rect(w, h));
    expect(wide[45 * w + 60]).toBeCloseTo(9 / 25, 3);
    expect(wide[45 * w + 65] / wide[45 * w + 60]).toBeCloseTo(Math.exp(-25 / 50), 3);
  });
});

describe('the starlet', () => {
  it.each([1, 4, 6])('adds up to the picture again, holes where they were (%i scales)', (scales) => {
    const holed = rough.map((v, i) => (i % 41 === 7 ? Number.NaN : v));
    const parts = starlet(holed, rect(w, h), scales, rect(w, h));
    expect(parts.length).toBe(scales + 1);
    holed.forEach((v, i) => {
      const sum = parts.reduce((s, part) => s + part[i], 0);
      if (v === v) expect(sum).toBeCloseTo(v, 5);
      else expect(sum).toBeNaN();
    });
  });

  it.each([3, 6])('has no data in a window where the plane has ended (%i scales)', (scales) => {
    const window = { x: -5, y: 3, width: w + 9, height: 7 };
    for (const part of starlet(rough, rect(w, h), scales, window))
      part.forEach((v, i) => {
        const x = (i % window.width) + window.x;
        expect(Number.isNaN(v)).toBe(x < 0 || x >= w);
      });
  });

  it('has scales that are the à trous sums of the spline', () => {
    const point = mono(w, h, (x, y) => (x === 60 && y === 45 ? 1 : 0)).planes[0];
    const [first, second] = starlet(point, rect(w, h), 2, rect(w, h));
    expect(first[45 * w + 60]).toBeCloseTo(1 - (6 / 16) ** 2, 6);
    expect(first[45 * w + 62]).toBeCloseTo(-(6 / 16) * (1 / 16), 6);
    // Second smoothing, spacing 2, of the first: middle of the line is (6·6 + 2·4·1) / 256.
    expect(second[45 * w + 60]).toBeCloseTo((6 / 16) ** 2 - (44 / 256) ** 2, 6);
  });

  it('on cells agrees with the plain transform', () => {
    const image = scene(9, w, h, { clouds: 0.6, stars: 25 });
    const B = [1, 4, 6, 4, 1].map((v) => v / 16);
    let plain: Float32Array = image;
    for (let j = 1; j <= 5; j++) {
      const before = plain;
      const step = 2 ** (j - 1);
      const line = (source: Float32Array, dx: number, dy: number) =>
        source.map((_, i) => {
          let [sum, weight] = [0, 0];
          for (let k = -2; k <= 2; k++) {
            const [x, y] = [(i % w) + k * step * dx, Math.floor(i / w) + k * step * dy];
            if (x < 0 || y < 0 || x >= w || y >= h) continue;
            sum += B[k + 2] * source[y * w + x];
            weight += B[k + 2];
          }
          return sum / weight;
        });
      plain = line(line(before, 1, 0), 0, 1);
    }
    const parts = starlet(image, rect(w, h), 5, rect(w, h));
    const inner = { x: 24, y: 24, width: w - 48, height: h - 48 };
    expect(worst(cropPlane(parts[5], rect(w, h), inner), cropPlane(plain, rect(w, h), inner))).toBeLessThan(0.004);
  });

  it('does not care how the picture is cut into windows', () => {
    const scales = 5;
    const m = starletMargin(scales);
    const window = { x: 50, y: 40, width: 30, height: 20 };
    const part = {
      x: Math.max(0, 50 - m),
      y: Math.max(0, 40 - m),
      width: Math.min(w, 80 + m) - Math.max(0, 50 - m),
      height: Math.min(h, 60 + m) - Math.max(0, 40 - m),
    };
    const whole = starlet(rough, rect(w, h), scales, rect(w, h));
    starlet(cropPlane(rough, rect(w, h), part), part, scales, window).forEach((scale, j) =>
      expect(worst(scale, cropPlane(whole[j], rect(w, h), window))).toBeLessThan(2e-6),
    );
  });

  it('keeps of white noise what its norms say', () => {
    const [W, H] = [500, 400];
    const noise = randomFrom(2);
    const plane = Float32Array.from({ length: W * H }, () => noise.normal());
    starlet(plane, rect(W, H), 4, rect(W, H))
      .slice(0, 4)
      .forEach((scale, j) => {
        const sigma = Math.sqrt(scale.reduce((s, v) => s + v * v, 0) / scale.length);
        expect(sigma / noiseInScale(j + 1)).toBeGreaterThan(0.94);
        expect(sigma / noiseInScale(j + 1)).toBeLessThan(1.06);
      });
  });
});

describe('steps that look around', () => {
  const image = addNoise(scene(21, w, h, { clouds: 0.2 }), 0, 1, 0.002, 5);
  const done = (steps: { do: string; [key: string]: unknown }[], planes: readonly Float32Array[] = [image]) =>
    evaluateRecipe(
      recipeOf([{ id: 'A', from: { stack: 'A' }, steps }]),
      { A: { width: w, height: h, planes } },
      'strands[0]',
    ).raster.planes;

  it('split into fine and coarse come together by linear light', () => {
    const [fine] = done([{ do: 'split', radius: 6, keep: 'fine' }]);
    const [coarse] = done([{ do: 'split', radius: 6, keep: 'coarse' }]);
    image.forEach((v, i) => expect(coarse[i] + 2 * fine[i] - 1).toBeCloseTo(v, 5));
  });

  it('structures of all sizes and the rest are the image', () => {
    const [small] = done([{ do: 'structures', from: 2, to: 8 }]);
    const [large] = done([{ do: 'structures', from: 16, to: 32, residual: true }]);
    image.forEach((v, i) => expect(small[i] + large[i]).toBeCloseTo(v, 5));
  });

  it('blur of no radius is nothing', () => expect(worst(done([{ do: 'blur', radius: 0 }])[0], image)).toBe(0));

  it('denoise quiets the sky, keeps the level and leaves stars their height', () => {
    const [W, H] = [260, 200];
    const clean = scene(21, W, H, { clouds: 0.02, stars: 12 });
    const noisy = addNoise(clean, 0, 1, 0.002, 5);
    const [quiet] = evaluateRecipe(
      recipeOf([{ id: 'A', from: { stack: 'A' }, steps: [{ do: 'denoise' }] }]),
      { A: { width: W, height: H, planes: [noisy] } },
      'strands[0]',
    ).raster.planes;
    const error = (plane: Float32Array) =>
      Math.sqrt(plane.reduce((s, v, i) => s + (v - clean[i]) ** 2, 0) / plane.length);
    expect(error(quiet)).toBeLessThan(0.6 * error(noisy));
    expect(planeNoise(quiet, W, H)).toBeLessThan(0.25 * planeNoise(noisy, W, H));
    expect(Math.abs(quiet.reduce((s, v, i) => s + v - noisy[i], 0) / quiet.length)).toBeLessThan(2e-4);
    const top = clean.indexOf(Math.max(...clean));
    expect(quiet[top] / clean[top]).toBeGreaterThan(0.93);
  });

  it('denoise of colour treats chroma apart: with none of it, only the brightness is quieted', () => {
    const planes = [1, 0.6, 0.3].map((gain, p) => addNoise(scene(21, w, h, { clouds: 0.2 }), 0, gain, 0.002, 30 + p));
    const kept = done([{ do: 'denoise', chroma: 0 }], planes);
    kept.forEach((plane, p) => {
      const lum = planes.map((_, q) => q).reduce((s, q) => s + [0.2126, 0.7152, 0.0722][q] * planes[q][500], 0);
      const after = kept.map((_, q) => q).reduce((s, q) => s + [0.2126, 0.7152, 0.0722][q] * kept[q][500], 0);
      expect(plane[500] - after).toBeCloseTo(planes[p][500] - lum, 4);
    });
    const both = done([{ do: 'denoise' }], planes);
    const chroma = (set: readonly Float32Array[]) =>
      planeNoise(
        set[0].map((v, i) => v - set[2][i]),
        w,
        h,
      );
    expect(chroma(both)).toBeLessThan(0.3 * chroma(kept));
  });
});
