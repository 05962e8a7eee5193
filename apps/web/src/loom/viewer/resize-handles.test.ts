import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rectBetween, GRIPS, resizeRect } from './resize-handles';

const frame = { x: 0, y: 0, width: 400, height: 300 };

describe('a drawn rectangle', () => {
  it('is the same from whichever corner it is drawn, in whole pixels, both ends counted in', () => {
    const wanted = { x: 10, y: 20, width: 31, height: 41 };
    for (const [a, b] of [
      [
        { x: 10.2, y: 19.9 },
        { x: 40.1, y: 60.4 },
      ],
      [
        { x: 40.1, y: 19.9 },
        { x: 10.2, y: 60.4 },
      ],
    ]) {
      const drawn = rectBetween(a, b, frame);
      expect(drawn).toEqual(rectBetween(b, a, frame));
      expect(drawn && Math.abs(drawn.width - wanted.width)).toBeLessThanOrEqual(1);
      expect(drawn && [drawn.x, drawn.y]).toEqual([wanted.x, wanted.y]);
    }
  });

  it('never leaves the frame', () => {
    const place = fc.record({
      x: fc.double({ min: -500, max: 900, noNaN: true }),
      y: fc.double({ min: -500, max: 900, noNaN: true }),
    });
    fc.assert(
      fc.property(place, place, (a, b) => {
        const drawn = rectBetween(a, b, frame);
        if (!drawn) return;
        expect(drawn.x >= 0 && drawn.y >= 0 && drawn.x + drawn.width <= 400 && drawn.y + drawn.height <= 300).toBe(
          true,
        );
        expect([drawn.x, drawn.y, drawn.width, drawn.height].every(Number.isInteger)).toBe(true);
      }),
    );
  });

  it('is none where it holds hardly a pixel, as after a click', () => {
    expect(rectBetween({ x: 5, y: 5 }, { x: 6, y: 6 }, frame)).toBeNull();
    expect(rectBetween({ x: -50, y: -50 }, { x: -20, y: -20 }, frame)).toBeNull();
  });
});

describe('a rectangle that is pulled', () => {
  const rect = { x: 50, y: 60, width: 100, height: 80 };

  it('moves as a whole, or by one corner while the other stays', () => {
    expect(resizeRect(rect, 'move', 5, -7)).toEqual({ x: 55, y: 53, width: 100, height: 80 });
    expect(resizeRect(rect, 'right-top', 5, -7)).toEqual({ x: 50, y: 60, width: 105, height: 73 });
    expect(resizeRect(rect, 'left-foot', 5, -7)).toEqual({ x: 55, y: 53, width: 95, height: 87 });
  });

  it('keeps the corner across from the one that is held, and never turns inside out', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...GRIPS),
        fc.integer({ min: -300, max: 300 }),
        fc.integer({ min: -300, max: 300 }),
        (grip, dx, dy) => {
          const next = resizeRect(rect, grip, dx, dy);
          expect(next.width >= 1 && next.height >= 1).toBe(true);
          if (grip.startsWith('left')) expect(next.x + next.width).toBe(rect.x + rect.width);
          else expect(next.x).toBe(rect.x);
          if (grip.endsWith('foot')) expect(next.y + next.height).toBe(rect.y + rect.height);
          else expect(next.y).toBe(rect.y);
        },
      ),
    );
  });
});
