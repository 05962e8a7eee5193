import { describe, expect, it } from 'vitest';
import { linearToOklab } from '@owl-loom/algorithms/colour/oklch';
import { srgbToLinear } from '@owl-loom/algorithms/colour/srgb';
import type { Step } from '@owl-loom/recipe/schema';
import { randomFrom } from '@owl-loom/testing/random';
import { recipeOf, strand, type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';

const [width, height] = [240, 160];
const isGas = (x: number, y: number): boolean => Math.hypot(x - 60, y - 80) < 28;

/** A grey sky with coloured grain, and a patch of green gas. */
function picture(grain: number): TestStack {
  const random = randomFrom(8);
  const planes = [0, 1, 2].map((p) =>
    Float32Array.from({ length: width * height }, (_, i) => {
      const gas = isGas(i % width, Math.floor(i / width)) ? [0.2, 0.45, 0.15][p] : 0;
      return 0.14 + gas + grain * random.normal();
    }),
  );
  return { width, height, planes, domain: 'stretched' };
}

const made = (stack: TestStack, ...steps: Step[]) =>
  evaluateRecipe(recipeOf([strand('C', steps)]), { C: stack }, 'strands[0]');

/** Median and 1.4826 × MAD of the sky of a plane. */
function skyOf(plane: Float32Array): { median: number; grain: number } {
  const sky = [...plane].filter((_, i) => !isGas(i % width, Math.floor(i / width))).sort((a, b) => a - b);
  const median = sky[sky.length >> 1];
  const off = sky.map((v) => Math.abs(v - median)).sort((a, b) => a - b);
  return { median, grain: 1.4826 * off[off.length >> 1] };
}

const GOLD: Step = { do: 'hue-bands', bands: [{ centre: 135, width: 60, soft: 40, turn: -60, chroma: 1.5 }] };
const PUSHED: Step = { do: 'hue-bands', bands: [{ centre: 140, width: 90, soft: 60, shift: [0.15, 0.02, -0.08] }] };
const RICHER: Step = { do: 'saturation', amount: 0.8 };
const WARMER: Step = { do: 'balance', shadows: [0.03, 0, -0.02], mids: [0.05, 0, -0.04] };

describe('colour steps above the noise', () => {
  it.each([
    ['hues that are turned', GOLD, 0.03],
    ['hues that are pushed', PUSHED, 0.03],
    ['saturation', RICHER, 0.03],
    ['balance', WARMER, 0.03],
    ['hues on a sky with more grain', PUSHED, 0.06],
    ['hues on a quiet sky', PUSHED, 0.004],
  ] as const)('%s leave the sky its median and its grain', (_, step, grain) => {
    const stack = picture(grain);
    const { raster, measured } = made(stack, { ...step, above: 'auto' });
    raster.planes.forEach((plane, p) => {
      const [was, is] = [skyOf(stack.planes[p]), skyOf(plane)];
      expect(Math.abs(is.median - was.median)).toBeLessThan(Math.max(0.0015, 0.05 * grain));
      expect(Math.abs(is.grain / was.grain - 1)).toBeLessThan(0.06);
    });
    const { above, chromaNoise } = measured['strands[0].steps[0]'] as { above: number; chromaNoise: number };
    expect(above).toBeCloseTo(Math.max(0.04, 5 * chromaNoise), 6);
  });

  it('reach the gas fully', () => {
    const stack = picture(0.01);
    const [on, auto] = [made(stack, PUSHED), made(stack, { ...PUSHED, above: 'auto' })];
    const at = 80 * width + 60;
    on.raster.planes.forEach((plane, p) => expect(auto.raster.planes[p][at]).toBeCloseTo(plane[at], 3));
    expect(Math.abs(on.raster.planes[0][at] - stack.planes[0][at])).toBeGreaterThan(0.1);
  });

  it('measure σ of a and b about grey', () => {
    const stack = picture(0.02);
    const { measured } = made(stack, { ...GOLD, above: 'auto' });
    const { chromaNoise } = measured['strands[0].steps[0]'] as { chromaNoise: number };
    let [sum, n] = [0, 0];
    for (let i = 0; i < width * height; i++) {
      if (isGas(i % width, Math.floor(i / width))) continue;
      const [, a, b] = linearToOklab([
        srgbToLinear(stack.planes[0][i]),
        srgbToLinear(stack.planes[1][i]),
        srgbToLinear(stack.planes[2][i]),
      ]);
      sum += a * a + b * b;
      n += 2;
    }
    expect(Math.abs(chromaNoise / Math.sqrt(sum / n) - 1)).toBeLessThan(0.1);
  });

  it('act from a given chroma on, falling to nothing at a tenth of it', () => {
    const stack = picture(0.03);
    const { raster } = made(stack, { ...RICHER, above: 0.1 });
    for (let i = 0; i < width * height; i += 37) {
      const lab = (planes: readonly Float32Array[]) =>
        linearToOklab([srgbToLinear(planes[0][i]), srgbToLinear(planes[1][i]), srgbToLinear(planes[2][i])]);
      const [[, a, b], [, c, d]] = [lab(stack.planes), lab(raster.planes)];
      const chroma = Math.hypot(a, b);
      const t = Math.min(1, Math.max(0, (chroma / 0.1 - 0.1) / 0.9));
      expect(Math.hypot(c, d)).toBeCloseTo(chroma * (1 + 0.8 * t * t * (3 - 2 * t)), 4);
    }
  });

  it('act as they did where nothing is said', () => {
    const stack = picture(0.03);
    const [plain, said] = [made(stack, GOLD), made(stack, { ...GOLD, above: 0.04 })];
    expect(said.raster.planes).toEqual(plain.raster.planes);
    const [all, none] = [made(stack, RICHER), made(stack, { ...RICHER, above: 0 })];
    expect(none.raster.planes).toEqual(all.raster.planes);
  });
});
