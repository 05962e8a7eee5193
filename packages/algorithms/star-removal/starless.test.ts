import { describe, expect, it } from 'vitest';
import { inpaintCircles } from '../inpaint/harmonic-fill';
import { detectStarField } from '../stars/field';
import { makeSky, type SkySpec } from '@owl-loom/testing/skies';
import { packStars, unpackStars } from './packed';
import { holeCircles, removeStars } from './remove-stars';
import { knotOfRadius, KNOTS, radiusAt } from './radial-profile';

const [width, height] = [460, 340];
const NOISE = 0.001;
/** Gas of several sizes, as bright as many noises. */
const gasAt = (x: number, y: number): number =>
  0.02 * (1 + Math.sin(x / 60) * Math.cos(y / 45)) + 0.004 * (1 + Math.sin((x + 2 * y) / 40));

/** A sky with stars over gas, with what it would be without them but for the noise. */
function sky(own: Partial<SkySpec>, gas: (x: number, y: number) => number = gasAt) {
  const spec: SkySpec = { width, height, seed: 5, stars: 130, fwhm: 3, noise: NOISE, ...own };
  const made = makeSky(spec);
  const clean = Float32Array.from({ length: width * height }, (_, i) => 0.05 + gas(i % width, Math.floor(i / width)));
  const plane = made.plane.map((v, i) => Math.min(0.6, v + clean[i] - 0.05));
  return { plane, clean, truth: made.truth };
}

function taken(plane: Float32Array, sensitivity = 1, isSpared?: (star: { x: number; y: number }) => boolean) {
  const field = detectStarField(plane, width, height);
  const found = removeStars(
    { planes: [plane], width, height, fields: [field], stars: field.stars, isSpared },
    sensitivity,
  );
  const rect = { x: 0, y: 0, width, height };
  const out = found.left[0].slice();
  const gaps = holeCircles(found.taken);
  inpaintCircles(found.left[0], rect, out, rect, gaps, 0);
  return { out, gaps, taken: found.taken, field };
}

const sum = (plane: Float32Array, from: Float32Array, counts: (i: number) => boolean = () => true): number =>
  plane.reduce((s, v, i) => (counts(i) ? s + v - from[i] : s), 0);
const within = (gaps: readonly (readonly [number, number, number])[]) => (i: number) =>
  gaps.some(([x, y, r]) => ((i % width) - x) ** 2 + (Math.floor(i / width) - y) ** 2 <= r * r);
const rms = (values: readonly number[]): number => Math.sqrt(values.reduce((s, v) => s + v * v, 0) / values.length);

describe('an image without its stars', () => {
  it.each([
    ['wings as turbulence makes them', { beta: 3 }, 0.03],
    ['no wings', {}, 0.03],
    ['narrow stars', { fwhm: 2, beta: 3.5 }, 0.03],
    ['wide stars', { fwhm: 5, beta: 4, stars: 70 }, 0.03],
    ['long stars', { beta: 3, stretch: 1.2 }, 0.03],
    ['noise that neighbours share', { beta: 3, correlated: 0.7 }, 0.03],
    // A dozen stars do not tell their wings better.
    ['few stars', { beta: 3, stars: 14 }, 0.08],
  ] as const)('keeps next to nothing of their light, and the gas: %s', (_, own, share) => {
    const { plane, clean, truth } = sky(own);
    const { out, gaps } = taken(plane);
    // About the stars alone: the noise of a whole image adds up to more than a hundredth of their light.
    const near = within(truth.map(({ x, y }) => [x, y, 5 * (('fwhm' in own && own.fwhm) || 3)] as const));
    const light = sum(plane, clean, near);
    expect(Math.abs(sum(out, clean, near))).toBeLessThan(share * light);
    // Gas: what was over the sky is there still.
    const gas = clean.reduce((s, v) => s + v - 0.05, 0);
    expect(Math.abs(sum(out, clean))).toBeLessThan(0.01 * gas);
    // Noise in the gaps as around them.
    const isIn = within(gaps);
    const [inside, outside]: number[][] = [[], []];
    for (let i = 0; i < out.length; i++) (isIn(i) ? inside : outside).push(out[i] - clean[i]);
    expect(inside.length).toBeGreaterThan(100);
    expect(rms(inside) / rms(outside)).toBeGreaterThan(0.8);
    expect(rms(inside) / rms(outside)).toBeLessThan(1.25);
    expect(rms(outside)).toBeLessThan(1.1 * NOISE);
  });

  it('is the image where there is no star', () => {
    const { plane } = sky({ stars: 0 });
    const { out, taken: found } = taken(plane);
    expect(found.length).toBeLessThan(3);
    expect(rms([...out].map((v, i) => v - plane[i]))).toBeLessThan(0.1 * NOISE);
  });

  it('keeps knots of gas wider than the stars', () => {
    const knots = Array.from({ length: 40 }, (_, k) => [20 + ((k * 53) % 420), 20 + ((k * 97) % 300), 3 + (k % 5)]);
    const gas = (x: number, y: number) =>
      knots.reduce((s, [kx, ky, r]) => s + 0.03 * Math.exp(-((x - kx) ** 2 + (y - ky) ** 2) / (2 * r * r)), 0);
    const { plane, clean, truth } = sky({ fwhm: 2.6, beta: 3, stars: 60 }, gas);
    const { out } = taken(plane);
    let [before, after] = [0, 0];
    // What lies under a star itself is lost.
    const alone = knots.filter(([kx, ky, r]) => truth.every((s) => Math.hypot(s.x - kx, s.y - ky) > 2 * r + 8));
    expect(alone.length).toBeGreaterThan(10);
    for (const [kx, ky, r] of alone) {
      let [was, is] = [0, 0];
      for (let y = Math.max(0, ky - 2 * r); y < Math.min(height, ky + 2 * r); y++)
        for (let x = Math.max(0, kx - 2 * r); x < Math.min(width, kx + 2 * r); x++) {
          was += clean[y * width + x] - 0.05;
          is += out[y * width + x] - 0.05;
        }
      expect(is / was).toBeGreaterThan(0.8);
      expect(is / was).toBeLessThan(1.2);
      before += was;
      after += is;
    }
    expect(after / before).toBeGreaterThan(0.98);
    expect(after / before).toBeLessThan(1.02);
  });

  it('takes a pair apart that a list sees as one, and stars at the frame', () => {
    const { plane, clean } = sky({ stars: 90, beta: 3 });
    const add = (x0: number, y0: number, peak: number) => {
      for (let i = 0; i < plane.length; i++) {
        const r2 = ((i % width) - x0) ** 2 + (Math.floor(i / width) - y0) ** 2;
        plane[i] += peak * (1 + (4 * (2 ** (1 / 3) - 1) * r2) / 9) ** -3;
      }
    };
    add(200.2, 150.4, 0.09);
    add(203.9, 151.3, 0.06);
    add(0.8, 200.3, 0.05);
    const { out } = taken(plane);
    for (const [x, y] of [
      [200, 150],
      [204, 151],
      [1, 200],
    ])
      expect(Math.abs(out[y * width + x] - clean[y * width + x])).toBeLessThan(6 * NOISE);
  });

  it('takes stars at the frame where the gas is darker than elsewhere', () => {
    const { plane, clean, truth } = sky({ seed: 1, beta: 3, stars: 14 });
    const { out } = taken(plane);
    const atFrame = truth.filter(({ x, y }) => Math.min(x, y, width - 1 - x, height - 1 - y) < 3);
    expect(atFrame.length).toBeGreaterThan(1);
    for (const { x, y, peak } of atFrame) {
      const at = Math.round(y) * width + Math.round(x);
      expect(plane[at] - clean[at]).toBeGreaterThan(0.5 * peak);
      expect(Math.abs(out[at] - clean[at])).toBeLessThan(6 * NOISE);
    }
  });

  it('takes fewer stars the more careful it is, and leaves those that are spared', () => {
    const { plane, truth } = sky({ beta: 3, faintest: 6 });
    const [careful, plain] = [taken(plane, 0.4), taken(plane)];
    expect(careful.taken.length).toBeLessThan(0.8 * plain.taken.length);
    const star = truth.filter((s) => s.peak > 0.05 && s.x > 20 && s.y > 20 && s.x < width - 20 && s.y < height - 20)[0];
    const spared = taken(plane, 1, ({ x, y }) => Math.hypot(x - star.x, y - star.y) < 3);
    const at = Math.round(star.y) * width + Math.round(star.x);
    expect(spared.out[at]).toBeCloseTo(plane[at], 5);
    expect(plain.out[at]).toBeLessThan(plane[at] - 0.5 * star.peak);
  });
});

describe('taken stars', () => {
  it('are the same after they were packed, to single precision', () => {
    const { plane } = sky({ beta: 3 });
    const { taken: found } = taken(plane);
    const { beams, gaps } = unpackStars(packStars(found, 1, 100, 200));
    expect(beams[0].length).toBe(found.length);
    expect(gaps.length).toBe(found.filter(({ gap }) => gap > 0).length);
    for (const { lights } of found) {
      const [light] = lights;
      if (!light) continue;
      const beam = beams[0].find((b) => Math.hypot(b.x - light.x - 100, b.y - light.y - 200) < 1e-3);
      expect(beam?.reach).toBeCloseTo(light.reach, 3);
      light.table.forEach((v, k) => {
        if (radiusAt(k) < light.reach) expect(beam?.table[k]).toBeCloseTo(v, 6);
      });
    }
  });

  it('have knots that lie where they say', () => {
    for (let k = 0; k < KNOTS; k++) expect(knotOfRadius(radiusAt(k))).toBeCloseTo(k, 9);
  });
});
