/** Which pixels of a region's rows count, as far as a few numbers a row can say. */
export class RowSelection {
  /** How many of each row's pixels count. */
  readonly counts: Uint32Array;
  /** Where those begin that count, if they lie one after another; {@link SCATTERED} where others lie among them. */
  private readonly starts: Uint32Array;

  constructor(
    private readonly width: number,
    height: number,
  ) {
    this.counts = new Uint32Array(height);
    this.starts = new Uint32Array(height);
  }

  /** Notes a row: how many of its pixels count, and the row, NaN where one does not. */
  note(row: number, count: number, left: Float32Array): void {
    this.counts[row] = count;
    if (count === 0 || count === this.width) return;
    let [first, last] = [0, this.width - 1];
    while (left[first] !== left[first]) first++;
    while (left[last] !== left[last]) last--;
    this.starts[row] = last - first + 1 === count ? first : SCATTERED;
  }

  /**
   * Takes out, as NaN, the pixels of a part of a row that do not count, where that can be said without looking at both planes.
   * @param column where the part begins
   * @returns whether it could
   */
  mask(row: number, column: number, part: Float32Array): boolean {
    const count = this.counts[row];
    if (count === this.width) return true;
    if (this.starts[row] === SCATTERED) return false;
    const from = this.starts[row] - column;
    part.fill(Number.NaN, 0, Math.max(0, from));
    part.fill(Number.NaN, Math.max(0, from + count));
    return true;
  }
}

const SCATTERED = 2 ** 32 - 1;
