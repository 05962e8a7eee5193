import { describe, expect, it } from 'vitest';
import { randomFrom } from '@owl-loom/testing/random';
import { findStars } from './detect';
import { detectStarField } from './field';

const [width, height] = [400, 300];

/** Gaussian stars of a known width over a sloping sky, with noise, a filament, hot pixels and a border without data. */
function field(fwhm: number, count: number, noise = 0.0008) {
  const random = randomFrom(17);
  const sigma = fwhm / 2.3548;
  const plane = Float32Array.from(
    { length: width * height },
    (_, i) => 0.02 + 0.00002 * (i % width) + noise * random.normal(),
  );
  const truth = Array.from({ length: count }, () => ({
    x: 20 + (width - 40) * random.next(),
    y: 20 + (height - 40) * random.next(),
    peak: 0.02 * (1 - random.next()) ** -0.7,
  }));
  for (const star of truth) {
    for (let y = Math.floor(star.y - 12); y <= star.y + 12; y++) {
      for (let x = Math.floor(star.x - 12); x <= star.x + 12; x++) {
        if (x >= 0 && y >= 0 && x < width && y < height)
          plane[y * width + x] += star.peak * Math.exp(-((x - star.x) ** 2 + (y - star.y) ** 2) / (2 * sigma ** 2));
      }
    }
  }
  for (let x = 0; x < width; x++)
    for (let d = -12; d <= 12; d++) plane[(150 + d) * width + x] += 0.02 * Math.exp(-(d * d) / (2 * 4 ** 2));
  for (let i = 0; i < 60; i++) plane[Math.floor(random.next() * plane.length)] += 0.4;
  for (let y = 0; y < height; y++) plane.fill(Number.NaN, y * width, y * width + 6);
  return { plane, truth };
}

describe('stars', () => {
  it('are found where they are, and little else is', () => {
    const { plane, truth } = field(3, 80);
    const found = findStars(plane, width, height).stars;
    const near = (a: { x: number; y: number }, list: readonly { x: number; y: number }[]) =>
      list.some((b) => Math.hypot(a.x - b.x, a.y - b.y) < 1.5);
    const seen = truth.filter((star) => near(star, found)).length;
    const wrong = found.filter((star) => !near(star, truth)).length;
    expect(seen / truth.length).toBeGreaterThan(0.85);
    expect(wrong).toBeLessThan(6);
  });

  it.each([2.2, 3, 4.5])('of %f pixels have that width', (fwhm) => {
    const { plane } = field(fwhm, 60);
    expect(Math.abs(detectStarField(plane, width, height).fwhm / fwhm - 1)).toBeLessThan(0.08);
  });

  it('are placed to a tenth of a pixel', () => {
    const { plane, truth } = field(3, 40, 0.0002);
    const errors = findStars(plane, width, height).stars.flatMap((star) =>
      truth
        .filter((t) => Math.hypot(t.x - star.x, t.y - star.y) < 1 && t.peak > 0.03)
        .map((t) => Math.hypot(t.x - star.x, t.y - star.y)),
    );
    errors.sort((a, b) => a - b);
    expect(errors.length).toBeGreaterThan(10);
    expect(errors[errors.length >> 1]).toBeLessThan(0.1);
  });

  it('are none in noise, in nothing, and in a flat plane', () => {
    const random = randomFrom(5);
    expect(
      findStars(
        Float32Array.from({ length: 90_000 }, () => 0.1 + 0.01 * random.normal()),
        300,
        300,
      ).stars.length,
    ).toBeLessThan(3);
    expect(detectStarField(new Float32Array(900).fill(Number.NaN), 30, 30)).toMatchObject({ stars: [], fwhm: 0 });
    expect(detectStarField(new Float32Array(900).fill(0.3), 30, 30)).toMatchObject({ stars: [], fwhm: 0 });
  });
});
