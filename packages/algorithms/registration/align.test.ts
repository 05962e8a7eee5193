import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { recipeOf, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { randomFrom } from '@owl-loom/testing/random';
import { type Affine, compose, invertAffine, isPixelAligned, mapPoint } from '@owl-loom/image/geometry/affine';
import { findStars } from '../stars/detect';
import { alignStars, selectMatchStars } from './align';
import { type MatchStar, matchFields } from './match';
import { type AlignModel, fitTransform } from './solve';

const affine = fc.record({
  xx: fc.double({ min: -2, max: 2, noNaN: true }),
  xy: fc.double({ min: -2, max: 2, noNaN: true }),
  tx: fc.double({ min: -99, max: 99, noNaN: true }),
  yx: fc.double({ min: -2, max: 2, noNaN: true }),
  yy: fc.double({ min: -2, max: 2, noNaN: true }),
  ty: fc.double({ min: -99, max: 99, noNaN: true }),
});
const steep = (m: Affine) => Math.abs(m.xx * m.yy - m.xy * m.yx) > 0.05;

/** A similarity with a mirror where asked. */
function similarity(degrees: number, size: number, tx: number, ty: number, mirrored = false): Affine {
  const a = (degrees * Math.PI) / 180;
  const s = mirrored ? -1 : 1;
  return {
    xx: s * size * Math.cos(a),
    xy: -size * Math.sin(a),
    tx,
    yx: s * size * Math.sin(a),
    yy: size * Math.cos(a),
    ty,
  };
}

describe('affine maps', () => {
  it('are undone by their inverse, and compose in order', () => {
    fc.assert(
      fc.property(
        affine.filter(steep),
        affine,
        fc.double({ min: -50, max: 50, noNaN: true }),
        fc.double({ min: -50, max: 50, noNaN: true }),
        (m, n, x, y) => {
          const [u, v] = mapPoint(invertAffine(m), ...mapPoint(m, x, y));
          expect(Math.hypot(u - x, v - y)).toBeLessThan(1e-8);
          const there = mapPoint(n, ...mapPoint(m, x, y));
          const both = mapPoint(compose(m, n), x, y);
          expect(Math.hypot(there[0] - both[0], there[1] - both[1])).toBeLessThan(1e-8);
        },
      ),
    );
  });

  it('know whether they take pixels onto pixels', () => {
    expect(isPixelAligned(similarity(0, 1, 3, -4))).toBe(true);
    expect(isPixelAligned({ xx: 0, xy: -1, tx: 9, yx: 1, yy: 0, ty: 0 })).toBe(true);
    expect(isPixelAligned(similarity(0, 1, 0.5, 0))).toBe(false);
    expect(isPixelAligned(similarity(1, 1, 0, 0))).toBe(false);
  });
});

describe('a solved map', () => {
  it.each<[AlignModel, Affine]>([
    ['shift', similarity(0, 1, 3.7, -2.2)],
    ['similarity', similarity(131, 1.7, 40, -9)],
    ['similarity', similarity(12, 0.5, 4, 90, true)],
    ['affine', { xx: 1.1, xy: 0.2, tx: 5, yx: -0.3, yy: 0.8, ty: -7 }],
  ])('by %s gives back the one that moved the points', (model, truth) => {
    const random = randomFrom(3);
    const pairs = Array.from({ length: 9 }, () => {
      const [x, y] = [400 * random.next(), 300 * random.next()];
      const [u, v] = mapPoint(truth, x, y);
      return { x, y, u, v, weight: 0.1 + random.next() };
    });
    const found = fitTransform(pairs, model, model === 'similarity' && truth.xx * truth.yy - truth.xy * truth.yx < 0);
    for (const key of ['xx', 'xy', 'tx', 'yx', 'yy', 'ty'] as const) expect(found?.[key]).toBeCloseTo(truth[key], 8);
  });
});

/** A field of stars, brightest first, and what another camera sees of it: moved, with errors of place and flux, some missing, some strange. */
function fields(
  seed: number,
  truth: Affine,
  { count = 220, lost = 0.25, error = 0.1 } = {},
): { target: MatchStar[]; reference: MatchStar[] } {
  const random = randomFrom(seed);
  const make = (): MatchStar => ({
    x: 1800 * random.next(),
    y: 1200 * random.next(),
    flux: (1 - random.next()) ** -1.3,
  });
  const sky = Array.from({ length: count }, make);
  const seen = () => sky.filter(() => random.next() > lost);
  const back = invertAffine(truth);
  const by = (list: MatchStar[]) => list.sort((a, b) => b.flux - a.flux);
  const moved = seen().map((s) => {
    const [x, y] = mapPoint(back, s.x, s.y);
    return {
      x: x + error * random.normal(),
      y: y + error * random.normal(),
      flux: s.flux * Math.exp(0.5 * random.normal()),
    };
  });
  const strangers = Array.from({ length: count * 0.15 }, make);
  return { reference: by([...seen(), ...strangers]), target: by(moved) };
}

describe('star fields', () => {
  it.each([
    ['shifted', similarity(0, 1, 14.3, -8.1), false],
    ['turned a little', similarity(1.2, 1, 9, 4), false],
    ['turned half round', similarity(180, 1, 1799, 1199), false],
    ['binned', similarity(0.4, 2, 11, 3), false],
    ['mirrored', similarity(3, 1, 1790, 6, true), true],
    ['overlapping by half', similarity(-7, 1, 900, 100), false],
  ])('that are %s are matched', (_, truth, mirrored) => {
    const { target, reference } = fields(11, truth);
    const found = matchFields(target, reference);
    expect(found?.mirrored).toBe(mirrored);
    const { map, rms, mirrored: turnedOver } = alignStars(target, reference, 'similarity');
    expect(turnedOver).toBe(mirrored);
    for (const [x, y] of [
      [0, 0],
      [600, 0],
      [0, 500],
      [600, 500],
    ]) {
      const [a, b] = [mapPoint(map, x, y), mapPoint(truth, x, y)];
      expect(Math.hypot(a[0] - b[0], a[1] - b[1])).toBeLessThan(0.1 * Math.max(1, Math.hypot(truth.xx, truth.yx)));
    }
    expect(rms).toBeGreaterThan(0.05);
    expect(rms).toBeLessThan(0.4);
  });

  it('that are not the same are refused, however many stars they have', () => {
    for (let seed = 0; seed < 12; seed++) {
      const one = fields(100 + seed, similarity(0, 1, 0, 0), { count: 60 + 40 * seed });
      const other = fields(200 + seed, similarity(0, 1, 0, 0), { count: 60 + 40 * seed });
      expect(() => alignStars(one.target, other.reference, 'similarity')).toThrow(/do not match/);
    }
  });

  it('with too few stars are refused in one sentence', () => {
    const { target, reference } = fields(1, similarity(0, 1, 2, 2));
    expect(() => alignStars(target.slice(0, 4), reference, 'similarity')).toThrow(
      /Only 4 stars found in the image to be aligned/,
    );
    expect(() => alignStars(target, [], 'similarity')).toThrow(/No stars found in the reference/);
  });

  it('that are turned are no matter for a shift', () => {
    const { target, reference } = fields(5, similarity(4, 1, 2, 2));
    expect(() => alignStars(target, reference, 'shift')).toThrow(/Use the model “similarity”/);
  });
});

/** A noisy picture of Gaussian stars over a sloping sky, as a camera sees them through a map. */
function picture(
  width: number,
  height: number,
  stars: readonly MatchStar[],
  back: Affine,
  fwhm: number,
  noise: number,
  seed: number,
): Float32Array {
  const random = randomFrom(seed);
  const sigma = fwhm / 2.3548;
  const out = Float32Array.from(
    { length: width * height },
    (_, i) => 0.03 + 0.00001 * (i % width) + noise * random.normal(),
  );
  for (const star of stars) {
    const [sx, sy] = mapPoint(back, star.x, star.y);
    for (let y = Math.max(0, Math.ceil(sy - 10)); y <= Math.min(height - 1, sy + 10); y++) {
      for (let x = Math.max(0, Math.ceil(sx - 10)); x <= Math.min(width - 1, sx + 10); x++)
        out[y * width + x] += star.flux * Math.exp(-((x - sx) ** 2 + (y - sy) ** 2) / (2 * sigma ** 2));
    }
  }
  return out;
}

describe('the align step', () => {
  const [width, height] = [700, 500];
  const random = randomFrom(8);
  const stars = Array.from({ length: 160 }, () => ({
    x: width * random.next(),
    y: height * random.next(),
    flux: Math.min(0.5, 0.008 * (1 - random.next()) ** -1),
  }));
  const still = similarity(0, 1, 0, 0);

  it.each([
    ['turned and shifted', similarity(1.2, 1, 9.4, -5.3)],
    ['mirrored', similarity(2, 1, 690, 3, true)],
    ['binned', similarity(0.3, 2, 3, 2)],
  ])(
    'brings noisy pictures that are %s onto each other to a tenth of a pixel in the corners, and on to their pixels',
    (_, truth) => {
      const size = Math.hypot(truth.xx, truth.yx);
      const [w, h] = size > 1.5 ? [350, 250] : [width, height];
      const stacks = {
        A: { width, height, planes: [picture(width, height, stars, still, 3.2, 0.0006, 1)] },
        B: {
          width: w,
          height: h,
          planes: [picture(w, h, stars, invertAffine(truth), size > 1.5 ? 1.8 : 2.8, 0.0006, 2)],
        },
      };
      const recipe = recipeOf([
        { id: 'A', from: { stack: 'A' } },
        { id: 'B', from: { stack: 'B' }, steps: [{ do: 'align', to: 'A' }] },
      ]);
      const { raster, measured } = evaluateRecipe(recipe, stacks, 'strands[1]');
      const { matrix, mirrored, matched } = measured['strands[1].steps[0]'] as {
        matrix: number[][];
        mirrored: boolean;
        matched: number;
      };
      expect(mirrored).toBe(truth.xx * truth.yy - truth.xy * truth.yx < 0);
      expect(matched).toBeGreaterThan(25);
      for (const [x, y] of [
        [0, 0],
        [w - 1, 0],
        [0, h - 1],
        [w - 1, h - 1],
      ]) {
        const [u, v] = mapPoint(truth, x, y);
        expect(
          Math.hypot(
            matrix[0][0] * x + matrix[0][1] * y + matrix[0][2] - u,
            matrix[1][0] * x + matrix[1][1] * y + matrix[1][2] - v,
          ),
        ).toBeLessThan(0.1);
      }
      // The moved picture has its stars where the reference has them.
      const there = selectMatchStars(findStars(raster.planes[0], raster.rect.width, raster.rect.height).stars);
      const bright = there.slice(0, 25).filter((s) => s.x > 20 && s.y > 20 && s.x < width - 20 && s.y < height - 20);
      const misses = bright
        .map((s) => Math.min(...stars.map((t) => Math.hypot(t.x - s.x, t.y - s.y))))
        .sort((a, b) => a - b);
      expect(misses[misses.length >> 1]).toBeLessThan(0.12);
    },
  );

  it('is refused in one sentence where the fields differ, and the rest of the recipe stays whole', () => {
    const other = Array.from({ length: 160 }, () => ({
      x: width * random.next(),
      y: height * random.next(),
      flux: Math.min(0.5, 0.008 * (1 - random.next()) ** -1),
    }));
    const stacks = {
      A: { width, height, planes: [picture(width, height, stars, still, 3, 0.0006, 1)] },
      B: { width, height, planes: [picture(width, height, other, still, 3, 0.0006, 2)] },
    };
    const recipe = recipeOf([
      { id: 'A', from: { stack: 'A' } },
      { id: 'B', from: { stack: 'B' }, steps: [{ do: 'align', to: 'A' }] },
    ]);
    expect(() => evaluateRecipe(recipe, stacks, 'strands[1]')).toThrow(/do not match/);
    expect(evaluateRecipe(recipe, stacks, 'strands[0]').raster.planes[0].length).toBe(width * height);
  });
});
