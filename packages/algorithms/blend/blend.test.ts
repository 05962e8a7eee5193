import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Raster } from '@owl-loom/image/raster/raster';
import { bottomLayerKernel, blendKernel, layPlain, partialStepKernel, partPlain } from './layer';
import { BLENDS, type BlendMode } from './modes';

const unit = fc.double({ min: 0, max: 1, noNaN: true });
const triple = fc.tuple(unit, unit, unit);

const MODES = Object.keys(BLENDS) as BlendMode[];
const colourModes = MODES.filter((mode) => BLENDS[mode].planes === 3);

/** One pixel, or a row of them, as a raster of as many planes as there are lists. */
const row = (...planes: (readonly number[])[]): Raster => ({
  rect: { x: 0, y: 0, width: planes[0].length, height: 1 },
  planes: planes.map((plane) => Float32Array.from(plane)),
});

function laid(mode: BlendMode, below: Raster, top: Raster, opacity = 1): number[][] {
  const planes = Math.max(below.planes.length, top.planes.length);
  const out = row(...Array.from({ length: planes }, () => below.planes[0].map(() => 0) as unknown as number[]));
  blendKernel(mode, opacity)([below, top], out, () => undefined);
  return out.planes.map((plane) => [...plane]);
}

const one = (mode: BlendMode, below: number, top: number): number => laid(mode, row([below]), row([top]))[0][0];

/** The separable formulas once more, as the specification writes them. */
const SPEC: Partial<Record<BlendMode, (b: number, s: number) => number>> = {
  multiply: (b, s) => b * s,
  screen: (b, s) => 1 - (1 - b) * (1 - s),
  overlay: (b, s) => (b <= 0.5 ? s * 2 * b : 1 - (1 - s) * (1 - (2 * b - 1))),
  darken: (b, s) => Math.min(b, s),
  lighten: (b, s) => Math.max(b, s),
  'hard-light': (b, s) => (s <= 0.5 ? b * 2 * s : 1 - (1 - b) * (1 - (2 * s - 1))),
  difference: (b, s) => Math.abs(b - s),
  exclusion: (b, s) => b + s - 2 * b * s,
  add: (b, s) => b + s,
  subtract: (b, s) => b - s,
  average: (b, s) => 0.5 * b + 0.5 * s,
  'linear-light': (b, s) => b + 2 * s - 1,
};

describe('blend modes', () => {
  it('are twenty', () => expect(MODES).toHaveLength(20));

  it.each(Object.keys(SPEC) as BlendMode[])('%s follows its formula', (mode) => {
    fc.assert(
      fc.property(unit, unit, (b, s) => {
        expect(one(mode, b, s)).toBeCloseTo(SPEC[mode]?.(b, s) ?? Number.NaN, 5);
      }),
    );
  });

  it('color-dodge, color-burn and soft-light have the values of the specification', () => {
    expect(one('color-dodge', 0, 1)).toBe(0);
    expect(one('color-dodge', 0.2, 1)).toBe(1);
    expect(one('color-dodge', 0.2, 0.5)).toBeCloseTo(0.4, 6);
    expect(one('color-burn', 1, 0)).toBe(1);
    expect(one('color-burn', 0.8, 0)).toBe(0);
    expect(one('color-burn', 0.8, 0.5)).toBeCloseTo(0.6, 6);
    expect(one('soft-light', 0.36, 0.25)).toBeCloseTo(0.36 - 0.5 * 0.36 * 0.64, 6);
    expect(one('soft-light', 0.36, 0.75)).toBeCloseTo(0.36 + 0.5 * (0.6 - 0.36), 6);
    expect(one('soft-light', 0.16, 0.75)).toBeCloseTo(0.16 + 0.5 * (((16 * 0.16 - 12) * 0.16 + 4) * 0.16 - 0.16), 6);
  });

  it('those of the specification hold their inputs to 0–1, the others clip nothing', () => {
    expect(one('multiply', 2, 0.5)).toBe(0.5);
    expect(one('exclusion', -1, 0.5)).toBe(0.5);
    expect(one('add', 0.9, 0.8)).toBeCloseTo(1.7, 6);
    expect(one('subtract', 0.1, 0.5)).toBeCloseTo(-0.4, 6);
    expect(one('normal', 0.1, 1.5)).toBe(1.5);
    expect(one('lighten', 1.2, 1.5)).toBe(1.5);
    expect(one('linear-light', 1, 1)).toBe(2);
  });

  const lum = ([r, g, b]: number[]) => 0.3 * r + 0.59 * g + 0.11 * b;
  const pixel = (mode: BlendMode, below: number[], top: number[]) =>
    laid(mode, row(...below.map((v) => [v])), row(...top.map((v) => [v]))).map(([v]) => v);

  it.each(colourModes)('%s stays within 0–1 and takes its light from where it should', (mode) => {
    fc.assert(
      fc.property(triple, triple, (below, top) => {
        const found = pixel(mode, below, top);
        for (const v of found) expect(v >= -1e-6 && v <= 1 + 1e-6).toBe(true);
        expect(lum(found)).toBeCloseTo(lum(mode === 'luminosity' ? top : below), 5);
      }),
    );
  });

  it('color and luminosity are each other with the two exchanged; a colour on itself is itself', () => {
    fc.assert(
      fc.property(triple, triple, (below, top) => {
        const [a, b] = [pixel('color', below, top), pixel('luminosity', top, below)];
        a.forEach((v, p) => expect(v).toBeCloseTo(b[p], 5));
        for (const mode of colourModes) pixel(mode, below, below).forEach((v, p) => expect(v).toBeCloseTo(below[p], 5));
      }),
    );
  });

  it('hue of a grey leaves no colour, saturation of a grey neither', () => {
    for (const mode of ['hue', 'saturation', 'color'] as const) {
      const [r, g, b] = pixel(mode, [0.7, 0.3, 0.1], [0.4, 0.4, 0.4]);
      expect(Math.max(r, g, b) - Math.min(r, g, b)).toBeLessThan(1e-6);
    }
  });

  it('mono layers blend as grey ones do', () => {
    const [mono] = laid('luminosity', row([0.3]), row([0.8]));
    expect(mono[0]).toBeCloseTo(0.8, 6);
    const [r, g, b] = laid('color', row([0.5]), row([0.9], [0.2], [0.2]));
    expect(r[0]).toBeGreaterThan(g[0]);
    expect(g[0]).toBeCloseTo(b[0], 6);
  });
});

describe('a layer', () => {
  it.each(MODES)('laid on by %s is the same in the kernels and in plain arithmetic, with its holes', (mode) => {
    const holed = fc.oneof(
      { weight: 9, arbitrary: fc.double({ min: -0.2, max: 1.2, noNaN: true }) },
      { weight: 1, arbitrary: fc.constant(Number.NaN) },
    );
    const line = fc.array(holed, { minLength: 37, maxLength: 37 });
    fc.assert(
      fc.property(line, line, fc.option(line), unit, (below, top, mask, opacity) => {
        const inputs = [row(below), row(top), ...(mask ? [row(mask)] : [])];
        const [out, plain] = [row(below.map(() => 0)), row(below.map(() => 0))];
        blendKernel(mode, opacity)(inputs, out, () => undefined);
        layPlain(mode, opacity)(inputs, plain, () => undefined);
        out.planes[0].forEach((v, i) => {
          const share = opacity * Math.min(1, Math.max(0, mask?.[i] || 0));
          if (Number.isNaN(plain.planes[0][i])) expect(v).toBeNaN();
          else expect(v).toBeCloseTo(plain.planes[0][i], 5);
          if (Number.isNaN(top[i])) expect(Object.is(v, Math.fround(below[i]))).toBe(true);
          else if (Number.isNaN(below[i])) expect(v).toBeCloseTo(top[i] * (mask ? share : opacity), 6);
          else if (mask && share === 0) expect(v === Math.fround(below[i])).toBe(true);
        });
      }),
      { numRuns: 60 },
    );
  });

  it.each(colourModes)(
    'in colour laid on by %s is the same in the kernels and in plain arithmetic, with its holes',
    (mode) => {
      const holed = fc.oneof(
        { weight: 12, arbitrary: fc.double({ min: -0.2, max: 1.2, noNaN: true }) },
        { weight: 2, arbitrary: fc.constantFrom(0, 0.5, 1) },
        { weight: 1, arbitrary: fc.constant(Number.NaN) },
      );
      const line = fc.array(holed, { minLength: 21, maxLength: 21 });
      const colour = fc.tuple(line, line, line);
      fc.assert(
        fc.property(
          colour,
          fc.oneof(
            colour,
            line.map((grey) => [grey]),
          ),
          fc.option(line),
          unit,
          (below, top, mask, opacity) => {
            const inputs = [row(...below), row(...top), ...(mask ? [row(mask)] : [])];
            const [out, plain] = [row(...below), row(...below)];
            blendKernel(mode, opacity)(inputs, out, () => undefined);
            layPlain(mode, opacity)(inputs, plain, () => undefined);
            out.planes.forEach((plane, p) => {
              plane.forEach((v, i) => {
                const wanted = plain.planes[p][i];
                if (Number.isNaN(wanted)) expect(v).toBeNaN();
                else expect(v).toBeCloseTo(wanted, 5);
              });
            });
          },
        ),
        { numRuns: 80 },
      );
    },
  );

  it('seen through a mask is a way between the cloth and the layer without one', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...MODES),
        triple,
        triple,
        fc.double({ min: -1, max: 2 }),
        unit,
        (mode, b, t, m, by) => {
          const [below, top] = [row(...b.map((v) => [v])), row(...t.map((v) => [v]))];
          const whole = laid(mode, below, top);
          const out = row([0], [0], [0]);
          blendKernel(mode, by)([below, top, row([m])], out, () => undefined);
          const share = Number.isNaN(m) ? 0 : by * Math.min(1, Math.max(0, m));
          out.planes.forEach(([v], p) => expect(v).toBeCloseTo(b[p] + (whole[p][0] - b[p]) * share, 5));
        },
      ),
    );
  });

  it('at the bottom lies on black, through its mask', () => {
    const out = row([0, 0, 0, 0]);
    bottomLayerKernel(0.5)([row([0.8, 0.8, 0.8, 0.8]), row([1, 0.5, -3, Number.NaN])], out, () => undefined);
    expect([...out.planes[0]]).toEqual([0.4, 0.2, 0, 0].map(Math.fround));
  });

  it('where one of its planes has no data is transparent in all, for modes of whole colours', () => {
    const found = laid('color', row([0.2], [0.4], [0.6]), row([0.5], [Number.NaN], [0.5]));
    expect(found.map(([v]) => v)).toEqual([0.2, 0.4, 0.6].map(Math.fround));
  });
});

describe('a step in part', () => {
  it('goes so much of the way, and has no data where either has none', () => {
    const out = row([0, 0, 0]);
    partialStepKernel(0.25)([row([1, Number.NaN, 1]), row([3, 1, Number.NaN])], out, () => undefined);
    expect([...out.planes[0]]).toEqual([1.5, Number.NaN, Number.NaN]);
  });

  it('through a mask goes as far as that says, and stays where it hides all', () => {
    const inputs = [row([1, 1, 1, Number.NaN, 1]), row([3, Number.NaN, 3, 1, 3]), row([0.5, 0, Number.NaN, 1, 7])];
    for (const kernel of [partialStepKernel, partPlain]) {
      const out = row([0, 0, 0, 0, 0]);
      kernel(0.5)(inputs, out, () => undefined);
      expect([...out.planes[0]]).toEqual([1.5, 1, 1, Number.NaN, 2]);
    }
  });
});
