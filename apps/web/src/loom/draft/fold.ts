/** Rows of one kind, in their order: how much each is wanted open, 0 above all else. */
export type RowPriorities = readonly number[];

export interface Heights {
  /** Of a row that stands open. */
  readonly row: number;
  /** Of the line into which the rows of one kind are folded together. */
  readonly run: number;
}

const heightOf = (open: readonly boolean[], { row, run }: Heights): number =>
  open.filter(Boolean).length * row + (open.every(Boolean) ? 0 : run);

/**
 * Which rows stand open so that all of them fit: first those that are wanted most, the others as long as there is room. Rows of rank 0 stand
 * open whatever the room.
 * @param groups rows of each kind, which are folded into a line of their own
 * @param room screen pixels for all of them
 */
export function chooseOpenRows(groups: readonly RowPriorities[], room: number, heights: Heights): boolean[][] {
  const open = groups.map((wishes) => wishes.map(() => false));
  const total = () => open.reduce((sum, rows) => sum + heightOf(rows, heights), 0);
  const order = groups
    .flatMap((wishes, group) => wishes.map((rank, row) => ({ rank, group, row })))
    .sort((a, b) => a.rank - b.rank || a.group - b.group || a.row - b.row);
  if (groups.flat().length * heights.row <= room) return groups.map((wishes) => wishes.map(() => true));
  for (const { rank, group, row } of order) {
    open[group][row] = true;
    if (rank > 0 && total() > room) open[group][row] = false;
  }
  return open;
}
