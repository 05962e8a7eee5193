import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addNoise, scene } from '@owl-loom/testing/random';
import type { Step } from '@owl-loom/recipe/schema';
import { skyLevel } from '@owl-loom/image/stats/sky';
import { makeSky } from '@owl-loom/testing/skies';
import { mono, recipeOf, strand, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { type StretchCurve, curveOf, strengthFor } from './curves';

const CURVES: StretchCurve[] = ['asinh', 'midtone', 'power', 'log'];
const unit = fc.double({ min: 0, max: 1, noNaN: true });

describe('stretch curves', () => {
  it('are the formulas of the design', () => {
    fc.assert(
      fc.property(unit, fc.double({ min: 0.01, max: 5000, noNaN: true }), (t, s) => {
        expect(curveOf('asinh', s)(t)).toBeCloseTo(Math.asinh(s * t) / Math.asinh(s), 10);
        expect(curveOf('log', s)(t)).toBeCloseTo(Math.log(1 + s * t) / Math.log(1 + s), 10);
        expect(curveOf('power', s)(t)).toBeCloseTo(t ** s, 10);
      }),
    );
    fc.assert(
      fc.property(unit, fc.double({ min: 0.001, max: 0.999, noNaN: true }), (t, s) => {
        expect(curveOf('midtone', s)(t)).toBeCloseTo(((s - 1) * t) / ((2 * s - 1) * t - s), 10);
      }),
    );
    expect(curveOf('midtone', 0.13)(0.13)).toBeCloseTo(0.5, 12);
  });

  it.each(CURVES)('%s runs from 0 to 1 and never falls', (curve) => {
    const strength =
      curve === 'midtone'
        ? fc.double({ min: 0.001, max: 0.999, noNaN: true })
        : fc.double({ min: 1e-6, max: 1e5, noNaN: true });
    fc.assert(
      fc.property(strength, unit, unit, (s, t, u) => {
        const f = curveOf(curve, s);
        expect(f(0)).toBeCloseTo(0, 12);
        expect(f(1)).toBeCloseTo(1, 9);
        expect(f(Math.max(t, u))).toBeGreaterThanOrEqual(f(Math.min(t, u)) - 1e-12);
      }),
    );
  });

  it.each(CURVES)('%s finds the strength that puts the sky where it should be', (curve) => {
    fc.assert(
      fc.property(
        fc.double({ min: 1e-4, max: 0.1, noNaN: true }),
        fc.double({ min: 0.12, max: 0.4, noNaN: true }),
        (t, target) => {
          expect(curveOf(curve, strengthFor(curve, t, target))(t)).toBeCloseTo(target, 6);
        },
      ),
    );
  });
});

describe('the automatic stretch', () => {
  const [width, height] = [300, 200];
  const stack = { width, height, planes: [addNoise(scene(31, width, height), 0, 1, 0.001, 32)] };

  /** Mostly sky, so that the median of what is made of it is that of the sky. */
  const open = {
    width,
    height,
    planes: [addNoise(scene(33, width, height, { clouds: 0, stars: 20 }), 0, 1, 0.001, 34)],
  };
  const medianOf = (plane: Float32Array): number => plane.slice().sort()[plane.length >> 1];

  it.each(CURVES)('by %s puts the sky on its target and blackens almost nothing', (curve) => {
    const recipe = recipeOf([{ id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'stretch', curve, target: 0.2 }] }]);
    const [plane] = evaluateRecipe(recipe, { Ha: stack }, 'strands[0]').raster.planes;
    const near = stack.planes[0]
      .map((v, i) => (Math.abs(v - 0.0203) < 0.0002 ? plane[i] : Number.NaN))
      .filter((v) => !Number.isNaN(v));
    const mean = near.reduce((a, b) => a + b, 0) / near.length;
    expect(Math.abs(mean - 0.2)).toBeLessThan(0.04);
    // The quantile itself is black too: one pixel more at the most.
    expect(plane.filter((v) => v <= 0).length).toBeLessThanOrEqual(0.001 * plane.length + 1);
    expect(Math.max(...plane)).toBeLessThanOrEqual(1);
  });

  describe('of planes whose skies differ', () => {
    // Light of one colour in all three, over skies of their own; the noise is small beside what sets these apart.
    const planes = [0.01, 0.02, 0.03].map((sky, i) => addNoise(scene(31, width, height, { sky }), 0, 1, 0.001, 40 + i));
    const of = (step: object, path = 'strands[0]') =>
      evaluateRecipe(
        recipeOf([{ id: 'C', from: { stack: 'C' }, steps: [{ do: 'stretch', ...step }] }]),
        { C: { width, height, planes } },
        path,
      );
    const skies = (step: object) => of(step).raster.planes.map((plane) => skyLevel(plane).sky);

    it.each(['linked', 'hue', 'unlinked'])('%s brings all skies to the target', (colour) => {
      // By hue the noise of one plane goes into all three, which moves their middle a little.
      const within = colour === 'hue' ? 0.03 : 0.012;
      for (const sky of skies({ colour, target: 0.2 })) expect(Math.abs(sky - 0.2)).toBeLessThan(within);
    });

    it('linked has one strength, and black as far below each sky', () => {
      const { strength, black } = of({}).measured['strands[0].steps[0]'] as { strength: number; black: number[] };
      expect(strength).toBeGreaterThan(1);
      expect(black[2] - black[0]).toBeCloseTo(0.02, 3);
      expect(black[1] - black[0]).toBeCloseTo(0.01, 3);
    });

    it('skies that differ by less than the noise stay as they are', () => {
      const near = [0.0202, 0.02, 0.0204].map((sky, i) =>
        addNoise(scene(31, width, height, { sky, stars: 0, clouds: 0 }), 0, 1, 0.001, 40 + i),
      );
      const { measured } = evaluateRecipe(
        recipeOf([{ id: 'C', from: { stack: 'C' }, steps: [{ do: 'stretch' }] }]),
        { C: { width, height, planes: near } },
        'strands[0]',
      );
      expect(typeof (measured['strands[0].steps[0]'] as { black: unknown }).black).toBe('number');
    });

    it('a line in red and green alone has a sky without a tint', () => {
      const layers = [
        {
          id: 'line',
          of: { mix: { red: { Ha: 1 }, green: { Ha: 0.4 } }, weights: 'as-is' as const },
          steps: [{ do: 'stretch' }],
        },
      ];
      const { raster } = evaluateRecipe(recipeOf([strand('Ha')], { layers }), { Ha: open });
      const [red, green, blue] = raster.planes.map(medianOf);
      for (const sky of [red, green, blue]) expect(Math.abs(sky - 0.16)).toBeLessThan(0.01);
    });
  });

  it('puts the sky on a dark target by its black, and never by a curve without strength', () => {
    for (const target of [0, 0.004, 0.05]) {
      const { raster, measured } = evaluateRecipe(
        recipeOf([{ id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'stretch', target }] }]),
        { Ha: open },
        'strands[0]',
      );
      expect(Math.abs(medianOf(raster.planes[0]) - target)).toBeLessThan(0.01);
      expect((measured['strands[0].steps[0]'] as { strength: number }).strength).toBeGreaterThan(0.5);
    }
  });

  it('stretches stars alone as the picture that they come from, their sky at 0', () => {
    const sky = makeSky({ width, height, seed: 3, stars: 40, fwhm: 3, beta: 4, noise: 0.0008, faintest: 40 });
    const stacks = { L: { width, height, planes: [sky.plane] } };
    const of = (steps: Step[]) =>
      evaluateRecipe(recipeOf([strand('L', [...steps, { do: 'stretch' }])]), stacks, 'strands[0]');
    const [whole, alone] = [of([]), of([{ do: 'stars-only' }])];
    const [a, b] = [whole.raster.planes[0], alone.raster.planes[0]];
    expect(skyLevel(b).sky).toBeLessThan(0.004);
    const tops = sky.truth.filter((s) => s.peak > 0.1 && s.x > 8 && s.y > 8 && s.x < width - 9 && s.y < height - 9);
    expect(tops.length).toBeGreaterThan(5);
    for (const { x, y } of tops) {
      const at = Math.round(y) * width + Math.round(x);
      expect(Math.abs(b[at] - a[at])).toBeLessThan(0.03);
    }
    const strengthOf = ({ measured }: typeof whole, k: number) =>
      (measured[`strands[0].steps[${k}]`] as { strength: number; black: number }).strength;
    expect(strengthOf(alone, 1)).toBe(strengthOf(whole, 0));
    expect(alone.measured['strands[0].steps[1]']).toMatchObject({ black: 0 });
    // The same in a mix of stars alone.
    const mixed = evaluateRecipe(
      recipeOf([strand('L', [{ do: 'stars-only' }])], {
        layers: [
          { id: 'stars', of: { mix: { red: { L: 1 }, green: { L: 1 }, blue: { L: 1 } } }, steps: [{ do: 'stretch' }] },
        ],
      }),
      stacks,
    );
    for (const plane of mixed.raster.planes) expect(skyLevel(plane).sky).toBeLessThan(0.004);
  });

  it('by hue scales all three planes by one ratio', () => {
    const value = {
      width: 2,
      height: 1,
      planes: [Float32Array.from([0.1, 0.9]), Float32Array.from([0.05, 0.5]), Float32Array.from([0.02, 0.1])],
    };
    const { raster } = evaluateRecipe(
      recipeOf([{ id: 'C', from: { stack: 'C' }, steps: [{ do: 'stretch', colour: 'hue', black: 0, strength: 50 }] }]),
      { C: value },
      'strands[0]',
    );
    for (const i of [0, 1]) {
      const [r, g, b] = raster.planes.map((plane) => plane[i]);
      expect(r / g).toBeCloseTo(value.planes[0][i] / value.planes[1][i], 4);
      expect(g / b).toBeCloseTo(value.planes[1][i] / value.planes[2][i], 4);
      expect(Math.max(r, g, b)).toBeLessThanOrEqual(1 + 1e-6);
    }
    const mean = (0.1 + 0.05 + 0.02) / 3;
    const ratio = Math.asinh(50 * mean) / Math.asinh(50) / mean;
    // The first pixel stays below 1, so its ratio is the curve's own.
    expect(raster.planes[0][0]).toBeCloseTo(Math.min(1, 0.1 * ratio), 5);
  });

  it('held, stays where it was whatever comes before it', () => {
    const step = { do: 'stretch', hold: { black: 0.01, white: 1, strength: 77 } };
    const { raster, measured } = evaluateRecipe(
      recipeOf([{ id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'scale', multiply: 2 }, step] }]),
      { Ha: mono(4, 1, (x) => 0.02 * x) },
      'strands[0]',
    );
    expect(raster.planes[0][3]).toBeCloseTo(Math.asinh((77 * (0.12 - 0.01)) / 0.99) / Math.asinh(77), 6);
    expect(measured['strands[0].steps[1]']).toMatchObject({ black: 0.01, strength: 77 });
  });

  it('takes one number or three, and refuses white under black', () => {
    const bad = (step: Record<string, unknown>) => () =>
      evaluateRecipe(
        recipeOf([{ id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'stretch', ...step }] }]),
        { Ha: stack },
        'strands[0]',
      );
    expect(bad({ black: 0.5, white: 0.2 })).toThrow(/White must be above black/);
    expect(bad({ strength: [1, 2, 3] })).toThrow(/A mono image takes one value for strength/);
    expect(bad({ curve: 'midtone', strength: 4 })).toThrow(/between 0 and 1/);
  });
});

describe('levels', () => {
  it('clamp, then bend', () => {
    const step = { do: 'levels', black: 0.1, mid: 0.3, white: 0.9 };
    const { raster } = evaluateRecipe(
      recipeOf([{ id: 'S', from: { stack: 'S' }, steps: [step] }]),
      { S: { ...mono(5, 1, (x) => x / 4), domain: 'stretched' } },
      'strands[0]',
    );
    const want = [0, 0.25, 0.5, 0.75, 1].map((v) => {
      const t = Math.min(1, Math.max(0, (v - 0.1) / 0.8));
      return ((0.3 - 1) * t) / ((2 * 0.3 - 1) * t - 0.3);
    });
    raster.planes[0].forEach((v, i) => expect(v).toBeCloseTo(want[i], 6));
  });
});
