import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { turnAndFlip } from '../../../../core/steps/place';
import { levelled } from './levelled';

/** A direction of the source as a place step shows it. */
function shownBy(degrees: number, flip: 'none' | 'horizontal' | 'vertical', x: number, y: number): [number, number] {
  const a = (degrees * Math.PI) / 180;
  const [u, v] = [x * Math.cos(a) - y * Math.sin(a), x * Math.sin(a) + y * Math.cos(a)];
  const m = turnAndFlip(0, flip);
  return [m.xx * u + m.xy * v, m.yx * u + m.yy * v];
}

describe('a line that should be level', () => {
  it('is level or upright after the step is turned by it, whatever the step did before', () => {
    const angle = fc.integer({ min: -1799, max: 1799 }).map((tenths) => tenths / 10);
    fc.assert(
      fc.property(angle, angle, fc.constantFrom('none' as const, 'horizontal' as const, 'vertical' as const), (degrees, line, flip) => {
        const a = (line * Math.PI) / 180;
        const before = shownBy(degrees, flip, Math.cos(a), Math.sin(a));
        const after = shownBy(levelled({ degrees, flip }, ...before), flip, Math.cos(a), Math.sin(a));
        expect(Math.min(Math.abs(after[0]), Math.abs(after[1]))).toBeLessThan(1e-4);
      }),
    );
  });

  it('turns by no more than it must', () => {
    expect(levelled({}, 100, 3)).toBeCloseTo(-1.718, 3);
    expect(levelled({ degrees: 10 }, 100, -3)).toBeCloseTo(11.718, 3);
    expect(levelled({}, 3, 100)).toBeCloseTo(1.718, 3);
    expect(levelled({}, -100, -3)).toBeCloseTo(-1.718, 3);
  });
});
