import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { describeMargins, dataMargins } from './data-margins';
import { newRaster } from '../raster/raster';

const rect = { x: 3, y: -2, width: 40, height: 30 };

describe('where an image ends', () => {
  it('is told to the pixel for whatever rectangle has data', () => {
    const margin = fc.nat({ max: 12 });
    fc.assert(
      fc.property(margin, margin, margin, margin, (left, right, bottom, top) => {
        const image = newRaster(rect, 1);
        image.planes[0].fill(Number.NaN);
        for (let y = bottom; y < rect.height - top; y++)
          image.planes[0].fill(0.5, y * rect.width + left, (y + 1) * rect.width - right);
        expect(dataMargins(image)).toEqual({ left, right, bottom, top });
      }),
    );
  });

  it('is not told of holes, however large, that no edge is joined to', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 30 }), fc.integer({ min: 1, max: 20 }), fc.nat(5), (x, y, right) => {
        const image = newRaster(rect, 1);
        image.planes[0].fill(0.5);
        for (let row = 0; row < rect.height; row++)
          image.planes[0].fill(Number.NaN, (row + 1) * rect.width - right, (row + 1) * rect.width);
        for (let row = y; row < Math.min(y + 6, rect.height - 1); row++)
          image.planes[0].fill(
            Number.NaN,
            row * rect.width + x,
            row * rect.width + Math.min(x + 5, rect.width - right - 1),
          );
        expect(dataMargins(image)).toEqual({ left: 0, right, bottom: 0, top: 0 });
      }),
    );
  });

  it('counts every plane, and is not told of an image without data', () => {
    const image = newRaster(rect, 3);
    image.planes[1].fill(Number.NaN, 0, 2 * rect.width);
    expect(dataMargins(image)).toEqual({ left: 0, right: 0, bottom: 2, top: 0 });
    for (const plane of image.planes) plane.fill(Number.NaN);
    expect(dataMargins(image)).toBeUndefined();
  });

  it('is said in words', () => {
    expect(describeMargins({ left: 12, right: 0, bottom: 0, top: 8 })).toBe('12 px at the left, 8 px at the top');
    expect(describeMargins({ left: 0, right: 0, bottom: 0, top: 0 })).toBeUndefined();
  });
});
