import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { paint as paintSchema } from '@owl-loom/recipe/mask-schema';
import type { Brush } from '../../store/view';
import { handlesOf, movedBy, outlineOf, type Paint, pulledBy, shapeOf, simplified } from './shapes';

const brush: Brush = { shape: 'polygon', mode: 'hide', radius: 20, soft: 10, strength: 0.5 };
const number = fc.integer({ min: -500, max: 4000 });
const spot = fc.record({ x: number, y: number });
const place = fc.tuple(number, number);
const common = { mode: fc.constantFrom('hide' as const, 'reveal' as const) };
const anyPaint: fc.Arbitrary<Paint> = fc.oneof(
  fc.record({
    ...common,
    shape: fc.constant('stroke' as const),
    radius: fc.integer({ min: 1, max: 99 }),
    points: fc.array(fc.oneof(place, fc.tuple(number, number, fc.constantFrom(0.25, 1))), {
      minLength: 1,
      maxLength: 5,
    }),
  }),
  fc.record({
    ...common,
    shape: fc.constant('ellipse' as const),
    x: number,
    y: number,
    width: fc.integer({ min: 1, max: 900 }),
    height: fc.integer({ min: 1, max: 900 }),
  }),
  fc.record({
    ...common,
    shape: fc.constant('polygon' as const),
    points: fc.array(place, { minLength: 3, maxLength: 6 }),
  }),
  fc.record({ ...common, shape: fc.constant('ramp' as const), from: place, to: place }),
);

describe('shapes drawn by hand', () => {
  it('are what the recipe can hold, or nothing where the hand only slipped', () => {
    fc.assert(
      fc.property(fc.array(spot, { maxLength: 30 }), fc.constantFrom('ellipse', 'polygon', 'ramp'), (way, shape) => {
        const made = shapeOf(way, { ...brush, shape: shape as Brush['shape'] }, 2);
        if (made) expect(paintSchema.safeParse(made).success).toBe(true);
      }),
    );
    expect(shapeOf([], brush, 1)).toBeUndefined();
    expect(shapeOf([{ x: 5, y: 5 }], brush, 1)).toBeUndefined();
    expect(
      shapeOf(
        [
          { x: 5, y: 5 },
          { x: 90, y: 90 },
        ],
        brush,
        1,
      ),
    ).toBeUndefined();
    expect(
      shapeOf(
        [
          { x: 5, y: 5 },
          { x: 90, y: 5 },
        ],
        { ...brush, shape: 'ellipse' },
        1,
      ),
    ).toBeUndefined();
  });

  it('lie where they were drawn, whichever way round', () => {
    const ellipse = { ...brush, shape: 'ellipse' } as const;
    const made = { mode: 'hide', strength: 0.5, soft: 10, shape: 'ellipse', x: 10, y: 20, width: 30, height: 40 };
    expect(
      shapeOf(
        [
          { x: 10, y: 20 },
          { x: 40, y: 60 },
        ],
        ellipse,
        1,
      ),
    ).toEqual(made);
    expect(
      shapeOf(
        [
          { x: 40, y: 20 },
          { x: 10, y: 60 },
        ],
        ellipse,
        1,
      ),
    ).toEqual(made);
    expect(
      shapeOf(
        [
          { x: 1, y: 2 },
          { x: 8, y: 9 },
          { x: 30, y: 4 },
        ],
        { ...brush, shape: 'ramp' },
        1,
      ),
    ).toEqual({
      mode: 'hide',
      strength: 0.5,
      shape: 'ramp',
      from: [1, 2],
      to: [30, 4],
    });
  });

  it('leave out of a way only what lies on it', () => {
    fc.assert(
      fc.property(
        fc.array(spot, { minLength: 2, maxLength: 40 }),
        fc.integer({ min: 1, max: 50 }),
        (way, tolerance) => {
          const kept = simplified(way, tolerance);
          expect(kept[0]).toBe(way[0]);
          expect(kept[kept.length - 1]).toBe(way[way.length - 1]);
          // Every place that went lies within the tolerance of the line between those that stayed around it.
          let before = 0;
          for (const next of kept.slice(1)) {
            const at = way.indexOf(next, before);
            const [from, to] = [way[before], way[at]];
            const length = Math.hypot(to.x - from.x, to.y - from.y);
            for (const { x, y } of way.slice(before + 1, at)) {
              const off =
                length === 0
                  ? Math.hypot(x - from.x, y - from.y)
                  : Math.abs((to.x - from.x) * (from.y - y) - (to.y - from.y) * (from.x - x)) / length;
              expect(off).toBeLessThanOrEqual(tolerance + 1e-9);
            }
            before = at;
          }
        },
      ),
    );
  });
});

describe('shapes taken up again', () => {
  it('come back when they are moved there and back, and stay what the recipe can hold', () => {
    fc.assert(
      fc.property(anyPaint, number, number, (paint, dx, dy) => {
        const there = movedBy(paint, dx, dy);
        expect(paintSchema.safeParse(there).success).toBe(true);
        expect(movedBy(there, -dx, -dy)).toEqual(paint);
        handlesOf(there).forEach(({ x, y }, i) => {
          const from = handlesOf(paint)[i];
          expect([x, y]).toEqual([from.x + dx, from.y + dy]);
        });
        expect(outlineOf(paint)).toMatch(/^M-?\d/);
      }),
    );
  });

  it('are pulled by one handle, the opposite ones staying', () => {
    fc.assert(
      fc.property(anyPaint, fc.integer({ min: 0, max: 40 }), (paint, by) => {
        handlesOf(paint).forEach((handle, h) => {
          const next = pulledBy(paint, h, by, by);
          expect(paintSchema.safeParse(next).success).toBe(true);
          if (paint.shape !== 'ellipse') {
            expect(handlesOf(next)[h]).toEqual({ x: handle.x + by, y: handle.y + by });
            handlesOf(next).forEach((other, i) => i !== h && expect(other).toEqual(handlesOf(paint)[i]));
          } else expect(handlesOf(next)[3 - h]).toEqual(handlesOf(paint)[3 - h]);
        });
      }),
    );
  });
});
