import fc from 'fast-check';
import { expect, it } from 'vitest';
import { SpatialIndex } from './spatial-index';

const place = fc.record({
  x: fc.double({ min: -20, max: 20, noNaN: true }),
  y: fc.double({ min: -20, max: 20, noNaN: true }),
});

it('places tell the near ones as asking each does', () => {
  fc.assert(
    fc.property(
      fc.array(place, { maxLength: 40 }),
      place,
      fc.double({ min: 0.5, max: 9, noNaN: true }),
      (all, { x, y }, reach) => {
        expect(new SpatialIndex(all, reach).near(x, y)).toBe(
          all.some((other) => Math.hypot(other.x - x, other.y - y) < reach),
        );
      },
    ),
  );
});
