import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { linearToLab } from '../colour/lab';
import { linearToSrgbFast, srgbToLinearFast } from '../colour/tables';
import { linearToSrgb, srgbToLinear } from '../colour/srgb';
import type { Recipe } from '@owl-loom/recipe/schema';
import { randomFrom, scene } from '@owl-loom/testing/random';
import { graphOf, mono, recipeOf, strand, type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { replaceLuminanceLab } from './luminance';

const unit = fc.double({ min: 0, max: 1, noNaN: true });

/** One colour with another luminance. */
function lit(colour: readonly number[], luminance: number): number[] {
  const rect = { x: 0, y: 0, width: 1, height: 1 };
  const raster = (values: readonly number[]) => ({ rect, planes: values.map((v) => Float32Array.of(v)) });
  const out = raster([0, 0, 0]);
  replaceLuminanceLab([raster(colour), raster([luminance])], out, () => undefined);
  return out.planes.map(([v]) => v);
}
const lab = (colour: readonly number[]) =>
  linearToLab([srgbToLinear(colour[0]), srgbToLinear(colour[1]), srgbToLinear(colour[2])]);

it('the tables follow the functions', () => {
  fc.assert(
    fc.property(fc.double({ min: -0.5, max: 1.5, noNaN: true }), (v) => {
      expect(Math.abs(srgbToLinearFast(v) - srgbToLinear(v))).toBeLessThan(1e-8);
      expect(Math.abs(linearToSrgbFast(v) - linearToSrgb(v))).toBeLessThan(2e-6);
    }),
    { numRuns: 2000 },
  );
});

describe('a stretched colour with another luminance', () => {
  it('has its lightness, keeps its hue, and its chroma where that can be shown', () => {
    fc.assert(
      fc.property(fc.tuple(unit, unit, unit), fc.double({ min: 0.05, max: 0.95, noNaN: true }), (colour, luminance) => {
        const made = lit(colour, luminance);
        for (const v of made) expect(v > -1e-4 && v < 1 + 1e-4).toBe(true);
        const [[, a0, b0], [l, a, b]] = [lab(colour), lab(made)];
        expect(Math.abs(l - lab([luminance, luminance, luminance])[0])).toBeLessThan(0.02);
        // The same hue: nothing across it, and no more than there was along it.
        const chroma = Math.hypot(a0, b0);
        if (chroma < 1) return;
        expect(Math.abs(a * b0 - b * a0) / chroma).toBeLessThan(0.05);
        const share = (a * a0 + b * b0) / chroma ** 2;
        expect(share).toBeGreaterThan(-0.01);
        expect(share).toBeLessThan(1.01);
        // What is drawn in stands at the edge of what can be shown.
        if (share < 0.99)
          expect(Math.min(...made.map((v) => Math.min(Math.abs(v), Math.abs(1 - v))))).toBeLessThan(3e-3);
      }),
      { numRuns: 400 },
    );
  });

  it('keeps all the chroma of a mild colour', () => {
    const mild = fc.double({ min: 0.4, max: 0.5, noNaN: true });
    fc.assert(
      fc.property(fc.tuple(mild, mild, mild), mild, (colour, luminance) => {
        const [before, after] = [lab(colour), lab(lit(colour, luminance))];
        for (const k of [1, 2]) expect(Math.abs(after[k] - before[k])).toBeLessThan(0.02);
      }),
    );
  });

  it('of its own lightness is itself', () => {
    fc.assert(
      fc.property(fc.tuple(unit, unit, unit), (colour) => {
        const y = linearToSrgb(
          0.2126390059 * srgbToLinear(colour[0]) +
            0.7151686788 * srgbToLinear(colour[1]) +
            0.0721923154 * srgbToLinear(colour[2]),
        );
        lit(colour, y).forEach((v, p) => expect(v).toBeCloseTo(colour[p], 3));
      }),
    );
  });

  it('where either has no data there is none', () => {
    expect(lit([0.5, 0.2, 0.1], Number.NaN)).toEqual([Number.NaN, Number.NaN, Number.NaN]);
    expect(lit([0.5, Number.NaN, 0.1], 0.4)).toEqual([Number.NaN, Number.NaN, Number.NaN]);
  });
});

describe('a linear colour with another luminance', () => {
  const [width, height] = [220, 180];
  const light = scene(4, width, height, { sky: 0, clouds: 0.05, stars: 40 });
  const skies = [0.03, 0.02, 0.05];
  const tint = [1.4, 0.9, 0.5];
  const noisy = (level: number, by: number, noise: number, seed: number): TestStack => {
    const random = randomFrom(seed);
    return mono(width, height, (x, y) => level + by * light[y * width + x] + noise * random.normal());
  };
  const stacks = {
    R: noisy(skies[0], tint[0], 0.004, 1),
    G: noisy(skies[1], tint[1], 0.004, 2),
    B: noisy(skies[2], tint[2], 0.004, 3),
    // Much less noise, and another brightness.
    L: noisy(0.11, 2.6, 0.0015, 4),
  };
  const recipe = (luminance?: Record<string, number>): Recipe =>
    recipeOf([
      ...['R', 'G', 'B', 'L'].map((id) => strand(id)),
      { id: 'C', from: { mix: { red: { R: 1 }, green: { G: 1 }, blue: { B: 1 }, ...(luminance && { luminance }) } } },
    ]);
  const planes = (luminance?: Record<string, number>) =>
    evaluateRecipe(recipe(luminance), stacks, 'strands[4]').raster.planes;
  const [plain, lit] = [planes(), planes({ L: 1 })];
  const off = (list: readonly Float32Array[], p: number, i: number) => list[p][i] - skies[p] - tint[p] * light[i];
  const rms = (values: readonly number[]) => Math.sqrt(values.reduce((sum, v) => sum + v * v, 0) / values.length);

  it('has no cast and the colour’s own brightness, with the noise of the luminance where there is light', () => {
    const bright = [...light.keys()].filter((i) => light[i] > 0.06 && light[i] < 0.4);
    expect(bright.length).toBeGreaterThan(500);
    for (const p of [0, 1, 2]) {
      const mean = bright.reduce((sum, i) => sum + off(lit, p, i), 0) / bright.length;
      expect(Math.abs(mean)).toBeLessThan(0.003);
    }
    // Brightness is where noise is seen.
    const grey = (list: readonly Float32Array[], i: number) =>
      0.2126 * off(list, 0, i) + 0.7152 * off(list, 1, i) + 0.0722 * off(list, 2, i);
    expect(rms(bright.map((i) => grey(lit, i)))).toBeLessThan(0.6 * rms(bright.map((i) => grey(plain, i))));
  });

  it('leaves the level of the sky, and keeps it quiet', () => {
    const dark = [...light.keys()].filter((i) => light[i] < 0.0005);
    expect(dark.length).toBeGreaterThan(300);
    for (const p of [0, 1, 2]) {
      const mean = dark.reduce((sum, i) => sum + lit[p][i] - skies[p], 0) / dark.length;
      expect(Math.abs(mean)).toBeLessThan(0.0015);
      // Less of its own noise, and some of that of green, of which its brightness was made.
      expect(rms(dark.map((i) => off(lit, p, i)))).toBeLessThan(1.25 * rms(dark.map((i) => off(plain, p, i))));
    }
  });

  it('is the same whatever the luminance’s own scale and sky', () => {
    const { L, ...rest } = stacks;
    const moved = { ...rest, L: { ...L, planes: [L.planes[0].map((v) => 0.3 + 0.2 * v)] } };
    const again = evaluateRecipe(recipe({ L: 1 }), moved, 'strands[4]').raster.planes;
    again.forEach((plane, p) => {
      const worst = plane.reduce((max, v, i) => Math.max(max, Math.abs(v - lit[p][i])), 0);
      expect(worst).toBeLessThan(2e-3);
    });
  });

  it('counts the column’s weights as those of the others, a colour strand by its luminance', () => {
    const doubled = planes({ L: 3 });
    doubled.forEach((plane, p) => plane.forEach((v, i) => expect(Math.abs(v - lit[p][i])).toBeLessThan(2e-3)));
    const { faults } = graphOf(recipeOf([strand('A'), { id: 'M', from: { mix: { luminance: { A: 1 } } } }]), {
      A: stacks.R,
    });
    expect(faults[0]).toMatchObject({ path: 'strands[1].from.mix' });
    expect(faults[0].message).toMatch(/Luminance needs a colour/);
  });
});
