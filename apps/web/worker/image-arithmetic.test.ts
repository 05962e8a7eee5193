import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cropTo, differenceOf } from './image-arithmetic';

const rect = { x: 4, y: -3, width: 7, height: 5 };
const image = (planes: number) => ({
  rect,
  planes: Array.from({ length: planes }, (_, p) => Float32Array.from({ length: 35 }, (__, i) => p + i / 35)),
});
const place = fc.record({
  x: fc.integer({ min: -5, max: 15 }),
  y: fc.integer({ min: -9, max: 9 }),
  width: fc.nat({ max: 12 }),
  height: fc.nat({ max: 12 }),
});

describe('an image cut to a rectangle', () => {
  it('has its pixels inside it and none outside, and leaves its own as they were', () => {
    fc.assert(
      fc.property(place, (to) => {
        const from = image(3);
        const { planes } = cropTo(from, to);
        expect(from).toEqual(image(3));
        planes.forEach((plane, p) =>
          plane.forEach((v, i) => {
            const [x, y] = [rect.x + (i % rect.width), rect.y + Math.floor(i / rect.width)];
            const inside = x >= to.x && x < to.x + to.width && y >= to.y && y < to.y + to.height;
            expect(v).toBe(inside ? from.planes[p][i] : Number.NaN);
          }),
        );
      }),
    );
  });
});

describe('what was taken out', () => {
  it('is the image before less the image after, a mono one counting as grey', () => {
    const [mono, colour] = [image(1), image(3)];
    const of = differenceOf(colour, mono).planes;
    expect(of).toHaveLength(3);
    of.forEach((plane, p) =>
      plane.forEach((v, i) => expect(v).toBeCloseTo(mono.planes[0][i] - colour.planes[p][i], 6)),
    );
    expect(differenceOf(mono, colour).planes).toHaveLength(3);
    expect(differenceOf(mono, mono).planes[0].every((v) => v === 0)).toBe(true);
  });
});
