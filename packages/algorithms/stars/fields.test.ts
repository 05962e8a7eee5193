import { describe, expect, it } from 'vitest';
import { alignStars, selectMatchStars } from '../registration/align';
import { compose, IDENTITY, mapPoint } from '@owl-loom/image/geometry/affine';
import { measureSeeing } from '../continuum/seeing';
import { type MadeSky, makeSky, SKIES, type TrueStar } from '@owl-loom/testing/skies';
import { randomFrom } from '@owl-loom/testing/random';
import { detectStarField } from './field';

/** Fields in which a narrow star does not tell whether its light was summed over each pixel are known to a tenth. */
const NARROW = new Set(['sharp', 'sharp Gaussians']);

/** What of the truth is found, and what is found that is not true. */
function scoreOf({ plane, width, height, truth }: MadeSky) {
  const field = detectStarField(plane, width, height);
  const near = (a: { x: number; y: number }, list: readonly { x: number; y: number }[]) =>
    list.some((b) => Math.abs(a.x - b.x) < 2.5 && Math.hypot(a.x - b.x, a.y - b.y) < 2.5);
  const inside = (s: TrueStar) => s.x > 20 && s.y > 20 && s.x < width - 21 && s.y < height - 21;
  const there = (s: TrueStar) => Number.isFinite(plane[Math.round(s.y) * width + Math.round(s.x) - 20]);
  const clear = truth.filter((s) => s.peak > 0.04 && inside(s) && there(s));
  return {
    field,
    falses: field.stars.filter((s) => !near(s, truth)).length,
    caught: clear.filter((s) => near(s, field.stars)).length / clear.length,
  };
}

describe('the stars of fields unlike each other', () => {
  it.each(Object.keys(SKIES).filter((name) => name !== 'crowded'))('%s', (name) => {
    const spec = SKIES[name];
    const { field, falses, caught } = scoreOf(makeSky(spec));
    const within = NARROW.has(name) ? 0.1 : 0.08;
    expect(Math.abs(field.fwhm / spec.fwhm - 1)).toBeLessThan(within);
    expect(Math.abs(measureSeeing(field).fwhm / spec.fwhm - 1)).toBeLessThan(within);
    expect(falses).toBeLessThanOrEqual(2);
    expect(caught).toBeGreaterThan(0.85);
  });

  it('five thousand a megapixel', () => {
    const spec = { ...SKIES.crowded, width: 1000, height: 750, stars: 3750 };
    const sky = makeSky(spec);
    const { stars, fwhm } = detectStarField(sky.plane, sky.width, sky.height);
    expect(Math.abs(fwhm / spec.fwhm - 1)).toBeLessThan(0.08);
    expect(stars.length).toBeGreaterThan(2000);
    expect(stars.length).toBeLessThan(3750);
  });

  it('rings with a hole, as of a defocused field, are none', () => {
    const { plane, width, height } = makeSky({ ...SKIES.ordinary, stars: 100, doughnut: 5 });
    expect(detectStarField(plane, width, height).stars.length).toBeLessThan(8);
  });

  it('fluxes follow the truth, star by star', () => {
    const { plane, width, height, truth } = makeSky({ ...SKIES.Gaussians, noise: 0.0003 });
    const ratios = detectStarField(plane, width, height).stars.flatMap((star) => {
      const own = truth.filter((t) => Math.hypot(t.x - star.x, t.y - star.y) < 1 && t.peak > 0.02);
      return own.length === 1 && !star.saturated ? [star.flux / own[0].peak] : [];
    });
    ratios.sort((a, b) => a - b);
    const at = (q: number) => ratios[Math.floor(q * ratios.length)];
    expect(ratios.length).toBeGreaterThan(40);
    expect((at(0.75) - at(0.25)) / at(0.5)).toBeLessThan(0.04);
  });
});

describe('fields with many false stars', () => {
  /** Stars of a field as another picture of it would show them: moved, some missing, with others that are none. */
  function shown(seed: number, false_: number, map = IDENTITY) {
    const random = randomFrom(seed);
    const truth = makeField(91);
    const seen = truth.flatMap((s) => {
      if (random.next() < 0.25) return [];
      const [x, y] = mapPoint(map, s.x, s.y);
      return [
        { x: x + 0.05 * random.normal(), y: y + 0.05 * random.normal(), flux: s.flux * (0.7 + 0.6 * random.next()) },
      ];
    });
    const others = Array.from({ length: false_ }, () => ({
      x: 1200 * random.next(),
      y: 900 * random.next(),
      flux: 30 * random.next() ** 3,
    }));
    return [...seen, ...others].sort((a, b) => b.flux - a.flux);
  }
  const makeField = (seed: number) => {
    const random = randomFrom(seed);
    return Array.from({ length: 150 }, () => ({
      x: 1200 * random.next(),
      y: 900 * random.next(),
      flux: (1 - random.next()) ** -1,
    }));
  };

  it.each([
    ['as many as true ones', 150],
    ['twice as many', 300],
  ])('%s are matched to a tenth of a pixel, turned and shifted', (_, falses) => {
    const turn = 0.21;
    const map = compose(
      { ...IDENTITY, xx: Math.cos(turn), xy: -Math.sin(turn), yx: Math.sin(turn), yy: Math.cos(turn) },
      { ...IDENTITY, tx: 31.4, ty: -12.7 },
    );
    const found = alignStars(shown(7, falses), shown(8, falses, map), 'similarity');
    for (const [x, y] of [
      [100, 100],
      [1100, 100],
      [600, 450],
      [1100, 800],
    ]) {
      const [u, v] = mapPoint(found.map, x, y);
      const [p, q] = mapPoint(map, x, y);
      expect(Math.hypot(u - p, v - q)).toBeLessThan(0.1);
    }
  });

  it('of other skies are refused', () => {
    const random = randomFrom(3);
    const other = Array.from({ length: 300 }, () => ({
      x: 1200 * random.next(),
      y: 900 * random.next(),
      flux: (1 - random.next()) ** -1,
    }));
    expect(() => alignStars(shown(7, 150), other, 'similarity')).toThrow(/do not match/);
  });

  it('of gas in one picture and not in the other: the pictures align all the same', () => {
    const spec = { ...SKIES['more gas than stars'], stars: 90 };
    const [gas, plain] = [makeSky(spec), makeSky({ ...spec, knots: 0 })];
    const stars = ({ plane, width, height }: MadeSky) => selectMatchStars(detectStarField(plane, width, height).stars);
    const { map } = alignStars(stars(gas), stars(plain), 'similarity');
    expect(Math.hypot(map.tx, map.ty)).toBeLessThan(0.15);
    expect(Math.abs(map.xx - 1)).toBeLessThan(3e-4);
  });
});
