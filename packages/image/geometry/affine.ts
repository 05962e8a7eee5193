import { toFullSize, toLevel } from './level-position';
import type { Rect } from './rect';

/** An affine map of pixel positions: `x' = xx·x + xy·y + tx`, `y' = yx·x + yy·y + ty`. */
export interface Affine {
  readonly xx: number;
  readonly xy: number;
  readonly tx: number;
  readonly yx: number;
  readonly yy: number;
  readonly ty: number;
}

export const IDENTITY: Affine = { xx: 1, xy: 0, tx: 0, yx: 0, yy: 1, ty: 0 };

/** Where a map takes a point. */
export const mapPoint = (m: Affine, x: number, y: number): [number, number] => [
  m.xx * x + m.xy * y + m.tx,
  m.yx * x + m.yy * y + m.ty,
];

/** First `first`, then `then`. */
export function compose(first: Affine, then: Affine): Affine {
  const [tx, ty] = mapPoint(then, first.tx, first.ty);
  return {
    xx: then.xx * first.xx + then.xy * first.yx,
    xy: then.xx * first.xy + then.xy * first.yy,
    tx,
    yx: then.yx * first.xx + then.yy * first.yx,
    yy: then.yx * first.xy + then.yy * first.yy,
    ty,
  };
}

/** The area of a pixel after the map; negative where the map mirrors. */
export const determinant = (m: Affine): number => m.xx * m.yy - m.xy * m.yx;

/** The map that undoes another. */
export function invertAffine(m: Affine): Affine {
  const d = determinant(m);
  const back = { xx: m.yy / d, xy: -m.xy / d, yx: -m.yx / d, yy: m.xx / d };
  // Adding 0 turns −0 into 0.
  return { ...back, tx: -(back.xx * m.tx + back.xy * m.ty) + 0, ty: -(back.yx * m.tx + back.yy * m.ty) + 0 };
}

/** The same map between a level's pixels. */
export function affineAtLevel(m: Affine, level: number): Affine {
  const [x, y] = mapPoint(m, toFullSize(0, level), toFullSize(0, level));
  return { ...m, tx: toLevel(x, level), ty: toLevel(y, level) };
}

/** Whether a map takes every pixel exactly onto a pixel: quarter turns, flips and whole shifts. */
export function isPixelAligned(m: Affine): boolean {
  const unit = [m.xx, m.xy, m.yx, m.yy].every((v) => v === 0 || v === 1 || v === -1);
  return unit && Math.abs(determinant(m)) === 1 && Number.isInteger(m.tx) && Number.isInteger(m.ty);
}

/** The whole pixels that a mapped rectangle of pixels can touch, `margin` more on every side. */
export function mapRect(m: Affine, r: Rect, margin = 0): Rect {
  const corners = [0, r.width - 1].flatMap((dx) => [0, r.height - 1].map((dy) => mapPoint(m, r.x + dx, r.y + dy)));
  const low = (k: 0 | 1) => Math.floor(Math.min(...corners.map((c) => c[k])) + 1e-9) - margin;
  const high = (k: 0 | 1) => Math.ceil(Math.max(...corners.map((c) => c[k])) - 1e-9) + margin;
  return { x: low(0), y: low(1), width: high(0) - low(0) + 1, height: high(1) - low(1) + 1 };
}
