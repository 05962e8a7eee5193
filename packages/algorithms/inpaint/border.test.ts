import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomFrom } from '@owl-loom/testing/random';
import { borderPeaks } from './border';

/** Every peak above `least` from which one of sixteen points at a distance lies on no data, looked for all over. */
function allOver(plane: Float32Array, width: number, height: number, min: number, reach: number): string[] {
  const at = (x: number, y: number) =>
    x < 0 || y < 0 || x >= width || y >= height ? Number.NaN : plane[y * width + x];
  const found: string[] = [];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const v = at(x, y);
      if (!(v >= min)) continue;
      const around = [-1, 0, 1].flatMap((j) =>
        [-1, 0, 1].map((i) => (i === 0 && j === 0 ? Number.NaN : at(x + i, y + j))),
      );
      if (around.some((other) => other >= v)) continue;
      const ends = Array.from({ length: 16 }, (_, k) => {
        const angle = (k * Math.PI) / 8;
        return at(Math.round(x + reach * Math.cos(angle)), Math.round(y + reach * Math.sin(angle)));
      });
      if (ends.some(Number.isNaN)) found.push(`${x} ${y}`);
    }
  }
  return found;
}

describe('peaks where an image ends', () => {
  it('are those by the frame and by holes, wherever they lie', () => {
    fc.assert(
      fc.property(
        fc.nat(9999),
        fc.integer({ min: 5, max: 300 }),
        fc.integer({ min: 5, max: 200 }),
        fc.integer({ min: 1, max: 9 }),
        fc.constantFrom(0, 1, 3),
        (seed, width, height, reach, holes) => {
          const random = randomFrom(seed);
          const plane = Float32Array.from({ length: width * height }, () => 0.01 * random.next());
          for (let k = 0; k < holes; k++) {
            const [hx, hy, r] = [width * random.next(), height * random.next(), 12 * random.next()];
            plane.forEach((_, i) => {
              if (Math.hypot((i % width) - hx, Math.floor(i / width) - hy) < r) plane[i] = Number.NaN;
            });
          }
          // Far enough from each other that none is taken for its neighbour.
          const apart = reach + 3;
          for (let y = 2; y < height; y += apart)
            for (let x = 2 + Math.floor(2 * random.next()); x < width; x += apart)
              plane[y * width + x] += 0.5 + random.next();
          const peaks = borderPeaks(plane, width, height, 0.3, reach);
          expect(peaks.map(({ x, y }) => `${x} ${y}`).sort()).toEqual(allOver(plane, width, height, 0.3, reach).sort());
          peaks.slice(1).forEach((peak, i) => expect(peak.top).toBeLessThanOrEqual(peaks[i].top));
        },
      ),
      { numRuns: 60 },
    );
  });

  it('nearer to each other than half a circle are one', () => {
    const plane = new Float32Array(40 * 30);
    plane[1 * 40 + 20] = 1;
    plane[1 * 40 + 22] = 0.8;
    expect(borderPeaks(plane, 40, 30, 0.3, 5)).toEqual([{ x: 20, y: 1, top: 1 }]);
  });
});
