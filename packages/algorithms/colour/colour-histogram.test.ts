import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newRaster, type Raster } from '@owl-loom/image/raster/raster';
import { CELLS, colourHistogram, HUE_STEP } from './colour-histogram';
import { FULL_CHROMA } from './hue-membership';
import { oklabToLinear, oklchOf } from './oklch';
import { linearToSrgb, srgbToLinear } from './srgb';

const rect = { x: 0, y: 0, width: 10, height: 8 };

/** An image whose pixels have these colours: lightness, chroma, hue in degrees. */
function imageOf(colours: readonly (readonly [number, number, number])[], isCoded: boolean): Raster {
  const image = newRaster({ ...rect, width: colours.length, height: 1 }, 3);
  colours.forEach(([l, c, h], i) => {
    const angle = (h * Math.PI) / 180;
    oklabToLinear([l, c * Math.cos(angle), c * Math.sin(angle)]).forEach((light, p) => {
      image.planes[p][i] = isCoded ? linearToSrgb(light) : light;
    });
  });
  return image;
}

const hue = fc.double({ min: 0.5, max: 359.5, noNaN: true });

describe('colours of an image', () => {
  it('stand at their own hue, whatever that is, linear or stretched', () => {
    fc.assert(
      fc.property(hue, fc.double({ min: 0.05, max: 0.1, noNaN: true }), fc.boolean(), (h, c, isCoded) => {
        fc.pre(Math.abs((h % HUE_STEP) - HUE_STEP / 2) < 2);
        const { hues, count } = colourHistogram(imageOf([[0.6, c, h]], isCoded), isCoded ? 'stretched' : 'linear');
        expect(count).toBe(1);
        const at = Math.floor(h / HUE_STEP);
        expect(hues[at].share).toBeCloseTo(1, 5);
        expect(hues[at].chroma).toBeCloseTo(c, 3);
        expect(hues.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 5);
      }),
    );
  });

  it('lie in the plane where their a and b are', () => {
    const { plane, reach } = colourHistogram(imageOf([[0.6, 0.08, 90]], true), 'stretched');
    expect(reach).toBe(0.1);
    const at = plane.indexOf(1);
    const [a, b] = [at % CELLS, Math.floor(at / CELLS)].map((i) => (((i + 0.5) / CELLS) * 2 - 1) * reach);
    expect(a).toBeCloseTo(0, 2);
    expect(b).toBeCloseTo(0.08, 2);
  });

  it('are not told of greys, nor of what has no data', () => {
    const image = imageOf(
      [
        [0.3, 0, 0],
        [0.8, FULL_CHROMA / 11, 120],
        [0.5, 0.2, 30],
      ],
      true,
    );
    image.planes[1][2] = Number.NaN;
    const { hues, count, plane } = colourHistogram(image, 'stretched');
    expect(count).toBe(2);
    expect(plane.reduce((sum, n) => sum + n, 0)).toBe(2);
    expect(hues.every(({ share }) => share === 0)).toBe(true);
  });

  it('of a mono image are none', () => {
    const image = newRaster(rect, 1);
    image.planes[0].fill(0.4);
    expect(colourHistogram(image, 'stretched').hues.every(({ share }) => share === 0)).toBe(true);
  });

  it('are counted as OKLCh tells them one by one', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(100), fc.nat(100), fc.nat(100)), { minLength: 1, maxLength: 40 }), (rgb) => {
        const image = newRaster({ ...rect, width: rgb.length, height: 1 }, 3);
        rgb.forEach((pixel, i) =>
          pixel.forEach((v, p) => {
            image.planes[p][i] = v / 100;
          }),
        );
        const far = rgb
          .map((pixel) => oklchOf(pixel.map((v) => srgbToLinear(v / 100)) as [number, number, number]))
          .filter(([, c]) => c > FULL_CHROMA + 1e-3).length;
        const share = colourHistogram(image, 'stretched').hues.reduce((sum, own) => sum + own.share, 0);
        // Those between grey and coloured count in part.
        expect(share * rgb.length).toBeGreaterThanOrEqual(far - 1e-3);
        expect(share).toBeLessThanOrEqual(1 + 1e-9);
      }),
    );
  });
});
