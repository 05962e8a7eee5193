import { describe, expect, it } from 'vitest';
import { type Wcs, skyToPixel } from '@owl-loom/image/fits/wcs';
import { fieldStars, seen } from '@owl-loom/testing/fields';
import { randomFrom } from '@owl-loom/testing/random';
import { infoOf, recipeOf, type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { buildGraph } from '@owl-loom/engine/build/graph-builder';
import { runMeasurement } from '@owl-loom/engine/measurements/measure';
import { CATALOGUE } from './catalogue';
import { aperturePhotometry } from './photometry';

const [width, height] = [700, 500];
const GAINS = [0.6, 1, 1.7] as const;
const SKIES = [0.03, 0.02, 0.015] as const;

function planesOf(stars: readonly { x: number; y: number; flux: readonly number[] }[], seed: number): Float32Array[] {
  const random = randomFrom(seed);
  return [0, 1, 2].map((p) => {
    const plane = Float32Array.from({ length: width * height }, () => SKIES[p] + 0.0004 * random.normal());
    for (const s of stars) {
      const peak = (s.flux[p] * GAINS[p]) / (2 * Math.PI * 1.3 ** 2);
      for (let y = Math.max(0, Math.ceil(s.y - 8)); y <= Math.min(height - 1, s.y + 8); y++) {
        for (let x = Math.max(0, Math.ceil(s.x - 8)); x <= Math.min(width - 1, s.x + 8); x++)
          plane[y * width + x] += peak * Math.exp(-((x - s.x) ** 2 + (y - s.y) ** 2) / (2 * 1.3 ** 2));
      }
    }
    return plane;
  });
}

const random = randomFrom(40);
const field = Array.from({ length: 120 }, () => {
  const flux = Math.min(4, 0.1 * (1 - random.next()) ** -1);
  const hot = 0.25 * random.normal();
  return {
    x: width * random.next(),
    y: height * random.next(),
    flux: [flux * Math.exp(-hot), flux, flux * Math.exp(hot)],
  };
});

const run = (stack: TestStack, step: object) =>
  evaluateRecipe(
    recipeOf([{ id: 'C', from: { stack: 'C' }, steps: [{ do: 'calibrate', ...step }] }]),
    { C: stack },
    'strands[0]',
  );

describe('calibrate where the planes have unlike seeing', () => {
  it.each([
    [2.4, 2.6, 2.9],
    [2.4, 2.6, 3.8],
    [4.2, 2.5, 3],
  ])('is true to one in a hundred at FWHM %f, %f and %f', (...widths) => {
    const shares = { R: 0.8, G: 1, B: 1.25 };
    const [w, h] = [900, 700];
    const stars = fieldStars(12, { width: w, height: h, count: 260, faintest: 0.03 }, { G: 1 }).map((star) => ({
      ...star,
      peak: Object.fromEntries(Object.entries(shares).map(([filter, share]) => [filter, share * star.peak.G])),
    }));
    const made = { width: w, height: h, stars, gas: () => 0 };
    const planes = ['R', 'G', 'B'].map((filter, p) =>
      seen(made, filter, { fwhm: widths[p], noise: 0.0006, seed: p + 3, sky: 0.02 + 0.01 * p }),
    );
    const { measured } = run({ width: w, height: h, planes }, {});
    const { white } = measured['strands[0].steps[0]'] as { white: number[] };
    expect(Math.abs(white[0] * shares.R - 1)).toBeLessThan(0.01);
    expect(Math.abs(white[2] * shares.B - 1)).toBeLessThan(0.01);
  });
});

describe('calibrate', () => {
  it('on stars makes the mean star white, and leaves every sky where it is', () => {
    const { raster, measured } = run({ width, height, planes: planesOf(field, 1) }, {});
    const { white } = measured['strands[0].steps[0]'] as { white: number[] };
    expect(white[0] * GAINS[0]).toBeCloseTo(1, 1);
    expect(white[2] * GAINS[2]).toBeCloseTo(1, 1);
    raster.planes.forEach((plane, p) => {
      const sorted = plane.slice().sort();
      expect(sorted[sorted.length >> 1]).toBeCloseTo(SKIES[p], 3);
    });
  });

  it('by hand is sky + g·(x − sky)', () => {
    const planes = planesOf(field, 2);
    const { raster } = run({ width, height, planes }, { method: 'manual', white: [1.5, 1, 0.5] });
    const sky = planes[0].slice().sort()[(width * height) >> 1];
    const i = planes[0].reduce((best, v, k) => (v > planes[0][best] ? k : best), 0);
    expect(raster.planes[0][i]).toBeCloseTo(sky + 1.5 * (planes[0][i] - sky), 3);
    expect(() => run({ width, height, planes }, { method: 'manual' })).toThrow(
      /The method “manual” needs gains for red/,
    );
  });

  it('on the catalogue gives the stars their own colours, whatever the mean star is', () => {
    // A camera that looks at the catalogue's own field.
    const wcs: Wcs = {
      ra: CATALOGUE[0].ra,
      dec: CATALOGUE[0].dec,
      plane: { xx: -0.0012, xy: 0, tx: 0.0012 * 350, yx: 0, yy: 0.0012, ty: -0.0012 * 250 },
    };
    const stars = CATALOGUE.flatMap((entry) => {
      const at = skyToPixel(wcs, entry.ra, entry.dec);
      return at
        ? [{ x: at[0], y: at[1], flux: [entry.red, entry.green, entry.blue].map((m) => 0.15 * 10 ** (0.4 * (11 - m))) }]
        : [];
    }).filter((s) => s.flux[1] < 6);
    const planes = planesOf(stars, 3);
    const images = [{ rect: { x: 0, y: 0, width, height }, planes }];
    const fields = [runMeasurement({ kind: 'stars', nodes: [0] }, images)];
    const figure = runMeasurement({ kind: 'white', nodes: [0], wcs }, images, fields);
    if (figure.kind !== 'white') throw new Error('no white');
    expect(figure.stars).toBeGreaterThan(20);
    expect(Math.abs(figure.gains[0] * GAINS[0] - 1)).toBeLessThan(0.03);
    expect(Math.abs(figure.gains[2] * GAINS[2] - 1)).toBeLessThan(0.03);
    const elsewhere = { ...wcs, ra: 12 };
    expect(() => runMeasurement({ kind: 'white', nodes: [0], wcs: elsewhere }, images, fields)).toThrow(
      /Only 0 catalogue stars found/,
    );
  });

  it('on the catalogue without a place on the sky is refused with its path', () => {
    const graph = buildGraph(
      recipeOf([{ id: 'C', from: { stack: 'C' }, steps: [{ do: 'calibrate', method: 'catalogue' }] }]),
      new Map([['C', infoOf('C', { width: 2, height: 2, planes: [0, 1, 2].map(() => new Float32Array(4)) })]]),
    );
    expect(graph.faults).toEqual([
      { path: 'strands[0].steps[0].method', code: 'calibrate-wcs', message: expect.stringMatching(/needs a WCS/) },
    ]);
  });

  it('needs stars, and says so', () => {
    expect(() => run({ width, height, planes: planesOf(field.slice(0, 3), 4) }, {})).toThrow(
      /Only 3 usable stars in all channels/,
    );
  });
});

describe('a photometer', () => {
  it('measures a flux to within its own error, and none where the star stands on no data', () => {
    const off = Array.from({ length: 40 }, (_, seed) => {
      const [, plane] = planesOf([{ x: 60.3, y: 40.7, flux: [1, 1, 1] }], 500 + seed);
      const small = aperturePhotometry(plane, width, height, 60.3, 40.7, { radius: 6, inner: 9, outer: 15 });
      return ((small?.flux ?? 0) - 1) / (small?.fluxError ?? 1);
    });
    const spread = Math.sqrt(off.reduce((s, v) => s + v * v, 0) / off.length);
    expect(spread).toBeGreaterThan(0.6);
    expect(spread).toBeLessThan(1.5);
    const holed = planesOf([], 1)[1];
    holed[40 * width + 60] = Number.NaN;
    expect(aperturePhotometry(holed, width, height, 60, 40, { radius: 6, inner: 9, outer: 15 })).toBeUndefined();
  });
});
