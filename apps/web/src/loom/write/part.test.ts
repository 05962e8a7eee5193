import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { partOf, plainBytes, printPart, sizeOf, sizesOf, troubleWith, withinPicture } from './part';
import { settingsSchema } from './settings';

const side = fc.integer({ min: 2, max: 9000 });
const share = fc.double({ min: 0, max: 1, noNaN: true });

describe('the part of a picture that is printed', () => {
  it('lies in the picture, has the proportion, and touches two of its sides', () => {
    fc.assert(
      fc.property(
        side,
        side,
        fc.double({ min: 0.4, max: 2.5, noNaN: true }),
        share,
        share,
        (width, height, ratio, x, y) => {
          const part = printPart({ width, height }, ratio, { x, y });
          expect(part.x + part.width).toBeLessThanOrEqual(width);
          expect(part.y + part.height).toBeLessThanOrEqual(height);
          expect(Math.min(part.x, part.y)).toBeGreaterThanOrEqual(0);
          expect(part.width === width || part.height === height).toBe(true);
          expect(Math.abs(part.width - part.height * ratio)).toBeLessThanOrEqual(Math.max(1, ratio) + 1e-6);
        },
      ),
    );
  });

  it('is the whole, a proportion, or a rectangle held within', () => {
    const size = { width: 300, height: 200 };
    const at = { x: 0.5, y: 0.5 };
    const frame = { x: 250, y: -5, width: 100, height: 90 };
    const of = (part: 'whole' | 'print' | 'frame', upright = false) =>
      partOf({ part, proportion: '1:1', upright }, size, at, frame);
    expect(of('whole')).toBeUndefined();
    expect(of('print')).toEqual({ x: 50, y: 0, width: 200, height: 200 });
    expect(of('frame')).toEqual({ x: 250, y: 0, width: 50, height: 90 });
    expect(partOf({ part: 'print', proportion: '3:2', upright: true }, size, at, frame)).toEqual({
      x: 84,
      y: 0,
      width: 133,
      height: 200,
    });
    expect(withinPicture({ x: 0, y: 0, width: 0, height: 5000 }, size)).toMatchObject({ width: 1, height: 200 });
  });
});

describe('the size in which it is written', () => {
  it('is told in pixels or in per cent, and asked for only where it changes', () => {
    const part = { width: 3000, height: 2000 };
    expect(sizeOf({ size: 'as it is', percent: 50, width: 10 }, part)).toEqual(part);
    expect(sizeOf({ size: 'per cent', percent: 25, width: 10 }, part)).toEqual({ width: 750, height: 500, asked: 750 });
    expect(sizeOf({ size: 'pixels', percent: 25, width: 3000 }, part)).toEqual(part);
    expect(plainBytes(part, 3, 16)).toBe(36_000_000);
  });
});

describe('what the dialog remembers', () => {
  it('is as at first where it cannot be read', () => {
    const usual = settingsSchema.parse({});
    expect(usual).toMatchObject({ formats: ['tif'], part: 'whole', quality: 92 });
    expect(settingsSchema.parse({ formats: ['bmp'], quality: 'much', part: 'half', depths: 3 })).toEqual(usual);
    expect(settingsSchema.parse({ ...usual, formats: ['png', 'jpg'] }).formats).toEqual(['png', 'jpg']);
  });
});

describe('the sizes that one press asks for', () => {
  const part = { width: 3000, height: 2000 };
  const of = (also: string, size: 'as it is' | 'pixels' = 'as it is') =>
    sizesOf({ size, percent: 50, width: 1500, also }, part).map(({ width, height, asked }) => [width, height, asked]);

  it('are the one that is chosen, then each width that was typed, once', () => {
    expect(of('')).toEqual([[3000, 2000, undefined]]);
    expect(of('1920, 800; 1920')).toEqual([
      [3000, 2000, undefined],
      [1920, 1280, 1920],
      [800, 533, 800],
    ]);
    expect(of('600 1500 3000', 'pixels')).toEqual([
      [1500, 1000, 1500],
      [600, 400, 600],
      [3000, 2000, undefined],
    ]);
  });

  it('leave out what is no width, and end at six', () => {
    expect(of('none, 4, 99999999, -')).toHaveLength(1);
    expect(of('100 200 300 400 500 600 700')).toHaveLength(6);
    for (const also of ['', '1920, 800', ' 16;60000 ']) expect(troubleWith(also)).toBeUndefined();
    for (const also of ['wide', '12.5', '15', '1e3', '-800'])
      expect(troubleWith(also)).toMatch(/Enter widths in whole pixels/);
    expect(troubleWith('100 200 300 400 500 600')).toMatch(/At most 6 sizes per export/);
  });
});
