import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pinched } from './pinch';
import { toPixel, type ViewSize } from './viewport';

const place = fc.record({ x: fc.integer({ min: 0, max: 800 }), y: fc.integer({ min: 0, max: 600 }) });
const viewSize = fc.record({
  width: fc.constant(800),
  height: fc.constant(600),
  turn: fc.constantFrom(0 as const, 90 as const, 180 as const, 270 as const),
  flip: fc.constantFrom('none' as const, 'horizontal' as const, 'vertical' as const),
  degrees: fc.integer({ min: -40, max: 40 }),
}) satisfies fc.Arbitrary<ViewSize>;
const view = fc.record({
  cx: fc.double({ min: 0, max: 6000, noNaN: true }),
  cy: fc.double({ min: 0, max: 4000, noNaN: true }),
  zoom: fc.double({ min: 0.1, max: 4, noNaN: true }),
});

describe('two fingers on the picture', () => {
  it('keep what lay between them there, and part it as they part', () => {
    fc.assert(
      fc.property(
        view,
        viewSize,
        place,
        place,
        place,
        fc.double({ min: 0.5, max: 2, noNaN: true }),
        (v, p, a, b, to, by) => {
          fc.pre(Math.hypot(a.x - b.x, a.y - b.y) > 20);
          const [mx, my] = [(a.x + b.x) / 2, (a.y + b.y) / 2];
          const moved = (one: { x: number; y: number }) => ({
            x: to.x + by * (one.x - mx),
            y: to.y + by * (one.y - my),
          });
          const after = pinched(v, p, [a, b], [moved(a), moved(b)]);
          expect(after.zoom).toBeCloseTo(v.zoom * by, 9);
          for (const finger of [a, b]) {
            const [was, is] = [toPixel(v, p, finger.x, finger.y), toPixel(after, p, moved(finger).x, moved(finger).y)];
            expect(is.x).toBeCloseTo(was.x, 5);
            expect(is.y).toBeCloseTo(was.y, 5);
          }
        },
      ),
    );
  });

  it('zoom no further than the wheel does', () => {
    const p: ViewSize = { width: 800, height: 600, turn: 0, flip: 'none' };
    const from = [
      { x: 400, y: 300 },
      { x: 410, y: 300 },
    ] as const;
    const wide = [
      { x: 0, y: 300 },
      { x: 800, y: 300 },
    ] as const;
    expect(pinched({ cx: 10, cy: 10, zoom: 20 }, p, from, wide).zoom).toBe(32);
    expect(pinched({ cx: 10, cy: 10, zoom: 0.02 }, p, wide, from).zoom).toBe(1 / 64);
  });
});
