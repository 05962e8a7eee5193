import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { placeMap } from '@owl-loom/engine/steps/place';
import { straightenedAngle } from './straightened-angle';

const origin = { x: 0, y: 0, width: 101, height: 101 };

/** A direction of the source as a place step shows it. */
function shownBy(
  degrees: number,
  flip: 'none' | 'horizontal' | 'vertical',
  turn: 0 | 90 | 180 | 270,
  x: number,
  y: number,
): [number, number] {
  const m = placeMap({ turn, flip, degrees, dx: 0, dy: 0, size: 1 }, origin);
  return [m.xx * x + m.xy * y, m.yx * x + m.yy * y];
}

describe('a line that should be level', () => {
  it('is level or upright after the step is turned by it, whatever the step did before', () => {
    const angle = fc.integer({ min: -1799, max: 1799 }).map((tenths) => tenths / 10);
    fc.assert(
      fc.property(
        angle,
        angle,
        fc.constantFrom('none' as const, 'horizontal' as const, 'vertical' as const),
        fc.constantFrom(0 as const, 90 as const, 270 as const),
        (degrees, line, flip, turn) => {
          const a = (line * Math.PI) / 180;
          const before = shownBy(degrees, flip, turn, Math.cos(a), Math.sin(a));
          const after = shownBy(straightenedAngle(degrees, ...before), flip, turn, Math.cos(a), Math.sin(a));
          expect(Math.min(Math.abs(after[0]), Math.abs(after[1]))).toBeLessThan(1e-4);
        },
      ),
    );
  });

  it('turns by no more than it must', () => {
    expect(straightenedAngle(0, 100, 3)).toBeCloseTo(-1.718, 3);
    expect(straightenedAngle(10, 100, -3)).toBeCloseTo(11.718, 3);
    expect(straightenedAngle(0, 3, 100)).toBeCloseTo(1.718, 3);
    expect(straightenedAngle(0, -100, -3)).toBeCloseTo(-1.718, 3);
  });
});
