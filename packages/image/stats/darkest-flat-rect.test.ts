import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomFrom } from '@owl-loom/testing/random';
import { darkestFlatRect } from './darkest-flat-rect';

const [width, height] = [360, 240];

/** A sky full of gas but for one dark place. */
function sky(hole: { x: number; y: number }, gas: number, seed: number): Float32Array {
  const random = randomFrom(seed);
  return Float32Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    const away = 1 - Math.exp(-((x - hole.x) ** 2 + (y - hole.y) ** 2) / (2 * 45 ** 2));
    const star = random.next() < 0.002 ? 0.3 : 0;
    return 0.02 + gas * away + 0.001 * random.normal() + star;
  });
}

describe('the quiet place', () => {
  it('is found where every plane is dark, whatever their strengths and the noise', () => {
    fc.assert(
      fc.property(fc.integer({ min: 60, max: 300 }), fc.integer({ min: 50, max: 190 }), fc.nat(99), (x, y, seed) => {
        const found = darkestFlatRect([sky({ x, y }, 0.05, seed), sky({ x, y }, 0.004, seed + 1)], width, height);
        expect(found).toBeDefined();
        if (found) expect(Math.hypot(found.x + found.width / 2 - x, found.y + found.height / 2 - y)).toBeLessThan(24);
      }),
      { numRuns: 25 },
    );
  });

  it('is dark in the worst plane, not on average', () => {
    const [a, b] = [sky({ x: 80, y: 120 }, 0.05, 1), sky({ x: 280, y: 120 }, 0.05, 2)];
    // Each plane has its own dark place, where the other one glows; what both can bear lies between them.
    const found = darkestFlatRect([a, b], width, height);
    expect(found && Math.abs(found.x + found.width / 2 - 180)).toBeLessThan(60);
  });

  it('keeps off no data, and is none where there is hardly any', () => {
    const plane = sky({ x: 60, y: 60 }, 0.05, 3);
    for (let y = 0; y < 110; y++) plane.fill(Number.NaN, y * width, y * width + 130);
    const found = darkestFlatRect([plane], width, height);
    expect(found && (found.x >= 130 || found.y >= 110)).toBe(true);
    expect(darkestFlatRect([new Float32Array(width * height).fill(Number.NaN)], width, height)).toBeUndefined();
    expect(darkestFlatRect([new Float32Array(9)], 3, 3)).toBeUndefined();
  });
});
