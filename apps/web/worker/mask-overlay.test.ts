import { expect, it } from 'vitest';
import type { Raster } from '@owl-loom/image/raster/raster';
import { drawMaskOverlay } from './mask-overlay';

const rect = { x: 3, y: 1, width: 20, height: 2 };
const mask: Raster = {
  rect,
  // The lower row hides its left half, the upper row holds no data.
  planes: [Float32Array.from({ length: 40 }, (_, i) => (i >= 20 ? Number.NaN : i < 10 ? 0 : 1))],
};
const red = (): Uint8ClampedArray => Uint8ClampedArray.from({ length: 160 }, (_, k) => [200, 40, 40, 255][k % 4]);
/** Pixels in rows from the foot. */
const at = (rgba: Uint8ClampedArray, x: number, y: number) => [
  ...rgba.subarray(((1 - y) * 20 + x) * 4, ((1 - y) * 20 + x) * 4 + 4),
];

it('a veil turns grey what is hidden, without data too, and leaves what is shown', () => {
  const rgba = red();
  drawMaskOverlay(rgba, mask, 'veil');
  const [r, g, b, a] = at(rgba, 2, 0);
  expect([r === g, g === b, a]).toEqual([true, true, 255]);
  expect(r).toBeLessThan(0.2126 * 200 + 40);
  expect(at(rgba, 15, 1)).toEqual([r, g, b, 255]);
  expect(at(rgba, 15, 0)).toEqual([200, 40, 40, 255]);
});

it('a hatch crosses what is hidden by stripes that lie still in the picture', () => {
  const rgba = red();
  drawMaskOverlay(rgba, mask, 'hatch');
  const striped = (x: number, y: number) => at(rgba, x, y)[0] !== 200;
  const row = [...Array(10).keys()].map((x) => striped(x, 0));
  expect(row.filter(Boolean)).toHaveLength(2);
  expect([...Array(10).keys()].every((x) => !striped(x + 10, 0))).toBe(true);
  for (let x = 0; x < 9; x++) expect(striped(x, 1)).toBe(striped(x + 1, 0));
});

it('half hidden is half veiled, and what is not there stays away', () => {
  const half = { rect, planes: [new Float32Array(40).fill(0.5)] };
  const [rgba, whole] = [red(), red()];
  rgba[3] = 0;
  drawMaskOverlay(rgba, half, 'veil');
  drawMaskOverlay(whole, { rect, planes: [new Float32Array(40)] }, 'veil');
  expect(at(rgba, 0, 1)).toEqual([200, 40, 40, 0]);
  expect(Math.abs(at(rgba, 5, 0)[0] - (200 + at(whole, 5, 0)[0]) / 2)).toBeLessThanOrEqual(1);
});
