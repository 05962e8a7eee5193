import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cellsOf, withinCell } from './cells';

const size = fc.record({ width: fc.integer({ min: 10, max: 4000 }), height: fc.integer({ min: 10, max: 3000 }) });

describe('the windows of a stage', () => {
  it('are one for what is laid over each other, two side by side, four in a grid', () => {
    const stage = { width: 800, height: 500 };
    expect(cellsOf(stage, 'wipe')).toEqual({ cells: [{ left: 0, top: 0, ...stage }], own: 0 });
    expect(cellsOf(stage, 'side')).toEqual({
      cells: [
        { left: 0, top: 0, width: 399, height: 500 },
        { left: 401, top: 0, width: 399, height: 500 },
      ],
      own: 1,
    });
    expect(cellsOf(stage, 'grid').cells.map(({ left, top }) => [left, top])).toEqual([
      [0, 0],
      [401, 0],
      [0, 251],
      [401, 251],
    ]);
  });

  it('are of one size and lie beside each other within the stage', () => {
    fc.assert(
      fc.property(size, fc.constantFrom('side' as const, 'grid' as const), (stage, layout) => {
        const { cells } = cellsOf(stage, layout);
        for (const cell of cells) {
          expect([cell.width, cell.height]).toEqual([cells[0].width, cells[0].height]);
          expect(cell.left + cell.width).toBeLessThanOrEqual(stage.width);
          expect(cell.top + cell.height).toBeLessThanOrEqual(stage.height);
        }
        const covered = cells.reduce((sum, cell) => sum + cell.width * cell.height, 0);
        expect(covered).toBeGreaterThanOrEqual((stage.width - 3) * (stage.height - (layout === 'grid' ? 3 : 0)));
      }),
    );
  });

  it('mean the same place of the picture over any of them', () => {
    fc.assert(
      fc.property(
        size,
        fc.double({ min: 0, max: 0.99, noNaN: true }),
        fc.double({ min: 0, max: 0.99, noNaN: true }),
        (stage, u, v) => {
          const { cells } = cellsOf(stage, 'grid');
          const [x, y] = [u * cells[0].width, v * cells[0].height];
          for (const { left, top } of cells) {
            const [sx, sy] = withinCell(cells, left + x, top + y);
            expect(sx).toBeCloseTo(x, 6);
            expect(sy).toBeCloseTo(y, 6);
          }
        },
      ),
    );
  });
});
