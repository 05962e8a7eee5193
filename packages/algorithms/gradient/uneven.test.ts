import { describe, expect, it } from 'vitest';
import { randomFrom } from '@owl-loom/testing/random';
import { hasVisibleGradient } from './uneven';

const [width, height] = [360, 240];
const NOISE = 0.002;

/** A sky with noise, which a level has less of than the full size that it comes from. */
function sky(value: (u: number, v: number) => number, seed = 1, noise = NOISE / 8) {
  const random = randomFrom(seed);
  const plane = Float32Array.from({ length: width * height }, (_, i) => {
    return 0.1 + value((i % width) / width, Math.floor(i / width) / height) + noise * random.normal();
  });
  return { rect: { x: 0, y: 0, width, height }, planes: [plane] };
}

describe('an uneven sky', () => {
  it.each([
    ['an even one', () => 0, false],
    ['a slope that the eye cannot see', (u: number) => 0.3 * NOISE * u, false],
    ['a slope', (u: number) => 4 * NOISE * u, true],
    ['a glow in a corner', (u: number, v: number) => 8 * NOISE * (u * v) ** 2, true],
    ['vignetting', (u: number, v: number) => -6 * NOISE * ((u - 0.5) ** 2 + (v - 0.5) ** 2), true],
  ] as const)('is told from %s', (_, value, uneven) => {
    expect(hasVisibleGradient(sky(value), [NOISE])).toBe(uneven);
  });

  it('is none where a cloud of gas lies on an even one', () => {
    const gas = (u: number, v: number) => 60 * NOISE * Math.exp(-((u - 0.45) ** 2 + (v - 0.5) ** 2) / 0.01);
    expect(hasVisibleGradient(sky(gas), [NOISE])).toBe(false);
  });

  it('is told by any plane of a colour image, and by none where there are no data', () => {
    const [even, slope] = [sky(() => 0, 2), sky((u) => 5 * NOISE * u, 3)];
    const colour = { rect: even.rect, planes: [even.planes[0], slope.planes[0], even.planes[0]] };
    expect(hasVisibleGradient(colour, [NOISE, NOISE, NOISE])).toBe(true);
    expect(hasVisibleGradient({ rect: even.rect, planes: [even.planes[0].map(() => Number.NaN)] }, [NOISE])).toBe(
      false,
    );
  });
});
