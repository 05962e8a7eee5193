import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Layer, Strand } from '@owl-loom/recipe/schema';
import { addNoise, scene } from '@owl-loom/testing/random';
import {
  mono,
  onePixelStack,
  recipeOf,
  strand,
  type TestStack,
  evaluateRecipe,
  graphOf,
} from '@owl-loom/testing/evaluate-recipe';

const no = Number.NaN;
const stacksOf = (values: Record<string, number>) =>
  Object.fromEntries(Object.entries(values).map(([name, value]) => [name, onePixelStack(value)]));

/** The three numbers of a one-pixel mix. */
function mixed(values: Record<string, number>, mix: Extract<Layer['of'], { mix: unknown }>): number[] {
  const recipe = recipeOf([...Object.keys(values).map((id) => strand(id)), { id: 'mix', from: mix }]);
  return evaluateRecipe(recipe, stacksOf(values), `strands[${Object.keys(values).length}]`).raster.planes.map(
    (plane) => plane[0],
  );
}

describe('mix', () => {
  it('as it is takes the numbers', () => {
    expect(
      mixed({ A: 0.25, B: 0.5 }, { mix: { red: { A: 1, B: 2 }, green: { B: -1 }, blue: {} }, weights: 'as-is' }),
    ).toEqual([1.25, -0.5, 0]);
  });

  it('by share divides by the absolute weights, so that 1 and 1 give half and half', () => {
    expect(
      mixed(
        { A: 0.25, B: 0.75 },
        { mix: { red: { A: 1, B: 1 }, green: { A: 3, B: -1 }, blue: { B: 7 } }, weights: 'share' },
      ),
    ).toEqual([0.5, 0, 0.75]);
  });

  it('of more than three strands sums them all', () => {
    const values = { A: 0.5, B: 0.25, C: 0.125, D: 0.0625, E: 1 };
    expect(mixed(values, { mix: { red: { A: 1, B: 1, C: 1, D: 1, E: 1 } }, weights: 'as-is' })[0]).toBe(1.9375);
  });

  it('takes what is there: shared over the strands present, the absent as nothing, and nothing where all are absent', () => {
    const mix = { red: { A: 1, B: 3 }, green: { B: 1 }, blue: { A: 2 } };
    expect(mixed({ A: 0.5, B: no }, { mix, weights: 'share' })).toEqual([0.5, no, 0.5]);
    expect(mixed({ A: 0.5, B: no }, { mix, weights: 'as-is' })).toEqual([0.5, no, 1]);
    expect(mixed({ A: no, B: no }, { mix, weights: 'as-is' })).toEqual([no, no, no]);
  });

  it('tells how much of the picture is only partly covered', () => {
    const stacks = { A: mono(10, 1, (x) => (x < 3 ? no : 1)), B: mono(10, 1, (x) => (x < 1 ? no : 1)) };
    const recipe = recipeOf([
      strand('A'),
      strand('B'),
      { id: 'mix', from: { mix: { red: { A: 1, B: 1 }, green: { A: 1 }, blue: { B: 1 } }, weights: 'share' } },
    ]);
    expect([...evaluateRecipe(recipe, stacks, 'strands[2]').tallies.values()]).toEqual([{ 'partly-covered': 2 }]);
  });

  it('multiplies a strand about its own sky', () => {
    const image = addNoise(scene(1, 120, 90, { stars: 0 }), 0, 1, 0.0005, 2);
    const recipe = recipeOf([
      strand('A'),
      {
        id: 'mix',
        from: { mix: { red: { A: 1 }, green: { A: 1 }, blue: { A: 1 } }, weights: 'as-is', gain: { A: 3 } },
      },
    ]);
    const { raster, measured } = evaluateRecipe(
      recipe,
      { A: { width: 120, height: 90, planes: [image] } },
      'strands[1]',
    );
    const sky = (measured['strands[1].from'] as { sky: { A: number } }).sky.A;
    expect(sky).toBeCloseTo(0.02, 3);
    raster.planes[0].forEach((v, i) => expect(v).toBeCloseTo(sky + 3 * (image[i] - sky), 6));
  });

  it('gives each column its own plane of a colour strand', () => {
    const stacks = { C: { width: 1, height: 1, planes: [0.1, 0.2, 0.3].map((v) => Float32Array.of(v)) } };
    const recipe = recipeOf([
      strand('C'),
      { id: 'mix', from: { mix: { red: { C: 1 }, green: { C: 2 }, blue: { C: 3 } }, weights: 'as-is' } },
    ]);
    const [r, g, b] = evaluateRecipe(recipe, stacks, 'strands[1]').raster.planes.map((plane) => plane[0]);
    expect([r, g, b].map((v) => v.toFixed(6))).toEqual(['0.100000', '0.400000', '0.900000']);
  });
});

describe('average', () => {
  it('weighs equally, by exposure, and over what is there', () => {
    const stacks = {
      A: { ...onePixelStack(0.2), exposure: 100 },
      B: { ...onePixelStack(0.8), exposure: 300 },
      C: { ...onePixelStack(no), exposure: 50 },
    };
    const by = (kind: 'equal' | 'exposure', average: string[]) =>
      evaluateRecipe(
        recipeOf([strand('A'), strand('B'), strand('C'), { id: 'm', from: { average, by: kind } }]),
        stacks,
        'strands[3]',
      ).raster.planes[0][0];
    expect(by('equal', ['A', 'B'])).toBeCloseTo(0.5, 6);
    expect(by('exposure', ['A', 'B'])).toBeCloseTo(0.65, 6);
    expect(by('equal', ['A', 'B', 'C'])).toBeCloseTo(0.5, 6);
  });

  it('by signal weighs by the square of signal over noise', () => {
    const [width, height] = [600, 450];
    const image = scene(5, width, height, { stars: 0, clouds: 0.06 });
    const stacks = {
      A: { width, height, planes: [addNoise(image, 0, 1, 0.002, 1)] },
      B: { width, height, planes: [addNoise(image, 0, 1, 0.004, 2)] },
    };
    const { measured } = evaluateRecipe(
      recipeOf([strand('A'), strand('B'), { id: 'm', from: { average: ['A', 'B'], by: 'signal' } }]),
      stacks,
      'strands[2]',
    );
    const { weights } = measured['strands[2].from'] as { weights: { A: number; B: number } };
    expect(weights.A + weights.B).toBeCloseTo(1, 9);
    expect(weights.A / weights.B).toBeGreaterThan(3.6);
    expect(weights.A / weights.B).toBeLessThan(4.4);
  });

  it('by exposure says which strand has none', () => {
    const graph = graphOf(recipeOf([strand('A'), { id: 'm', from: { average: ['A'], by: 'exposure' } }]), {
      A: onePixelStack(1),
    });
    expect(graph.faults[0]).toMatchObject({ code: 'no-exposure', path: 'strands[1].from.average[0]' });
  });
});

describe('layers', () => {
  const cloth = (values: Record<string, number>, layers: Layer[]) =>
    evaluateRecipe(
      recipeOf(
        Object.keys(values).map((id) => strand(id)),
        { layers },
      ),
      stacksOf(values),
    ).raster.planes.map((plane) => plane[0]);
  const unit = fc.double({ min: 0, max: 1, noNaN: true });

  it.each([
    ['normal', (_: number, t: number) => t],
    ['add', (b: number, t: number) => b + t],
    ['screen', (b: number, t: number) => 1 - (1 - b) * (1 - t)],
    ['lighten', (b: number, t: number) => Math.max(b, t)],
  ] as const)('%s follows its formula, at any opacity', (blend, formula) => {
    fc.assert(
      fc.property(unit, unit, unit, (b, t, opacity) => {
        const [found] = cloth({ B: b, T: t }, [{ of: { strand: 'B' } }, { of: { strand: 'T' }, blend, opacity }]);
        expect(found).toBeCloseTo(b + (formula(b, t) - b) * opacity, 6);
      }),
      { numRuns: 40 },
    );
  });

  it('add and normal clip nothing, screen holds its inputs to 0–1', () => {
    expect(cloth({ B: 0.9, T: 0.8 }, [{ of: { strand: 'B' } }, { of: { strand: 'T' }, blend: 'add' }])[0]).toBeCloseTo(
      1.7,
      6,
    );
    expect(cloth({ B: 0.5, T: 1.8 }, [{ of: { strand: 'B' } }, { of: { strand: 'T' }, blend: 'screen' }])[0]).toBe(1);
  });

  it('are transparent where they have no data, and lie on black where the cloth has none', () => {
    expect(cloth({ B: 0.3, T: no }, [{ of: { strand: 'B' } }, { of: { strand: 'T' } }])[0]).toBeCloseTo(0.3, 6);
    expect(cloth({ B: no, T: 0.6 }, [{ of: { strand: 'B' } }, { of: { strand: 'T' }, opacity: 0.5 }])[0]).toBeCloseTo(
      0.3,
      6,
    );
  });

  it('can be hidden, nested, plain colours, and the cloth below', () => {
    expect(cloth({ B: 0.3, T: 0.9 }, [{ of: { strand: 'B' } }, { of: { strand: 'T' }, visible: false }])).toHaveLength(
      1,
    );
    const colour = cloth({ B: 0.25 }, [{ of: { strand: 'B' } }, { of: { colour: '#ff8000' }, opacity: 0.5 }]);
    expect(colour.map((v) => v.toFixed(4))).toEqual([0.625, 0.125 + 64 / 255, 0.125].map((v) => v.toFixed(4)));
    expect(
      cloth({ B: 0.25 }, [
        { of: { strand: 'B' } },
        { of: { below: true }, steps: [{ do: 'scale', multiply: 2 }], blend: 'add' },
      ])[0],
    ).toBe(0.75);
    expect(
      cloth({ B: 0.25, T: 0.5 }, [
        { of: { layers: [{ of: { strand: 'B' } }, { of: { strand: 'T' }, blend: 'add' }] } },
      ])[0],
    ).toBe(0.75);
  });
});

describe('steps', () => {
  const stepped = (stack: TestStack, steps: Strand['steps'], rect?: Parameters<typeof evaluateRecipe>[3]) =>
    evaluateRecipe(recipeOf([strand('A', steps)]), { A: stack }, 'strands[0]', rect).raster.planes;

  it('scale, tint, off and opacity', () => {
    expect(stepped(onePixelStack(0.25), [{ do: 'scale', multiply: 3, add: -0.5 }])[0][0]).toBe(0.25);
    expect(stepped(onePixelStack(0.5), [{ do: 'tint', colour: '#ff0080' }]).map((p) => p[0].toFixed(4))).toEqual([
      '0.5000',
      '0.0000',
      ((0.5 * 128) / 255).toFixed(4),
    ]);
    expect(stepped(onePixelStack(0.5), [{ do: 'scale', multiply: 3, off: true }])[0][0]).toBe(0.5);
    expect(stepped(onePixelStack(0.5), [{ do: 'scale', multiply: 3, opacity: 0.25 }])[0][0]).toBe(0.75);
    expect(stepped(onePixelStack(0.5), [{ do: 'tint', colour: '#ff0000', opacity: 0.5 }]).map((p) => p[0])).toEqual([
      0.5, 0.25, 0.25,
    ]);
  });

  it('crop leaves data inside alone and moves nothing', () => {
    const [plane] = stepped(
      mono(5, 4, (x, y) => 10 * y + x),
      [{ do: 'crop', x: 1, y: 1, width: 3, height: 2 }],
    );
    expect([...plane].map((v) => (Number.isNaN(v) ? -1 : v))).toEqual([
      -1, -1, -1, -1, -1, -1, 11, 12, 13, -1, -1, 21, 22, 23, -1, -1, -1, -1, -1, -1,
    ]);
  });

  it('level-sky brings the planes to one sky, or to the one given', () => {
    const planes = [0.01, 0.03, 0.05].map((sky, i) => addNoise(scene(9, 150, 100, { sky, stars: 0 }), 0, 1, 0.0005, i));
    const stack = { width: 150, height: 100, planes };
    const skies = (steps: Strand['steps']) => stepped(stack, steps).map((plane, i) => plane[7] - planes[i][7]);
    skies([{ do: 'level-sky' }]).forEach((shift, i) => expect(shift).toBeCloseTo(0.03 - [0.01, 0.03, 0.05][i], 3));
    skies([{ do: 'level-sky', level: 0.1 }]).forEach((shift, i) =>
      expect(shift).toBeCloseTo(0.1 - [0.01, 0.03, 0.05][i], 3),
    );
    skies([{ do: 'level-sky', level: 0.1, hold: { sky: 0.04 } }]).forEach((shift) =>
      expect(shift).toBeCloseTo(0.06, 6),
    );
  });

  it('linear-fit brings a strand to another, plane by plane in colour', () => {
    const of = scene(14, 200, 150);
    const noisy = (a: number, b: number, seed: number) => addNoise(of, a, b, 0.0005 * b, seed);
    const stacks = {
      A: { width: 200, height: 150, planes: [noisy(0, 1, 1)] },
      R: { width: 200, height: 150, planes: [noisy(0.1, 2, 2)] },
    };
    const { raster, measured } = evaluateRecipe(
      recipeOf([strand('A', [{ do: 'linear-fit', to: 'R' }]), strand('R')]),
      stacks,
      'strands[0]',
    );
    expect(measured['strands[0].steps[0]']).toMatchObject({ method: 'pixels' });
    const mean = (plane: Float32Array) => plane.reduce((a, b) => a + b, 0) / plane.length;
    expect(mean(raster.planes[0])).toBeCloseTo(mean(stacks.R.planes[0]), 4);
    const colour = { width: 200, height: 150, planes: [noisy(0, 1, 4), noisy(0, 2, 5), noisy(0, 4, 6)] };
    const target = { width: 200, height: 150, planes: [noisy(0, 1, 7), noisy(0, 1, 8), noisy(0, 1, 9)] };
    const fits = evaluateRecipe(
      recipeOf([strand('A', [{ do: 'linear-fit', to: 'R' }]), strand('R')]),
      { A: target, R: colour },
      'strands[0]',
    ).measured['strands[0].steps[0]'] as { b: number }[];
    fits.forEach((fit, i) => expect(fit.b / 2 ** i).toBeCloseTo(1, 1));
    const held = evaluateRecipe(
      recipeOf([strand('A', [{ do: 'linear-fit', to: 'R', hold: { a: 0.5, b: 2 } }]), strand('R')]),
      stacks,
      'strands[0]',
    ).raster.planes[0][3];
    expect(held).toBeCloseTo(0.5 + 2 * stacks.A.planes[0][3], 6);
  });

  describe('place', () => {
    const image = mono(4, 2, (x, y) => 10 * y + x);
    const square = mono(3, 3, (x, y) => 10 * y + x);
    it('turns counter-clockwise as seen, about the middle', () => {
      expect([...stepped(square, [{ do: 'place', turn: 90 }])[0]]).toEqual([20, 10, 0, 21, 11, 1, 22, 12, 2]);
      expect([...stepped(image, [{ do: 'place', turn: 180 }])[0]]).toEqual([13, 12, 11, 10, 3, 2, 1, 0]);
    });
    it('flips, and shifts by whole pixels to the right and up', () => {
      expect([...stepped(image, [{ do: 'place', flip: 'horizontal' }])[0]]).toEqual([3, 2, 1, 0, 13, 12, 11, 10]);
      expect([...stepped(image, [{ do: 'place', flip: 'vertical' }])[0]]).toEqual([10, 11, 12, 13, 0, 1, 2, 3]);
      expect([...stepped(image, [{ do: 'place', dx: 1, dy: 1 }])[0]]).toEqual([no, no, no, no, no, 0, 1, 2]);
    });
    it('turned four times is where it began', () => {
      const quarter = { do: 'place', turn: 90 } as const;
      expect(stepped(square, [quarter, quarter, quarter, quarter])).toEqual([...square.planes]);
      expect(
        stepped(square, [
          { do: 'place', turn: 90, flip: 'horizontal' },
          { do: 'place', turn: 90, flip: 'horizontal' },
        ]),
      ).toEqual([...square.planes]);
    });
  });
});
