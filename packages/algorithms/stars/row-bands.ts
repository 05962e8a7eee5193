import type { WasmKernels } from '@owl-loom/image/kernels/wasm';

/** Rows whose stars are measured together. */
const ROWS = 128;

/** A run of places that lie in one band of rows, and the band in the kernels' memory. */
export interface RowBand {
  /** Address of the rows; their number; the row of the plane that is the first. */
  readonly at: number;
  readonly height: number;
  readonly foot: number;
  /** The places `from` to before `to` lie in it. */
  readonly from: number;
  readonly to: number;
}

/**
 * Brings a plane into the kernels' memory band by band, each row once or little more, for work on places in it.
 * @param rows the places' rows, rising but for one row up or down
 * @param margin rows about a place that are looked at
 */
export function forEachRowBand(
  wasm: WasmKernels,
  values: Float32Array,
  width: number,
  height: number,
  rows: ArrayLike<number>,
  margin: number,
  work: (band: RowBand) => void,
): void {
  for (let from = 0; from < rows.length; ) {
    const first = Math.floor(rows[from]);
    let to = from + 1;
    while (to < rows.length && rows[to] < first + ROWS) to++;
    const foot = Math.max(0, first - margin - 1);
    const head = Math.min(height, Math.ceil(rows[to - 1]) + margin + 2);
    wasm.resetArena();
    const at = wasm.allocFrom(values.subarray(foot * width, head * width));
    work({ at, height: head - foot, foot, from, to });
    from = to;
  }
}
