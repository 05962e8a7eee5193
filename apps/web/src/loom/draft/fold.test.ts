import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { chooseOpenRows } from './fold';

const heights = { row: 34, run: 26 };
const groups = fc.array(fc.array(fc.nat({ max: 4 }), { maxLength: 14 }), { minLength: 1, maxLength: 3 });
/** Height counted row by row, without the code under test. */
const height = (open: readonly boolean[]): number => {
  let [sum, folded] = [0, false];
  for (const isOpen of open) {
    if (isOpen) sum += heights.row;
    else folded = true;
  }
  return folded ? sum + heights.run : sum;
};

describe('rows of the draft', () => {
  it('all stand open where there is room for them', () => {
    fc.assert(
      fc.property(groups, (wishes) => {
        const room = wishes.flat().length * heights.row;
        expect(chooseOpenRows(wishes, room, heights).flat().every(Boolean)).toBe(true);
      }),
    );
  });

  it('fit where those that must stand open leave room, and what must stand open does', () => {
    fc.assert(
      fc.property(groups, fc.nat({ max: 700 }), (wishes, room) => {
        const open = chooseOpenRows(wishes, room, heights);
        wishes.forEach((list, g) => list.forEach((rank, i) => rank === 0 && expect(open[g][i]).toBe(true)));
        const musts = wishes.map((list) => list.map((rank) => rank === 0));
        const min = musts.reduce((sum, rows) => sum + height(rows), 0);
        const all = open.reduce((sum, rows) => sum + height(rows), 0);
        expect(all).toBeLessThanOrEqual(Math.max(room, min));
      }),
    );
  });

  it('open in the order in which they are wanted', () => {
    expect(chooseOpenRows([[3, 2, 0, 4]], 34 + 34 + 26, heights)).toEqual([[false, true, true, false]]);
    expect(
      chooseOpenRows(
        [
          [1, 1, 1, 1],
          [2, 2],
        ],
        4 * 34 + 26,
        heights,
      ),
    ).toEqual([
      [true, true, true, true],
      [false, false],
    ]);
  });
});
