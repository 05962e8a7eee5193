import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { observed, scene } from '../testing/random';
import { mono, recipeOf, weave } from '../testing/weave';
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
  const stack = { width, height, planes: [observed(scene(31, width, height), 0, 1, 0.001, 32)] };

  it.each(CURVES)('by %s puts the sky on its target and blackens almost nothing', (curve) => {
    const recipe = recipeOf([{ id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'stretch', curve, target: 0.2 }] }]);
    const [plane] = weave(recipe, { Ha: stack }, 'strands[0]').raster.planes;
    const near = stack.planes[0]
      .map((v, i) => (Math.abs(v - 0.0203) < 0.0002 ? plane[i] : Number.NaN))
      .filter((v) => !Number.isNaN(v));
    const mean = near.reduce((a, b) => a + b, 0) / near.length;
    expect(Math.abs(mean - 0.2)).toBeLessThan(0.04);
    // The quantile itself is black too: one pixel more at the most.
    expect(plane.filter((v) => v <= 0).length).toBeLessThanOrEqual(0.001 * plane.length + 1);
    expect(Math.max(...plane)).toBeLessThanOrEqual(1);
  });

  it('linked keeps a cast, unlinked takes it out', () => {
    const planes = [0.01, 0.02, 0.03].map((sky, i) => observed(scene(31, width, height, { sky }), 0, 1, 0.001, 40 + i));
    const sky = (colour: string) => {
      const { raster } = weave(
        recipeOf([{ id: 'C', from: { stack: 'C' }, steps: [{ do: 'stretch', colour }] }]),
        { C: { width, height, planes } },
        'strands[0]',
      );
      return raster.planes.map((plane) => [...plane].sort((a, b) => a - b)[Math.floor(plane.length / 3)]);
    };
    const linked = sky('linked');
    const unlinked = sky('unlinked');
    expect(linked[2] - linked[0]).toBeGreaterThan(0.1);
    expect(Math.abs(unlinked[2] - unlinked[0])).toBeLessThan(0.03);
  });

  it('by hue scales all three planes by one ratio', () => {
    const value = {
      width: 2,
      height: 1,
      planes: [Float32Array.from([0.1, 0.9]), Float32Array.from([0.05, 0.5]), Float32Array.from([0.02, 0.1])],
    };
    const { raster } = weave(
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
    const { raster, measured } = weave(
      recipeOf([{ id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'scale', multiply: 2 }, step] }]),
      { Ha: mono(4, 1, (x) => 0.02 * x) },
      'strands[0]',
    );
    expect(raster.planes[0][3]).toBeCloseTo(Math.asinh((77 * (0.12 - 0.01)) / 0.99) / Math.asinh(77), 6);
    expect(measured['strands[0].steps[1]']).toMatchObject({ black: 0.01, strength: 77 });
  });

  it('takes one number or three, and refuses white under black', () => {
    const bad = (step: Record<string, unknown>) => () =>
      weave(
        recipeOf([{ id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'stretch', ...step }] }]),
        { Ha: stack },
        'strands[0]',
      );
    expect(bad({ black: 0.5, white: 0.2 })).toThrow(/white must lie above black/);
    expect(bad({ strength: [1, 2, 3] })).toThrow(/one number for strength/);
    expect(bad({ curve: 'midtone', strength: 4 })).toThrow(/between 0 and 1/);
  });
});

describe('levels', () => {
  it('clamp, then bend', () => {
    const step = { do: 'levels', black: 0.1, mid: 0.3, white: 0.9 };
    const { raster } = weave(
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
