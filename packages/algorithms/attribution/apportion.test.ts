import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { apportionChange } from './apportion';

const number = fc.double({ min: -1, max: 1, noNaN: true });
const colour = fc.tuple(number, number, number);

describe('sharing a change out', () => {
  it('adds up to the change in every plane in which anything moves', () => {
    fc.assert(
      fc.property(colour, fc.array(colour, { minLength: 1, maxLength: 5 }), (change, parts) => {
        const shares = apportionChange(change, parts);
        change.forEach((whole, p) => {
          const moves = parts.some((part) => Math.abs(part[p]) > 1e-200);
          const sum = shares.reduce((all, share) => all + share[p], 0);
          if (moves) expect(sum).toBeCloseTo(whole, 6);
        });
      }),
    );
  });

  it('gives each part of a sum its own', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0.01, max: 1, noNaN: true }), { minLength: 1, maxLength: 6 }), (own) => {
        const whole = own.reduce((a, b) => a + b, 0);
        apportionChange(
          [whole],
          own.map((v) => [v]),
        ).forEach(([share], i) => expect(share).toBeCloseTo(own[i], 9));
      }),
    );
  });

  it('keeps to what moves where parts cancel out, and gives nothing where none moves', () => {
    expect(apportionChange([0.3], [[0.5], [-0.5]])).toEqual([[0.15], [0.15]]);
    expect(
      apportionChange(
        [0.3, 0.1],
        [
          [0, 0.2],
          [0, 0],
        ],
      ),
    ).toEqual([
      [0, 0.1],
      [0, 0],
    ]);
    expect(apportionChange([0.3], [[Number.NaN], [0.2]])).toEqual([[0], [0.3]]);
    expect(apportionChange([0.3], [])).toEqual([]);
  });
});
