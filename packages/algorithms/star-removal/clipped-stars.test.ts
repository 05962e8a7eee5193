import { describe, expect, it } from 'vitest';
import { detectStarField } from '../stars/field';
import { circleSum } from '../stars/photometry';
import { makeSky, type SkySpec } from '@owl-loom/testing/skies';
import { forEachStarPixel } from './add-star';
import { missingLight, reconstructClippedStars } from './clipped-stars';

const [width, height] = [420, 320];
const SKY = 0.05;

/** A sky cut off at a value, and given its tops back. */
function mended(own: Partial<SkySpec>, cut: number, slope = 0) {
  const { plane, truth } = makeSky({
    width,
    height,
    seed: 31,
    stars: 160,
    fwhm: 3,
    noise: 0.0008,
    faintest: 15,
    ...own,
  });
  // A gradient that is taken off afterwards lowers the tops on one side.
  for (let i = 0; i < plane.length; i++) plane[i] += slope * (i % width);
  const flat = plane.map((v, i) => Math.min(v, cut) - slope * (i % width));
  for (let i = 0; i < plane.length; i++) plane[i] -= slope * (i % width);
  const { stars, table } = reconstructClippedStars(flat, width, height, detectStarField(flat, width, height));
  const out = flat.slice();
  for (const star of stars)
    forEachStarPixel({ x: 0, y: 0, width, height }, 0, star, star.reach, 1, missingLight(star, table), (at, mean) => {
      out[at] += mean;
    });
  return { plane, flat, out, truth, stars };
}

/** True stars that were cut, well within the image and free of neighbours that would tell of light too. */
const cutOnes = (truth: readonly { x: number; y: number; peak: number }[], cut: number, from: number) =>
  truth.filter(
    (star) =>
      star.peak > from * (cut - SKY) &&
      star.x > 30 &&
      star.y > 30 &&
      star.x < width - 30 &&
      star.y < height - 30 &&
      truth.every(
        (other) =>
          other === star || Math.hypot(other.x - star.x, other.y - star.y) > 14 || other.peak < 0.04 * star.peak,
      ),
  );

const middle = (values: number[]): number => values.sort((a, b) => a - b)[Math.floor(values.length / 2)];

describe('stars that were cut off', () => {
  it.each([
    ['of usual width', {}, 0.12],
    ['with wings', { beta: 3 }, 0.1],
    ['narrow', { fwhm: 2, beta: 4 }, 0.12],
    ['wide', { fwhm: 5.5, beta: 3.5, stars: 90 }, 0.1],
    ['in noise that neighbours share', { beta: 3.5, correlated: 0.7 }, 0.12],
    ['few', { beta: 3, stars: 40, seed: 8, faintest: 60 }, 0.12],
    ['long', { beta: 3.5, stretch: 1.2 }, 0.12],
    ['after a gradient was taken off', { beta: 3.5 }, 0.12, 0.006 / width],
  ] as const)('have their light again: %s', (_, own, cut, slope: number = 0) => {
    const { plane, flat, out, truth, stars } = mended(own, cut, slope);
    const wanted = cutOnes(truth, cut, 1.5);
    expect(wanted.length).toBeGreaterThanOrEqual(3);
    expect(stars.length).toBeGreaterThanOrEqual(0.8 * wanted.length);
    const light = (of: Float32Array, x: number, y: number) => {
      const found = circleSum(of, width, height, x, y, 8);
      return (found?.sum ?? 0) - SKY * (found?.area ?? 0);
    };
    const shares = wanted.map(({ x, y }) => ({
      before: light(flat, x, y) / light(plane, x, y),
      after: light(out, x, y) / light(plane, x, y),
    }));
    // What was lost is the greater part of many.
    expect(Math.min(...shares.map(({ before }) => before))).toBeLessThan(0.85);
    expect(middle(shares.map(({ after }) => Math.abs(after - 1)))).toBeLessThan(0.06);
    for (const { before, after } of shares)
      expect(Math.abs(after - 1)).toBeLessThan(Math.max(0.15, 0.5 * (1 - before)));
  });

  it('are the only thing that changes, and nothing does where none was cut off', () => {
    const { plane, flat, out, truth } = mended({ beta: 3 }, 0.1);
    for (let i = 0; i < flat.length; i++) {
      if (out[i] === flat[i]) continue;
      const [x, y] = [i % width, Math.floor(i / width)];
      expect(truth.some((star) => star.peak > 0.03 && Math.hypot(star.x - x, star.y - y) < 12)).toBe(true);
    }
    expect(
      reconstructClippedStars(plane, width, height, detectStarField(plane, width, height)).stars.length,
    ).toBeLessThanOrEqual(1);
  });

  it('touching each other are left alone: one round profile is not theirs', () => {
    const { plane } = makeSky({ width, height, seed: 4, stars: 60, fwhm: 3, beta: 3, noise: 0.0008 });
    const shape = (x: number, y: number) => (1 + (4 * (2 ** (1 / 3) - 1) * (x * x + y * y)) / 9) ** -3;
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) plane[y * width + x] += shape(x - 200, y - 150) + shape(x - 206, y - 150);
    const flat = plane.map((v) => Math.min(v, 0.15));
    const { stars } = reconstructClippedStars(flat, width, height, detectStarField(flat, width, height));
    expect(stars.length).toBeGreaterThan(0);
    expect(stars.filter((star) => Math.hypot(star.x - 203, star.y - 150) < 8)).toEqual([]);
  });
});
