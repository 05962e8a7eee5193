import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Card } from './cards';
import { recipeOf, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { alignWcs } from '@owl-loom/algorithms/registration/align';
import { mapPoint } from '../geometry/affine';
import { pixelToSky, skyToPixel, type Wcs, wcsOf } from './wcs';

const cards = (values: Record<string, number | string>): Card[] =>
  Object.entries(values).map(([key, value]) => ({ key, value, images: [] }));
const plain = {
  CTYPE1: 'RA---TAN',
  CTYPE2: 'DEC--TAN',
  CRVAL1: 83.6,
  CRVAL2: 22.1,
  CRPIX1: 451,
  CRPIX2: 301,
  CD1_1: -0.0004,
  CD1_2: 0.00002,
  CD2_1: 0.00002,
  CD2_2: 0.0004,
};
const of = (values: Record<string, number | string>, topDown = false): Wcs => {
  const found = wcsOf(cards(values), 600, topDown);
  if (!found || 'trouble' in found) throw new Error(JSON.stringify(found));
  return found;
};

describe('a place on the sky', () => {
  it('has its reference where the cards say', () => {
    const [ra, dec] = pixelToSky(of(plain), 450, 300);
    expect(ra).toBeCloseTo(83.6, 10);
    expect(dec).toBeCloseTo(22.1, 10);
  });

  it('agrees with an independent program at the corners', () => {
    // Computed with another program's gnomonic projection for these very cards.
    const wcs = of(plain);
    for (const [x, y, ra, dec] of CORNERS) {
      const found = pixelToSky(wcs, x, y);
      expect(found[0]).toBeCloseTo(ra, 8);
      expect(found[1]).toBeCloseTo(dec, 8);
    }
  });

  it('goes there and back', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -2000, max: 4000, noNaN: true }),
        fc.double({ min: -2000, max: 4000, noNaN: true }),
        fc.double({ min: -89, max: 89, noNaN: true }),
        (x, y, dec) => {
          const wcs = of({ ...plain, CRVAL2: dec });
          const there = skyToPixel(wcs, ...pixelToSky(wcs, x, y));
          expect(Math.hypot((there?.[0] ?? 0) - x, (there?.[1] ?? 0) - y)).toBeLessThan(1e-5);
        },
      ),
    );
  });

  it('may be told by CDELT with a turn, or with PC, alike', () => {
    const { CD1_1: _, CD1_2: __, CD2_1: ___, CD2_2: ____, ...rest } = plain;
    const turn = (30 * Math.PI) / 180;
    const rotated = of({ ...rest, CDELT1: -0.0004, CDELT2: 0.0004, CROTA2: 30 });
    const pc = of({
      ...rest,
      CDELT1: -0.0004,
      CDELT2: 0.0004,
      PC1_1: Math.cos(turn),
      PC1_2: Math.sin(turn),
      PC2_1: -Math.sin(turn),
      PC2_2: Math.cos(turn),
    });
    for (const [x, y] of [
      [0, 0],
      [900, 600],
    ]) {
      const [a, b] = [pixelToSky(rotated, x, y), pixelToSky(pc, x, y)];
      expect(a[0]).toBeCloseTo(b[0], 9);
      expect(a[1]).toBeCloseTo(b[1], 9);
    }
  });

  it('of a file from the top down is that of its own rows', () => {
    const [a, b] = [pixelToSky(of(plain, true), 10, 600 - 1 - 20), pixelToSky(of(plain), 10, 20)];
    expect(a[0]).toBeCloseTo(b[0], 10);
    expect(a[1]).toBeCloseTo(b[1], 10);
  });

  it.each([
    ['contradict each other', { ...plain, CDELT1: -0.0008, CDELT2: 0.0008 }, /contradict each other/],
    ['have no scale', { ...plain, CD1_1: 0, CD1_2: 0, CD2_1: 0, CD2_2: 0 }, /scale is zero/],
    ['lack the reference', { ...plain, CRPIX1: 'here' }, /CRPIX1 is missing or no number/],
    ['are of another projection', { ...plain, CTYPE1: 'RA---SIN' }, /only RA---TAN/],
    ['point beyond the pole', { ...plain, CRVAL2: 95 }, /no declination/],
  ])('cards that %s are named', (_, values, message) => {
    expect(wcsOf(cards(values), 600, false)).toEqual({ trouble: expect.stringMatching(message) });
  });

  it('is none where the file tells of none', () => expect(wcsOf(cards({ FILTER: 'Ha' }), 600, false)).toBeUndefined());
});

describe('alignment by WCS', () => {
  it('brings the same sky onto the same pixels', () => {
    const target = of({
      ...plain,
      CRPIX1: 400,
      CRPIX2: 280,
      CD1_1: 0.0002,
      CD1_2: -0.00001,
      CD2_1: 0.00001,
      CD2_2: 0.0002,
    });
    const reference = of(plain);
    const { map, mirrored } = alignWcs(target, reference, { width: 900, height: 600 }, 'affine');
    expect(mirrored).toBe(true);
    for (const [x, y] of [
      [0, 0],
      [899, 599],
    ]) {
      const there = skyToPixel(reference, ...pixelToSky(target, x, y));
      const [u, v] = mapPoint(map, x, y);
      expect(Math.hypot(u - (there?.[0] ?? 0), v - (there?.[1] ?? 0))).toBeLessThan(0.01);
    }
  });

  it('is refused for files that look elsewhere', () => {
    expect(() =>
      alignWcs(of(plain), of({ ...plain, CRVAL1: 263, CRVAL2: -22 }), { width: 900, height: 600 }, 'similarity'),
    ).toThrow(/The two WCS do not overlap on the sky/);
  });

  it('of a strand whose cards cannot be used is refused with its path, and the rest stays', () => {
    const stack = { width: 4, height: 4, planes: [new Float32Array(16).fill(0.5)] };
    const recipe = recipeOf([
      { id: 'A', from: { stack: 'A' } },
      { id: 'B', from: { stack: 'B' }, steps: [{ do: 'align', to: 'A', by: 'wcs' }] },
    ]);
    expect(() => evaluateRecipe(recipe, { A: stack, B: stack }, 'strands[1]')).toThrow(/No usable WCS for this strand/);
    expect(evaluateRecipe(recipe, { A: stack, B: stack }, 'strands[0]').graph.faults[0].path).toBe(
      'strands[1].steps[0].by',
    );
  });
});

const CORNERS: readonly (readonly [number, number, number, number])[] = [
  [0, 0, 83.787625554405, 21.970893627876],
  [899, 0, 83.399840692047, 21.988858753362],
  [0, 599, 83.800884378217, 22.210476619477],
  [899, 599, 83.412442131361, 22.228472281539],
  [3000, -2000, 82.456663029191, 21.227215986242],
];
