import { describe, expect, it } from 'vitest';
import { orient } from './orient';
import { sharedRaster } from '../pixels/shared-raster';

const rect = { x: 0, y: 0, width: 61, height: 61 };

function picture(value: (x: number, y: number) => number) {
  const raster = sharedRaster(rect, 1);
  raster.planes[0].forEach((_, i) => {
    raster.planes[0][i] = value(i % 61, Math.floor(i / 61));
  });
  return raster;
}
const smooth = (x: number, y: number) => 0.4 + 0.2 * Math.sin(x / 6) * Math.cos(y / 8);

describe('a turned cloth', () => {
  it('is the very same where nothing is asked', async () => {
    const raster = picture(smooth);
    expect(orient(raster)).toBe(raster);
    expect(orient(raster, { turn: 0, flip: 'none', degrees: 0 })).toBe(raster);
  });

  it('by a free angle of 90 degrees is what a quarter turn makes', async () => {
    const raster = picture(smooth);
    const [free, quarter] = [orient(raster, { degrees: 90 }), orient(raster, { turn: 90 })];
    free.planes[0].forEach((v, i) => expect(v).toBeCloseTo(quarter.planes[0][i], 6));
  });

  it('turns counter-clockwise as seen about its middle, after quarters and flips, keeps its size and has no data in its corners', async () => {
    const angle = (20 * Math.PI) / 180;
    const turned = orient(picture(smooth), { flip: 'horizontal', degrees: 20 });
    expect(turned.rect).toEqual(rect);
    for (let y = 15; y < 46; y += 5) {
      for (let x = 15; x < 46; x += 5) {
        const [u, v] = [x - 30, y - 30];
        // Back by the angle, then the flip.
        const [a, b] = [u * Math.cos(angle) + v * Math.sin(angle), -u * Math.sin(angle) + v * Math.cos(angle)];
        expect(turned.planes[0][y * 61 + x]).toBeCloseTo(smooth(30 - a, 30 + b), 2);
      }
    }
    for (const corner of [0, 60, 60 * 61, 61 * 61 - 1]) expect(turned.planes[0][corner]).toBeNaN();
  });

  it('shows an upright part of it without empty corners, wherever that lies', () => {
    for (const flip of ['none', 'horizontal', 'vertical', 'both'] as const) {
      const cut = { x: 14, y: 20, width: 21, height: 15 };
      const turned = orient(picture(smooth), { flip, degrees: 12 }, cut);
      expect(turned.rect).toEqual({ x: 0, y: 0, width: 21, height: 15 });
      expect(turned.planes[0].every(Number.isFinite)).toBe(true);
      const angle = (12 * Math.PI) / 180;
      const [fx, fy] = [
        flip === 'horizontal' || flip === 'both' ? -1 : 1,
        flip === 'vertical' || flip === 'both' ? -1 : 1,
      ];
      for (const [x, y] of [
        [0, 0],
        [20, 3],
        [10, 7],
        [4, 14],
      ]) {
        const [u, v] = [x - 10, y - 7];
        const [a, b] = [u * Math.cos(angle) + v * Math.sin(angle), -u * Math.sin(angle) + v * Math.cos(angle)];
        expect(turned.planes[0][y * 21 + x]).toBeCloseTo(smooth(24 + fx * a, 27 + fy * b), 2);
      }
    }
  });
});
