import { expect, describe, it } from 'vitest';
import { planeNoise } from '@owl-loom/image/stats/noise';
import { makeSky, SKIES, type SkySpec, type TrueStar } from '@owl-loom/testing/skies';
import { recipeOf, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { moffat } from '../stars/moffat';
import { medianOfList } from '@owl-loom/image/stats/median';
import { convolveWithPsf, psfOf } from './psf';

const done = (planes: Float32Array[], width: number, height: number, params: object = {}, rect?: object) =>
  evaluateRecipe(
    recipeOf([{ id: 'A', from: { stack: 'A' }, steps: [{ do: 'deconvolve', ...params }] }]),
    { A: { width, height, planes } },
    'strands[0]',
    rect as never,
  );

describe('the profile as a sum of Gaussians', () => {
  it.each([
    [2.2, 2.5],
    [3, 4],
    [6, 10],
    [4, 20],
  ])('of FWHM %f and β %f keeps the light, and is the profile to four parts in a hundred of its top', (fwhm, beta) => {
    const side = 81;
    const point = new Float32Array(side * side);
    point[40 * side + 40] = 1;
    const made = convolveWithPsf(psfOf(fwhm, beta), point, side, side, undefined);
    expect(made.reduce((sum, v) => sum + v, 0)).toBeCloseTo(1, 4);
    const shape = moffat(fwhm, beta);
    // The light of Moffat's profile: π α² / (β − 1).
    const top = (beta - 1) / (Math.PI * ((fwhm / 2) ** 2 / (2 ** (1 / beta) - 1)));
    for (let x = 40; x < 40 + 2.5 * fwhm; x++)
      expect(Math.abs(made[40 * side + x] - top * shape(x - 40)) / top).toBeLessThan(0.04);
  });
});

/** Bright stars with nothing beside them. */
const lone = (truth: readonly TrueStar[], { fwhm, width, height }: SkySpec, noise: number): TrueStar[] =>
  truth.filter(
    (s) =>
      s.peak > 60 * noise &&
      s.peak < 0.6 &&
      Math.min(s.x, s.y, width - s.x, height - s.y) > 8 * fwhm &&
      truth.every((o) => o === s || Math.hypot(o.x - s.x, o.y - s.y) > 7 * fwhm || o.peak < 0.02 * s.peak),
  );

/** A star's light over the ground about it, its width by the Moffat profile that fits its core best, and the depth of its deepest ring. */
function look(plane: Float32Array, width: number, { x: sx, y: sy }: TrueStar, fwhm: number) {
  const far = Math.ceil(7 * fwhm);
  const rings = Array.from({ length: 9 }, (): number[] => []);
  const [ground, inner, core]: [number[], number[], [number, number][]] = [[], [], []];
  for (let y = Math.round(sy) - far; y <= sy + far; y++)
    for (let x = Math.round(sx) - far; x <= sx + far; x++) {
      const [r, v] = [Math.hypot(x - sx, y - sy), plane[y * width + x]];
      if (r > 4.5 * fwhm && r < 7 * fwhm) ground.push(v);
      if (r < 3 * fwhm) inner.push(v);
      rings[Math.floor(r / (0.5 * fwhm))]?.push(v);
      if (r < fwhm) core.push([r, v]);
    }
  const level = medianOfList(ground);
  const depth = Math.min(
    ...rings.filter((ring) => ring.length > 3).map((ring) => ring.reduce((a, b) => a + b, 0) / ring.length - level),
  );
  let [best, found] = [Number.POSITIVE_INFINITY, 0];
  for (let w = 0.4 * fwhm; w < 2 * fwhm; w += 0.02 * fwhm) {
    const shape = moffat(w, 3);
    let [pp, pv, vv] = [0, 0, 0];
    for (const [r, v] of core) {
      pp += shape(r) ** 2;
      pv += shape(r) * (v - level);
      vv += (v - level) ** 2;
    }
    if (vv - pv ** 2 / pp < best) [best, found] = [vv - pv ** 2 / pp, w];
  }
  return { light: inner.reduce((sum, v) => sum + v - level, 0), width: found, depth };
}

describe('deconvolve', () => {
  it.each(['ordinary', 'soft', 'wide wings', 'Gaussians', 'elongated'])(
    'on a field that is %s makes stars narrower by a third, without rings, and keeps their light',
    (name) => {
      const spec = SKIES[name];
      const { plane, width, height, truth } = makeSky(spec);
      const noise = planeNoise(plane, width, height);
      const [sharp] = done([plane], width, height).raster.planes;
      const stars = lone(truth, spec, noise);
      expect(stars.length).toBeGreaterThan(3);
      const [was, is] = [plane, sharp].map((of) => stars.map((star) => look(of, width, star, spec.fwhm)));
      expect(medianOfList(is.map((s, i) => s.width / was[i].width))).toBeLessThan(0.69);
      for (const { depth } of is) expect(depth / noise).toBeGreaterThan(-2);
      expect(Math.abs(medianOfList(is.map((s, i) => s.light / was[i].light - 1)))).toBeLessThan(0.01);
      expect(Math.abs(planeNoise(sharp, width, height) / noise - 1)).toBeLessThan(0.05);
    },
    30_000,
  );

  it('gives in any window what it gives for the whole', () => {
    const { plane, width, height } = makeSky(SKIES.ordinary);
    const whole = done([plane], width, height).raster.planes[0];
    for (const rect of [
      { x: 431, y: 333, width: 17, height: 9 },
      { x: 0, y: 690, width: 60, height: 10 },
    ]) {
      const part = done([plane], width, height, {}, rect).raster.planes[0];
      part.forEach((v, i) => {
        const at = (rect.y + Math.floor(i / rect.width)) * width + rect.x + (i % rect.width);
        expect(Math.abs(v - whole[at])).toBeLessThan(1e-6);
      });
    }
  }, 30_000);

  it('leaves stars that were cut off as they were, and changes nothing where there are no stars or it has no strength', () => {
    const { plane, width, height, truth } = makeSky({ width: 300, height: 240, seed: 3, stars: 60, fwhm: 3, beta: 4 });
    const cut = plane.map((v) => Math.min(0.08, v));
    const brightest = truth.reduce((a, b) => (b.peak > a.peak ? b : a));
    const { raster, measured } = done([cut], width, height);
    const at = Math.round(brightest.y) * width + Math.round(brightest.x);
    expect(raster.planes[0][at]).toBeCloseTo(cut[at], 6);
    expect(Object.values(measured)[0]).toMatchObject({ fwhm: [expect.closeTo(3, 0)] });
    expect(done([plane], width, height, { strength: 0 }).raster.planes[0]).toEqual(plane);
    const empty = makeSky({ width: 200, height: 150, seed: 4, stars: 0, fwhm: 3 }).plane;
    expect(done([empty], 200, 150).raster.planes[0]).toEqual(empty);
  });

  it('sharpens each colour by its own stars', () => {
    const of = (fwhm: number) => makeSky({ width: 300, height: 240, seed: 8, stars: 60, fwhm, beta: 4 });
    const planes = [of(2.4), of(3), of(3.8)].map(({ plane }) => plane);
    const { raster, measured } = done(planes, 300, 240);
    const { fwhm } = Object.values(measured)[0] as { fwhm: number[] };
    [2.4, 3, 3.8].forEach((wanted, p) => expect(Math.abs(fwhm[p] / wanted - 1)).toBeLessThan(0.08));
    planes.forEach((plane, p) => expect(raster.planes[p]).not.toEqual(plane));
  });
});
