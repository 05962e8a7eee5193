import fc from 'fast-check';
import { expect, it } from 'vitest';
import { planeNoise } from '@owl-loom/image/stats/noise';
import { makeSky } from '@owl-loom/testing/skies';
import { recipeOf, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { extendedMidtone } from './pseudo-linear';

it('a bow and that of the strength’s rest undo each other, below 0 and above 1 too', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0.02, max: 0.98, noNaN: true }),
      fc.double({ min: -2, max: 3, noNaN: true }),
      (s, t) => {
        expect(extendedMidtone(1 - s)(extendedMidtone(s)(t))).toBeCloseTo(t, 9);
      },
    ),
  );
});

it.each([
  ['asinh', (t: number) => Math.asinh(300 * t) / Math.asinh(300)],
  ['a root', (t: number) => Math.max(0, t) ** 0.4],
])(
  'stars of an image that came stretched by %s go, whatever the curve was, and the screen of both is the image',
  (_, curve) => {
    const { plane, width, height, truth } = makeSky({
      width: 420,
      height: 320,
      seed: 21,
      stars: 160,
      fwhm: 2.8,
      beta: 3.5,
    });
    const image = plane.map((v) => curve(Math.min(1, Math.max(0, v))));
    const stacks = { S: { width, height, planes: [image], domain: 'stretched' as const } };
    const made = (steps: object[]) =>
      evaluateRecipe(recipeOf([{ id: 'S', from: { stack: 'S' }, steps: steps as never }]), stacks, 'strands[0]').raster
        .planes[0];
    const without = made([{ do: 'starless' }]);
    const only = made([{ do: 'stars-only', by: 'screen' }]);
    image.forEach((v, i) => {
      expect(without[i]).toBeLessThanOrEqual(v);
      if (v < 1) expect(1 - (1 - without[i]) * (1 - only[i])).toBeCloseTo(v, 5);
    });
    const noise = planeNoise(image, width, height);
    const mean = (of: Float32Array, x: number, y: number, far: number): number => {
      let [sum, n] = [0, 0];
      for (let j = Math.max(0, Math.ceil(y - far)); j <= Math.min(height - 1, y + far); j++)
        for (let i = Math.max(0, Math.ceil(x - far)); i <= Math.min(width - 1, x + far); i++)
          if (Math.hypot(i - x, j - y) <= far) [sum, n] = [sum + of[j * width + i], n + 1];
      return sum / n;
    };
    // Of the light of the clear ones hardly anything is left, and no hole is where they were.
    let [was, is] = [0, 0];
    const sky = [...image].sort((a, b) => a - b)[image.length >> 1];
    for (const { x, y, peak } of truth) {
      if (!(peak > 0.02)) continue;
      was += mean(image, x, y, 3) - sky;
      const left = mean(without, x, y, 3) - sky;
      is += left;
      expect(left / noise).toBeGreaterThan(-1.5);
    }
    expect(Math.abs(is / was)).toBeLessThan(0.03);
  },
);
