import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomFrom } from '@owl-loom/testing/random';
import { type HueBandOp, type ColourOp, type SaturationOp, applyColourOps, workColoursPlain } from './hue-ops';
import { hueDistance, oklchOf } from './oklch';
import { srgbToLinear } from './srgb';

type Planes = readonly Float32Array[];
const turnHues = (planes: Planes, own: HueBandOp, out: Planes) => applyColourOps(planes, [{ band: own }], out);
const saturate = (planes: Planes, enriching: SaturationOp, out: Planes) => applyColourOps(planes, [{ enriching }], out);

const planesOf = (colours: readonly (readonly number[])[]) =>
  [0, 1, 2].map((p) => Float32Array.from(colours, (colour) => colour[p]));
const room = (n: number) => [0, 1, 2].map(() => new Float32Array(n));
/** L, chroma and hue of a pixel, by the published formulas in double precision. */
const seenIn = (planes: readonly Float32Array[], i: number) =>
  oklchOf([srgbToLinear(planes[0][i]), srgbToLinear(planes[1][i]), srgbToLinear(planes[2][i])]);

const PLAIN: HueBandOp = { centre: 0, width: 60, soft: 20, turn: 0, chroma: 1, lightness: 0, shift: [0, 0, 0] };

/** Colours all over the cube and somewhat beyond it, greys, black and holes. */
function colours(seed: number, n: number) {
  const random = randomFrom(seed);
  return planesOf(
    Array.from({ length: n }, () => {
      const kind = random.next();
      if (kind < 0.03) return [Number.NaN, 0.5, 0.2];
      if (kind < 0.1) return [0, 1, 2].map(() => kind * 8);
      return [0, 1, 2].map(() => 1.1 * random.next() - 0.05);
    }),
  );
}

const band = fc.record({
  centre: fc.double({ min: -400, max: 400, noNaN: true }),
  width: fc.double({ min: 0, max: 200, noNaN: true }),
  soft: fc.double({ min: 0, max: 90, noNaN: true }),
  turn: fc.double({ min: -180, max: 180, noNaN: true }),
  chroma: fc.double({ min: 0, max: 2.5, noNaN: true }),
  lightness: fc.double({ min: -0.3, max: 0.3, noNaN: true }),
  shift: fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -0.2, max: 0.2, noNaN: true }))),
});

/** The share of numbers that two images have alike to a bound, holes in the same places. */
function alike(a: readonly Float32Array[], b: readonly Float32Array[], bound: number): number {
  let same = 0;
  a.forEach((plane, p) =>
    plane.forEach((v, i) => {
      if (Number.isNaN(v) === Number.isNaN(b[p][i]) && !(Math.abs(v - b[p][i]) > bound)) same++;
    }),
  );
  return same / (3 * a[0].length);
}

describe('families of hues', () => {
  it('are turned by SIMD as in double precision', () => {
    fc.assert(
      fc.property(fc.nat(9999), band, (seed, own) => {
        const planes = colours(seed, 403);
        const [fast, plain] = [room(403), room(403)];
        turnHues(planes, own, fast);
        workColoursPlain(planes, [{ band: own }], plain);
        // Where a band without softness ends, a last digit decides.
        expect(alike(fast, plain, 1e-4)).toBeGreaterThan(own.soft < 0.5 ? 0.95 : 0.998);
        expect(alike(fast, plain, 4e-6)).toBeGreaterThan(0.93);
      }),
      { numRuns: 150 },
    );
  });

  it('turn by what is said, keep lightness and chroma, and leave all others to the last digit', () => {
    const planes = colours(3, 4000);
    const out = room(4000);
    const own = { ...PLAIN, centre: 140, turn: -55 };
    turnHues(planes, own, out);
    let [inside, outside] = [0, 0];
    for (let i = 0; i < 4000; i++) {
      const [l, c, h] = seenIn(planes, i);
      if (Number.isNaN(l)) continue;
      const off = hueDistance(h, 140);
      if (off > 50.1 || c < 0.0039) {
        expect(out.map((plane) => plane[i])).toEqual(planes.map((plane) => plane[i]));
        outside++;
      } else if (off < 29.9 && c > 0.041) {
        const [l2, c2, h2] = seenIn(out, i);
        expect(l2).toBeCloseTo(l, 4);
        expect(c2).toBeCloseTo(c, 4);
        expect(hueDistance(h2, h - 55)).toBeLessThan(0.1);
        inside++;
      }
    }
    expect(inside).toBeGreaterThan(200);
    expect(outside).toBeGreaterThan(1000);
  });

  it('push by their shift, and lift by their lightness', () => {
    const planes = planesOf([[0.7, 0.25, 0.2]]);
    const [, , hue] = seenIn(planes, 0);
    const [pushed, lifted] = [room(1), room(1)];
    turnHues(planes, { ...PLAIN, centre: hue, shift: [0.05, -0.02, 0.1] }, pushed);
    [0.75, 0.23, 0.3].forEach((v, p) => expect(pushed[p][0]).toBeCloseTo(v, 5));
    turnHues(planes, { ...PLAIN, centre: hue, lightness: 0.08 }, lifted);
    expect(seenIn(lifted, 0)[0] - seenIn(planes, 0)[0]).toBeCloseTo(0.08, 4);
  });

  it('leave greys where they are, whatever is done', () => {
    const greys = planesOf(Array.from({ length: 64 }, (_, i) => [i / 63, i / 63, i / 63]));
    fc.assert(
      fc.property(band, (own) => {
        const out = room(64);
        turnHues(greys, own, out);
        expect(out).toEqual(greys);
      }),
    );
  });
});

describe('saturation', () => {
  it('is that of the published formulas, by SIMD as well', () => {
    fc.assert(
      fc.property(
        fc.nat(9999),
        fc.double({ min: -1, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (seed, amount, shadows) => {
          const planes = colours(seed, 301);
          const [fast, plain] = [room(301), room(301)];
          saturate(planes, { amount, shadows }, fast);
          workColoursPlain(planes, [{ enriching: { amount, shadows } }], plain);
          // Near nought the coding is steep, and what is left of great numbers taken from each other counts.
          expect(alike(fast, plain, 1e-4)).toBe(1);
          expect(alike(fast, plain, 4e-6)).toBeGreaterThan(0.97);
          let told = 0;
          for (let i = 0; i < 301; i++) {
            const [l, c] = seenIn(planes, i);
            if (Number.isNaN(l)) continue;
            const t = Math.max(0, Math.min(1, l / 0.3));
            const w = shadows + (1 - shadows) * t * t * (3 - 2 * t);
            const [l2, c2] = seenIn(fast, i);
            expect(l2).toBeCloseTo(l, 4);
            // Where a cone hardly answers, the last digit of a number in a file is worth more than that.
            if (Math.abs(seenIn(plain, i)[1] - c * (1 + amount * w)) < 1e-6) {
              expect(c2).toBeCloseTo(c * (1 + amount * w), 4);
              told++;
            }
          }
          expect(told).toBeGreaterThan(250);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('of −1 makes grey of everything, of 0 leaves it', () => {
    const planes = colours(8, 200);
    const [grey, same] = [room(200), room(200)];
    saturate(planes, { amount: -1, shadows: 1 }, grey);
    saturate(planes, { amount: 0, shadows: 1 }, same);
    for (let i = 0; i < 200; i++) {
      if (Number.isNaN(grey[0][i])) continue;
      expect(grey[1][i]).toBeCloseTo(grey[0][i], 5);
      expect(grey[2][i]).toBeCloseTo(grey[0][i], 5);
    }
    expect(same).toEqual(planes);
  });
});

describe('works one after another', () => {
  const work: fc.Arbitrary<ColourOp> = fc.oneof(
    band.map((own) => ({ band: own })),
    fc.record({
      enriching: fc.record({
        amount: fc.double({ min: -1, max: 1, noNaN: true }),
        shadows: fc.double({ min: 0, max: 1, noNaN: true }),
      }),
    }),
  );

  it('come out together as they do one by one, and as in double precision', () => {
    fc.assert(
      fc.property(fc.nat(9999), fc.array(work, { minLength: 2, maxLength: 20 }), (seed, works) => {
        // A family without softness parts colours that a last digit tells apart.
        const soft = works.map((one) => ('band' in one ? { band: { ...one.band, soft: 20 + one.band.soft } } : one));
        const planes = colours(seed, 203);
        const [together, plain] = [room(203), room(203)];
        applyColourOps(planes, soft, together);
        workColoursPlain(planes, soft, plain);
        let single = planes;
        for (const one of soft) {
          const next = room(203);
          applyColourOps(single, [one], next);
          single = next;
        }
        expect(alike(together, plain, 1e-3)).toBeGreaterThan(0.98);
        expect(alike(together, single, 1e-3)).toBeGreaterThan(0.98);
      }),
      { numRuns: 100 },
    );
  });

  it('may be written over what they read', () => {
    const planes = colours(5, 203);
    const apart = room(203);
    const works: ColourOp[] = [
      { band: { ...PLAIN, turn: 40, shift: [0.1, 0, 0] } },
      { enriching: { amount: 0.4, shadows: 0 } },
    ];
    applyColourOps(planes, works, apart);
    applyColourOps(planes, works, planes);
    expect(planes).toEqual(apart);
  });
});
