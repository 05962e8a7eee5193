import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomFrom } from '@owl-loom/testing/random';
import { measureGradient } from './gradient';
import { lowestSurface } from './lowest';
import { modelAt } from './model';

const [width, height] = [900, 600];
const rect = { x: 0, y: 0, width, height };

/** Rough gas of many sizes: a sum of waves. */
function waves(seed: number): (u: number, v: number) => number {
  const random = randomFrom(seed);
  const all = Array.from({ length: 24 }, (_, k) => ({
    kx: (random.next() - 0.5) * 2 * (2 + 0.9 * k),
    ky: (random.next() - 0.5) * 2 * (2 + 0.9 * k),
    phase: 6.28 * random.next(),
    height: 1 / (1 + 0.25 * k),
  }));
  return (u, v) =>
    all.reduce((sum, { kx, ky, phase, height: max }) => sum + max * Math.sin(6.28 * (kx * u + ky * v) + phase), 0);
}
const [cloud, ridge] = [waves(5), waves(9)];
const around = (u: number, v: number, s: number): number =>
  Math.exp(-((width * u) ** 2 + (height * v) ** 2) / (2 * s * s));

type Light = (u: number, v: number) => number;
const leaning: Light = (u, v) => 0.006 * (0.7 * u + 0.3 * v);
const corner: Light = (u, v) => 0.012 * Math.exp(3.2 * (u - 1) + 2.4 * (v - 1));
const side: Light = (u, v) => 0.02 * around(u - 0.1, v - 0.6, 90) + 0.006 * around(u - 0.1, v - 0.6, 160);
const half: Light = (u, v) => 0.006 * Math.max(0, cloud(u, v) / 2) ** 1.3;
const band: Light = (u, v) =>
  0.008 * Math.exp(-((v - 0.35 - 0.3 * u + 0.03 * cloud(u, v)) ** 2) / (2 * 0.09 ** 2)) * (0.8 + 0.1 * ridge(u, v));

describe('gas that reaches the frame', () => {
  // Of a glow of 60 to 120 ten-thousandths and gas of up to 260, at a noise of 11.
  it.each([
    ['a nebula at one side, in a leaning sky', side, leaning, 40e-4],
    ['a nebula at one side, under a steep corner', side, corner, 40e-4],
    ['clouds over half of the picture, in a leaning sky', half, leaning, 4e-4],
    ['clouds over half of the picture, under a steep corner', half, corner, 8e-4],
    ['a band across the picture, in a leaning sky', band, leaning, 4e-4],
    ['a band across the picture, under a steep corner', band, corner, 8e-4],
  ])('%s, is no sky', (_, gas, glow, max) => {
    const random = randomFrom(3);
    const plane = Float32Array.from({ length: width * height }, (_, i) => {
      const [u, v] = [(i % width) / width, Math.floor(i / width) / height];
      return 0.0171 + glow(u, v) + gas(u, v) + 0.0011 * random.normal();
    });
    const { planes } = measureGradient(
      { rect, planes: [plane] },
      { model: 'spline', degree: 2, smoothing: 1, samples: 'auto' },
    );
    const offs: number[] = [];
    for (let y = 0; y < height; y += 10)
      for (let x = 0; x < width; x += 10) offs.push(modelAt(planes[0].model, x, y) - glow(x / width, y / height));
    const middle = [...offs].sort((a, b) => a - b)[offs.length >> 1];
    expect(Math.max(...offs.map((off) => Math.abs(off - middle)))).toBeLessThan(max);
  });
});

describe('the lowest surface', () => {
  const boxes = (seed: number) => {
    const random = randomFrom(seed);
    return Array.from({ length: 216 }, (_, k) => {
      const [x, y] = [25 + (k % 18) * 50, 25 + Math.floor(k / 18) * 50];
      return { x, y, value: 0.02 + half(x / width, y / height) + 4e-5 * random.normal() };
    });
  };
  const kept = (some: ReturnType<typeof boxes>, sure = 4e-5) =>
    lowestSurface(some, rect, sure).kept.map(({ x, y }) => `${x} ${y}`);

  it('holds the boxes without gas, and no others', () => {
    for (const { x, y } of lowestSurface(boxes(1), rect, 4e-5).kept)
      expect(half(x / width, y / height)).toBeLessThan(3e-4);
    expect(kept(boxes(1)).length).toBeGreaterThan(100);
  });

  it('holds the same boxes whatever even sky is added, and however bright all is', () => {
    fc.assert(
      fc.property(
        fc.nat(50),
        fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -1, max: 1, noNaN: true }))),
        fc.double({ min: 0.1, max: 10, noNaN: true }),
        (seed, [a, b, c], times) => {
          const plain = boxes(seed);
          const changed = plain.map(({ x, y, value }) => ({
            x,
            y,
            value: times * (value + 0.01 * (a + (b * x) / width + (c * y) / height)),
          }));
          expect(kept(changed, times * 4e-5)).toEqual(kept(plain));
        },
      ),
      { numRuns: 20 },
    );
  });
});
