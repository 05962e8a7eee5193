import type { Rect } from '../geometry/rect';

/** A coarse grid over a plane: its cells are `n` pixels wide and begin at multiples of n, whatever window is looked at. */
export interface CoarseGrid {
  readonly n: number;
  /** Cells, in units of n. */
  readonly rect: Rect;
  readonly values: Float32Array;
}

/** The cells of n pixels that a rectangle touches. */
export function gridCells(rect: Rect, n: number): Rect {
  const x = Math.floor(rect.x / n);
  const y = Math.floor(rect.y / n);
  return { x, y, width: Math.ceil((rect.x + rect.width) / n) - x, height: Math.ceil((rect.y + rect.height) / n) - y };
}

/** The values with 0 for cells out of all reach: no pixel that counts lies near them. */
export const zeroFilled = (values: Float32Array): Float32Array => values.map((v) => (v === v ? v : 0));

/** Weights of Catmull and Rom's cubic (1974) at a fraction between the middle two of four values. */
export function cubic(t: number): [number, number, number, number] {
  return [
    ((-t + 2) * t - 1) * t * 0.5,
    ((3 * t - 5) * t * t + 2) * 0.5,
    ((-3 * t + 4) * t + 1) * t * 0.5,
    (t - 1) * t * t * 0.5,
  ];
}
