import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pack, unpack } from './packed';

const number = fc.float({ min: 0, max: 9000, noNaN: true });

describe('a field of stars', () => {
  it('comes back as it was, to single precision', () => {
    const star = fc.record({
      x: number,
      y: number,
      peak: number,
      fwhm: number,
      round: number,
      saturated: fc.boolean(),
      flux: number,
      fluxError: number,
    });
    fc.assert(
      fc.property(fc.array(star, { maxLength: 40 }), (stars) => {
        const packed = pack({ stars, fwhm: 2.5, noise: 0.001, beta: 4.2 });
        expect(packed.count).toBe(stars.length);
        // As it is kept in the database, and as it is sent.
        const back = unpack(JSON.parse(JSON.stringify(packed)));
        expect(back).toEqual({ stars, fwhm: 2.5, noise: 0.001, beta: 4.2 });
      }),
    );
  });
});
