import { describe, expect, it } from 'vitest';
import { alignStars, selectMatchStars } from '../registration/align';
import { type Affine, IDENTITY, invertAffine, mapPoint } from '@owl-loom/image/geometry/affine';
import { seen, starPoor, turned } from '@owl-loom/testing/fields';
import { detectStarField } from './field';

const [width, height] = [1500, 1000];

describe('a nebula with few stars and many knots', () => {
  it.each([
    [1, 60, 7],
    [2, 60, 7],
    [6, 400, 3],
    [7, 300, 4],
  ])('tells the width of its stars, and aligns by them (field %i, %i knots)', (seed, lumps, widest) => {
    const field = starPoor(seed, width, height, lumps, widest);
    const map = seed % 2 ? undefined : turned(width, height, 0.4, 1, 3.3, -2.1);
    const ha = detectStarField(seen(field, 'Ha', { fwhm: 2.4, noise: 0.001, seed: seed + 10 }), width, height);
    const oiii = detectStarField(seen(field, 'OIII', { fwhm: 3.3, noise: 0.001, seed: seed + 20, map }), width, height);
    expect(Math.abs(ha.fwhm / 2.4 - 1)).toBeLessThan(0.06);
    expect(Math.abs(oiii.fwhm / 3.3 - 1)).toBeLessThan(0.06);
    const found = alignStars(selectMatchStars(oiii.stars), selectMatchStars(ha.stars), 'similarity');
    const truth: Affine = map ? invertAffine(map) : IDENTITY;
    for (const [x, y] of [
      [0, 0],
      [width, 0],
      [0, height],
      [width, height],
    ]) {
      const [p, q] = [mapPoint(found.map, x, y), mapPoint(truth, x, y)];
      expect(Math.hypot(p[0] - q[0], p[1] - q[1])).toBeLessThan(0.3);
    }
  });

  it('aligns by eight common stars', () => {
    const field = starPoor(3, width, height);
    const eight = { ...field, stars: field.stars.slice(0, 8) };
    const planes = [
      seen(eight, 'Ha', { fwhm: 2.4, noise: 0.001, seed: 1 }),
      seen(eight, 'OIII', { fwhm: 3.3, noise: 0.001, seed: 2 }),
    ];
    const [ha, oiii] = planes.map((plane) => selectMatchStars(detectStarField(plane, width, height).stars));
    const { map } = alignStars(oiii, ha, 'similarity');
    const [x, y] = mapPoint(map, width, height);
    expect(Math.hypot(x - width, y - height)).toBeLessThan(0.3);
  });

  it('says how many stars there are where they do not tell', () => {
    const few = [0, 1, 2].map((i) => ({ x: 10 * i, y: i * i, flux: 1 }));
    expect(() => alignStars(few, few, 'similarity')).toThrow(/Only 3 stars.*structures or by WCS/);
  });
});
