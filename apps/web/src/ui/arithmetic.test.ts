import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { numberFrom } from './arithmetic';

describe('a number as it is typed', () => {
  it('is what it says, however large or small', () => {
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (v) => {
        expect(numberFrom(String(v))).toBe(Number(String(v)));
      }),
    );
  });

  it('may be a sum, worked out as one does', () => {
    expect(numberFrom('3/4')).toBe(0.75);
    expect(numberFrom(' 2 * (1.5 + 0.25) ')).toBe(3.5);
    expect(numberFrom('-2^2')).toBe(-4);
    expect(numberFrom('2^-1')).toBe(0.5);
    expect(numberFrom('8 − 2 × 3')).toBe(2);
    expect(numberFrom('1 - 2 - 3')).toBe(-4);
    expect(numberFrom('0,5')).toBe(0.5);
  });

  it('may carry a unit', () => {
    expect(numberFrom('45 %')).toBeCloseTo(0.45, 12);
    expect(numberFrom('12px')).toBe(12);
    expect(numberFrom('30°')).toBe(30);
    expect(numberFrom('5 h 20 min')).toBe(19_200);
    expect(numberFrom('240*300 s')).toBe(72_000);
  });

  it('is none where it makes no sense', () => {
    for (const text of ['', 'much', '2 +', '(3', '1/0', '3 parsecs', '4 5', '0x10', 'constructor'])
      expect(numberFrom(text)).toBeUndefined();
  });
});
