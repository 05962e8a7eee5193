import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PreviewResolution } from './preview-resolution';

describe('the pace of quick pictures', () => {
  it('begins with half a megapixel, and one slow drawing changes nothing', () => {
    const pace = new PreviewResolution();
    expect(pace.pixels).toBe(500_000);
    pace.took(900, 400_000);
    expect(pace.pixels).toBe(500_000);
    pace.took(20, 400_000);
    expect(pace.pixels).toBe(500_000);
  });

  it('comes to pictures that are drawn in time, wherever a machine can, and never to less than can be seen', () => {
    fc.assert(
      fc.property(fc.double({ min: 1e-5, max: 5e-3, noNaN: true }), fc.integer({ min: 0, max: 6 }), (cost, first) => {
        const pace = new PreviewResolution();
        // Levels of a picture: each a quarter of the one before.
        const sizes = Array.from({ length: 8 }, (_, level) => Math.round(6_000_000 / 4 ** (level + first / 6)));
        const choose = () => sizes.find((size) => size <= pace.pixels) ?? sizes[sizes.length - 1];
        for (let i = 0; i < 12; i++) {
          const size = choose();
          pace.took(cost * size, size);
        }
        const size = choose();
        expect(size).toBeLessThanOrEqual(500_000);
        if (cost * size > 65) expect(size).toBeLessThanOrEqual(60_000);
        // And no smaller than it must be.
        const larger = sizes[sizes.indexOf(size) - 1];
        if (larger <= 500_000 && larger > 60_000) expect(cost * larger).toBeGreaterThan(64.9);
      }),
    );
  });

  it('forgets what it learned of another view', () => {
    const pace = new PreviewResolution();
    for (let i = 0; i < 3; i++) pace.took(400, 400_000);
    expect(pace.pixels).toBeLessThan(100_000);
    pace.forget();
    expect(pace.pixels).toBe(500_000);
  });
});
