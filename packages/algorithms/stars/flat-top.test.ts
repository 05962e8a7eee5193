import { describe, expect, it } from 'vitest';
import { measureContinuum } from '../continuum/continuum';
import { randomFrom } from '@owl-loom/testing/random';
import { withStars } from '@owl-loom/testing/stars';
import { findStars } from './detect';

const [width, height] = [420, 340];

/** Stars with wings, cut at a full well of 1, on a sloping glow that is then taken off: cut tops no longer end at one number. */
function evened(
  k: number,
  seed: number,
): { image: Float32Array; cut: { x: number; y: number }[]; clear: { x: number; y: number }[] } {
  const random = randomFrom(seed);
  const light = Float64Array.from({ length: width * height }, () => 0);
  const cut: { x: number; y: number }[] = [];
  const clear: { x: number; y: number }[] = [];
  for (let s = 0; s < 110; s++) {
    const [x0, y0] = [20 + (width - 40) * random.next(), 20 + (height - 40) * random.next()];
    const peak = k * Math.min(6, 0.06 * (1 - random.next()) ** -1);
    for (let y = Math.ceil(y0 - 16); y <= y0 + 16; y++)
      for (let x = Math.ceil(x0 - 16); x <= x0 + 16; x++)
        light[y * width + x] += peak * (1 + ((x - x0) ** 2 + (y - y0) ** 2) / 6) ** -3.4;
    if (peak > 2) cut.push({ x: x0, y: y0 });
    else if (peak > 0.15 && peak < 0.6) clear.push({ x: x0, y: y0 });
  }
  const noise = randomFrom(seed + 50);
  const image = Float32Array.from(light, (v, i) => {
    const glow = 0.03 + 0.05 * ((i % width) / width);
    return Math.min(1, v + glow + 0.0006 * noise.normal()) - glow + 0.03;
  });
  return { image, cut, clear };
}

const near = (a: { x: number; y: number }, b: { x: number; y: number }) => Math.hypot(a.x - b.x, a.y - b.y) < 2;

describe('stars beyond a full well', () => {
  it('are known after the glow that they stood on has been taken off', () => {
    const { image, cut, clear } = evened(1, 3);
    const stars = findStars(image, width, height).stars;
    const marked = (all: { x: number; y: number }[]) =>
      all.flatMap((place) => stars.filter((star) => near(star, place))).map((star) => star.saturated);
    expect(cut.length).toBeGreaterThan(1);
    expect(clear.length).toBeGreaterThan(8);
    expect(marked(cut).every(Boolean)).toBe(true);
    expect(marked(clear).some(Boolean)).toBe(false);
  });

  it('do not bend k, in whichever image they are cut', () => {
    const broad = evened(1, 3).image;
    for (const k of [0.3, 1.5]) {
      const line = evened(k, 3).image;
      const found = measureContinuum(withStars({ line, broad, width, height }), 'stars');
      expect(Math.abs(found.k / k - 1)).toBeLessThan(0.01);
    }
  });
});
