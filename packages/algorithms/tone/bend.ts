/** Cells of the table between 0 and 1. */
const CELLS = 2 ** 14;

/**
 * A curve on 0 to 1, read from a table of straight pieces: off by 5e-8 where the curve bends no harder than by a hundred, and exact in the
 * cells in which it has a corner. Outside 0 to 1 it is what it is at the ends.
 */
export class LookupCurve {
  private readonly heights = new Float64Array(CELLS + 2);
  private readonly corners = new Uint8Array(CELLS + 2);

  /** @param corners places where the curve's slope jumps */
  constructor(
    private readonly f: (x: number) => number,
    corners: readonly number[] = [],
  ) {
    for (let i = 0; i <= CELLS; i++) this.heights[i] = f(i / CELLS);
    this.heights[CELLS + 1] = this.heights[CELLS];
    for (const x of corners) if (x >= 0 && x <= 1) this.corners[Math.floor(x * CELLS)] = 1;
  }

  /** NaN stays NaN. */
  at(x: number): number {
    if (!(x > 0)) return x === x ? this.heights[0] : x;
    if (x >= 1) return this.heights[CELLS];
    const place = x * CELLS;
    const cell = place | 0;
    if (this.corners[cell] === 1) return this.f(x);
    const low = this.heights[cell];
    return low + (place - cell) * (this.heights[cell + 1] - low);
  }

  /** A whole plane; `to` may be `from`. */
  plane(from: Float32Array, to: Float32Array): void {
    for (let i = 0; i < to.length; i++) to[i] = this.at(from[i]);
  }
}
