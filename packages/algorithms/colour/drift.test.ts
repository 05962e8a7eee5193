import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newRaster, type Raster } from '@owl-loom/image/raster/raster';
import { summariseDrift, colourDrift } from './drift';
import { oklabToLinear } from './oklch';
import { linearToSrgb } from './srgb';

type Lch = readonly [number, number, number];

function imageOf(colours: readonly Lch[], width = colours.length): Raster {
  const image = newRaster({ x: 10, y: 20, width, height: colours.length / width }, 3);
  colours.forEach(([l, c, h], i) => {
    const angle = (h * Math.PI) / 180;
    oklabToLinear([l, c * Math.cos(angle), c * Math.sin(angle)]).forEach((light, p) => {
      image.planes[p][i] = linearToSrgb(light);
    });
  });
  return image;
}
const both = ['stretched', 'stretched'] as const;

describe('how far colours have moved', () => {
  it('is the turn, the change of lightness and that of chroma, whatever the colour', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 360, noNaN: true }),
        fc.double({ min: -170, max: 170, noNaN: true }),
        fc.double({ min: -0.05, max: 0.05, noNaN: true }),
        (hue, turn, by) => {
          const drift = colourDrift(imageOf([[0.6, 0.06, hue]]), imageOf([[0.6 + by, 0.08, hue + turn]]), both);
          expect(drift.hue[0]).toBeCloseTo(turn, 1);
          expect(drift.lightness[0]).toBeCloseTo(by, 4);
          expect(drift.chroma[0]).toBeCloseTo(0.02, 4);
        },
      ),
    );
  });

  it('is no turn where either colour is grey, and nothing where either has no data', () => {
    const after = imageOf([
      [0.5, 0.1, 200],
      [0.5, 0.1, 200],
    ]);
    after.planes[2][1] = Number.NaN;
    const drift = colourDrift(
      imageOf([
        [0.5, 0.001, 20],
        [0.5, 0.1, 20],
      ]),
      after,
      both,
    );
    expect(drift.hue[0]).toBe(0);
    expect(drift.chroma[0]).toBeCloseTo(0.099, 3);
    expect([drift.hue[1], drift.lightness[1], drift.chroma[1]]).toEqual([Number.NaN, Number.NaN, Number.NaN]);
  });

  it('reads linear numbers as light', () => {
    const [a, b] = [
      newRaster({ x: 0, y: 0, width: 1, height: 1 }, 1),
      newRaster({ x: 0, y: 0, width: 1, height: 1 }, 1),
    ];
    a.planes[0][0] = 0.125;
    b.planes[0][0] = 0.343;
    expect(colourDrift(a, b, ['linear', 'linear']).lightness[0]).toBeCloseTo(0.2, 4);
  });
});

describe('how much has moved', () => {
  const grey: Lch[] = Array.from({ length: 256 }, () => [0.5, 0.1, 40]);
  const turned = grey.map((colour, i): Lch => (i % 16 >= 12 && i >= 192 ? [0.5, 0.1, 60] : colour));
  const drift = colourDrift(imageOf(grey, 16), imageOf(turned, 16), both);
  const rect = { x: 10, y: 20, width: 16, height: 16 };

  it('is a share of what counts, and said where most of it is', () => {
    const told = summariseDrift(drift, rect, 'hue');
    expect(told.hue).toBeCloseTo(16 / 256, 6);
    expect(told.lightness).toBe(0);
    expect(told.most).toEqual({ x: 22, y: 32, width: 2, height: 2 });
  });

  it('leaves out what does not count', () => {
    const outside = Float32Array.from({ length: 256 }, (_, i) => (i >= 192 ? 0 : 1));
    expect(summariseDrift(drift, rect, 'hue', outside)).toEqual({ hue: 0, lightness: 0, chroma: 0, most: null });
    expect(summariseDrift(drift, rect, 'hue', new Float32Array(256))).toMatchObject({ hue: 0, most: null });
  });
});
