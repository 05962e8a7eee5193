import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { inpaintCircles } from '../inpaint/harmonic-fill';
import { downsample2x } from '@owl-loom/image/pyramid/pyramid';
import { smoothstep } from '@owl-loom/image/math/smoothstep';
import { detectStarField } from '../stars/field';
import { makeSky, SKIES } from '@owl-loom/testing/skies';
import { packStars, unpackStars } from './packed';
import { overSpike, type Spike } from './spike';
import { holeCircles, type RemovedStar, removeStars } from './remove-stars';
import { KNOTS, radiusAt } from './radial-profile';

const [width, height] = [640, 480];
const NOISE = 0.001;

/** A sky over gas whose brighter stars throw spikes, with what it would be without stars, and the spikes' own light. */
function sky(angles: readonly number[], fwhm: number, seed: number) {
  const { plane, truth } = makeSky({ width, height, seed, stars: 150, fwhm, beta: 3, noise: NOISE, faintest: 8 });
  const clean = Float32Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    return 0.07 + 0.02 * Math.sin(x / 60) * Math.cos(y / 45) + 0.004 * Math.sin((x + 2 * y) / 40);
  });
  const spikes = new Float32Array(width * height);
  const sigma = 0.45 * fwhm;
  for (const star of truth.filter(({ peak }) => peak > 40 * NOISE)) {
    for (const angle of angles.flatMap((a) => [a, a + Math.PI])) {
      for (let i = 0; i < spikes.length; i++) {
        const [dx, dy] = [(i % width) - star.x, Math.floor(i / width) - star.y];
        const u = dx * Math.cos(angle) + dy * Math.sin(angle);
        const d = dy * Math.cos(angle) - dx * Math.sin(angle);
        if (u <= 0 || u > 150 || Math.abs(d) > 6 * sigma) continue;
        const fall = smoothstep(u / fwhm) / (1 + (u / (6 * fwhm)) ** 1.7);
        spikes[i] += 0.06 * star.peak * fall * Math.exp(-(d ** 2) / (2 * sigma ** 2));
      }
    }
  }
  return { plane: plane.map((v, i) => Math.min(0.6, v + clean[i] - 0.05 + spikes[i])), clean, spikes };
}

function taken(plane: Float32Array, [w, h] = [width, height]) {
  const field = detectStarField(plane, w, h);
  const from = { planes: [plane], width: w, height: h, fields: [field], stars: field.stars };
  const { taken: found, left } = removeStars(from);
  const whole = { x: 0, y: 0, width: w, height: h };
  const out = left[0].slice();
  inpaintCircles(left[0], whole, out, whole, holeCircles(found), 0);
  return { out, found, spikes: found.flatMap(({ spikes }) => spikes[0]) };
}

/** The directions of spikes, both ways as one. */
const turns = (spikes: readonly Spike[]): number[] => [
  ...new Set(spikes.map(({ angle }) => Math.round(1e4 * ((angle + 2 * Math.PI) % Math.PI)) / 1e4)),
];

const QUARTER = Math.PI / 2;

describe('spikes', () => {
  it.each([
    ['four, aslant', [0.47, 0.47 + QUARTER], 3, 5],
    ['six, of narrow stars', [0.1, 0.1 + Math.PI / 3, 0.1 + (2 * Math.PI) / 3], 2.2, 6],
    ['four, along rows and columns, of wide stars', [0, QUARTER], 4.2, 8],
  ])('go with their stars, the gas under them stays: %s', (_, angles, fwhm, seed) => {
    const { plane, clean, spikes: light } = sky(angles, fwhm, seed);
    const { out, spikes } = taken(plane);
    // As many directions as there are, each found to a third of a degree.
    const found = turns(spikes);
    for (const angle of angles)
      expect(Math.min(...found.map((turn) => Math.abs(Math.sin(turn - angle))))).toBeLessThan(0.006);
    for (const turn of found)
      expect(Math.min(...angles.map((angle) => Math.abs(Math.sin(turn - angle))))).toBeLessThan(0.006);
    for (const { wide } of spikes) expect(Math.abs(wide / (0.45 * fwhm) - 1)).toBeLessThan(0.25);
    let [was, is, square, count] = [0, 0, 0, 0];
    for (let i = 0; i < out.length; i++) {
      if (!(light[i] > NOISE)) continue;
      was += light[i];
      is += out[i] - clean[i];
      square += (out[i] - clean[i]) ** 2;
      count++;
    }
    expect(count).toBeGreaterThan(2000);
    expect(Math.abs(is / was)).toBeLessThan(0.12);
    // What is left is noise, and little besides.
    expect(Math.sqrt(square / count)).toBeLessThan(1.35 * NOISE);
  });

  it.each(['ordinary', 'elongated', 'more gas than stars', 'twelve stars', 'wide wings'])(
    'are seen nowhere on a field that has none: %s',
    (name) => {
      const { plane, width: w, height: h } = makeSky(SKIES[name]);
      expect(taken(plane, [w, h]).spikes).toHaveLength(0);
    },
  );

  it('light a coarse pixel by the mean of the fine ones under it, and no less in all', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 6.28, noNaN: true }),
        fc.double({ min: 0.8, max: 3, noNaN: true }),
        fc.integer({ min: 1, max: 3 }),
        (angle, wide, level) => {
          const side = 256;
          const table = Float64Array.from({ length: KNOTS }, (_, k) => Math.max(0, 1 - radiusAt(k) / 90));
          const spike: Spike = { angle, wide, table, reach: 90 };
          const place = { x: 127.3, y: 128.6 };
          const of = (at: number) => {
            const n = side >> at;
            const plane = new Float32Array(n * n);
            overSpike({ x: 0, y: 0, width: n, height: n }, at, place, spike, 1, (i, light) => {
              plane[i] += light;
            });
            return plane;
          };
          let fine: Float32Array = of(0);
          for (let k = 0; k < level; k++) fine = downsample2x(fine, side >> k, side >> k);
          const coarse = of(level);
          const sum = (plane: Float32Array) => plane.reduce((s, v) => s + v, 0);
          expect(sum(coarse) / sum(fine)).toBeGreaterThan(0.9);
          expect(sum(coarse) / sum(fine)).toBeLessThan(1.1);
          const worst = coarse.reduce((max, v, i) => Math.max(max, Math.abs(v - fine[i])), 0);
          expect(worst).toBeLessThan(0.35);
        },
      ),
      { numRuns: 40 },
    );
  });

  it('are the same after they were packed, to single precision', () => {
    const table = Float64Array.from({ length: KNOTS }, (_, k) => Math.max(0, 0.3 - radiusAt(k) / 200));
    const spike = { angle: 1.25, wide: 1.4, table, reach: 47.5 };
    const light = { x: 30.5, y: 40.25, table, reach: 12, scatter: 0.001 };
    const star: RemovedStar = {
      lights: [light, undefined, light],
      spikes: [[spike, { ...spike, angle: 4.4 }], [], []],
      gap: 3,
    };
    const { beams } = unpackStars(packStars([star, star], 3, 100, 200));
    expect(beams.map((list) => list.map(({ spikes }) => spikes.length))).toEqual([[2, 2], [], [0, 0]]);
    const [first, second] = beams[0][1].spikes;
    expect([first.angle, second.angle, first.wide, first.reach]).toEqual([1.25, 4.4, 1.4, 47.5].map(Math.fround));
    first.table.forEach((v, k) => {
      if (radiusAt(k) < spike.reach) expect(v).toBeCloseTo(table[k], 6);
    });
  });
});
