import type { Compare } from './compare';

/** How pictures lie on the stage: in one window, or each in one of its own. */
export type Layout = Compare | 'grid';

/** A picture's own window on the stage, screen pixels from its upper left corner. */
export interface Cell {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

/** Pixels between two windows. */
const GAP = 2;

/**
 * The windows of a stage, all of one size, and which of them is the picture's own. Side by side, the other one is on the left; in a grid,
 * the picture comes first and the others follow row by row.
 */
export function cellsOf(
  { width, height }: { width: number; height: number },
  layout: Layout,
): { cells: readonly Cell[]; own: number } {
  if (layout !== 'side' && layout !== 'grid') return { cells: [{ left: 0, top: 0, width, height }], own: 0 };
  const across = Math.max(0, Math.floor((width - GAP) / 2));
  const down = layout === 'grid' ? Math.max(0, Math.floor((height - GAP) / 2)) : height;
  const cells = (layout === 'grid' ? [0, height - down] : [0]).flatMap((top) =>
    [0, width - across].map((left) => ({ left, top, width: across, height: down })),
  );
  return { cells, own: layout === 'grid' ? 0 : 1 };
}

/** Where a place of the stage lies within its window: over any of them the same place of the picture is meant. */
export function withinCell(cells: readonly Cell[], x: number, y: number): [number, number] {
  const cell = cells.findLast(({ left, top }) => x >= left && y >= top) ?? cells[0];
  return [x - cell.left, y - cell.top];
}
