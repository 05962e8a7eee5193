import { CholeskyDecomposition, Matrix } from 'ml-matrix';
import type { Affine } from '@owl-loom/image/geometry/affine';
import type { AlignModel } from './solve';
import type { StructureLevel } from './structures';

const MAX_ROUNDS = 30;
const MAX_HALVINGS = 4;
/** A step that moves nothing further than this many pixels ends the search. */
const MIN_STEP = 1e-3;
/** Residuals beyond this count less (Huber). */
const HUBER = 1;
/** Pixels that are looked at, at most: every second, third … pixel of a larger level. */
const MAX_PIXELS = 400_000;

/** Changes of a map about a point: shift, turn and size, the four numbers of a matrix. */
const DIRECTIONS: Readonly<Record<AlignModel, number>> = { shift: 2, similarity: 4, affine: 6 };

interface Sums {
  readonly normal: Matrix;
  readonly right: Matrix;
  readonly correlation: number;
  /** Mean square of the residuals. */
  readonly scatter: number;
}

/** The pixels of the target that fall on the reference under a map: their values, the reference's there with its slopes, and where they lie. */
interface Samples {
  readonly count: number;
  readonly t: Float64Array;
  readonly r: Float64Array;
  readonly gx: Float64Array;
  readonly gy: Float64Array;
  /** From the middle, in units of half the picture. */
  readonly x: Float64Array;
  readonly y: Float64Array;
}

function samplesOf(target: StructureLevel, reference: StructureLevel, map: Affine): Samples {
  const step = Math.max(1, Math.round(Math.sqrt((target.width * target.height) / MAX_PIXELS)));
  const [cx, cy, unit] = [(target.width - 1) / 2, (target.height - 1) / 2, Math.max(target.width, target.height) / 2];
  const { width, height, values } = reference;
  const max = Math.ceil(target.width / step) * Math.ceil(target.height / step);
  const [t, r, gx, gy, px, py] = Array.from({ length: 6 }, () => new Float64Array(max));
  let n = 0;
  for (let y = 0; y < target.height; y += step)
    for (let x = 0; x < target.width; x += step) {
      const u = map.xx * x + map.xy * y + map.tx;
      const v = map.yx * x + map.yy * y + map.ty;
      const i = Math.floor(u);
      const j = Math.floor(v);
      if (!(i >= 1 && j >= 1 && i < width - 2 && j < height - 2)) continue;
      const f = u - i;
      const g = v - j;
      const at = j * width + i;
      const a = values[at];
      const b = values[at + 1];
      const c = values[at + width];
      const d = values[at + width + 1];
      t[n] = target.values[y * target.width + x];
      r[n] = (a * (1 - f) + b * f) * (1 - g) + (c * (1 - f) + d * f) * g;
      gx[n] = (b - a) * (1 - g) + (d - c) * g;
      gy[n] = (c - a) * (1 - f) + (d - b) * f;
      px[n] = (x - cx) / unit;
      py[n] = (y - cy) / unit;
      n++;
    }
  return { count: n, t, r, gx, gy, x: px, y: py };
}

/** Normal equations of a step from a map, by what the target shows of the reference there. */
function sums(target: StructureLevel, reference: StructureLevel, map: Affine, model: AlignModel): Sums {
  const many = DIRECTIONS[model];
  const { count, t, r, gx, gy, x, y } = samplesOf(target, reference, map);
  let [tt, rr, tr] = [0, 0, 0];
  for (let i = 0; i < count; i++) {
    tt += t[i] * t[i];
    rr += r[i] * r[i];
    tr += t[i] * r[i];
  }
  const share = rr > 0 ? tr / rr : 0;
  const normal = new Float64Array(many * many);
  const right = new Float64Array(many);
  const slope = new Float64Array(many);
  let scatter = 0;
  for (let i = 0; i < count; i++) {
    const e = t[i] - share * r[i];
    const weight = Math.min(1, HUBER / Math.abs(e));
    const u = share * gx[i];
    const v = share * gy[i];
    slope[0] = u;
    slope[1] = v;
    if (model === 'similarity') {
      slope[2] = u * x[i] + v * y[i];
      slope[3] = v * x[i] - u * y[i];
    } else if (model === 'affine') {
      slope[2] = u * x[i];
      slope[3] = u * y[i];
      slope[4] = v * x[i];
      slope[5] = v * y[i];
    }
    for (let k = 0; k < many; k++) {
      right[k] += weight * slope[k] * e;
      for (let l = 0; l <= k; l++) normal[k * many + l] += weight * slope[k] * slope[l];
    }
    scatter += weight * e * e;
  }
  for (let k = 0; k < many; k++) for (let l = k + 1; l < many; l++) normal[k * many + l] = normal[l * many + k];
  return {
    normal: Matrix.from1DArray(many, many, Array.from(normal)),
    right: Matrix.columnVector(Array.from(right)),
    correlation: tt > 0 && rr > 0 ? tr / Math.sqrt(tt * rr) : 0,
    scatter: count > 0 ? scatter / count : 0,
  };
}

/** Correlation of two levels under a map. */
export const correlationUnder = (target: StructureLevel, reference: StructureLevel, map: Affine): number =>
  sums(target, reference, map, 'shift').correlation;

/** A map changed by a step about the middle of the target. */
function changed(map: Affine, target: StructureLevel, model: AlignModel, p: readonly number[]): Affine {
  const [cx, cy, unit] = [(target.width - 1) / 2, (target.height - 1) / 2, Math.max(target.width, target.height) / 2];
  const [a, b, c, d] =
    model === 'shift' ? [0, 0, 0, 0] : model === 'similarity' ? [p[2], -p[3], p[3], p[2]] : [p[2], p[3], p[4], p[5]];
  const [xx, xy, yx, yy] = [a / unit, b / unit, c / unit, d / unit];
  return {
    xx: map.xx + xx,
    xy: map.xy + xy,
    tx: map.tx + p[0] - xx * cx - xy * cy,
    yx: map.yx + yx,
    yy: map.yy + yy,
    ty: map.ty + p[1] - yx * cx - yy * cy,
  };
}

/** A refined map, the correlation under it, and its standard error at a corner, in pixels of the level. */
export interface Refined {
  readonly map: Affine;
  readonly correlation: number;
  readonly error: number;
}

/** Refines a map between the structures of two levels by least squares, far ones counting less. */
export function refineMap(target: StructureLevel, reference: StructureLevel, from: Affine, model: AlignModel): Refined {
  let map = from;
  let now = sums(target, reference, map, model);
  for (let round = 0; round < MAX_ROUNDS; round++) {
    const parted = new CholeskyDecomposition(now.normal);
    if (!parted.isPositiveDefinite()) break;
    let p = parted.solve(now.right).to1DArray();
    let next = changed(map, target, model, p);
    let then = sums(target, reference, next, model);
    // A step that goes too far is taken in part.
    for (let k = 0; k < MAX_HALVINGS && !(then.correlation > now.correlation); k++) {
      p = p.map((v) => v / 2);
      next = changed(map, target, model, p);
      then = sums(target, reference, next, model);
    }
    if (!(then.correlation > now.correlation)) break;
    [map, now] = [next, then];
    if (Math.max(...p.map(Math.abs)) < MIN_STEP) break;
  }
  return { map, correlation: now.correlation, error: cornerError(now) };
}

/** Standard error of a map's places at a corner of the picture, pixels: neighbouring pixels share their structures, so a tenth of them counts. */
function cornerError({ normal, scatter }: Sums): number {
  const parted = new CholeskyDecomposition(normal);
  if (!parted.isPositiveDefinite()) return Number.POSITIVE_INFINITY;
  const variances = parted.solve(Matrix.eye(normal.rows)).diagonal();
  return Math.sqrt(10 * scatter * variances.reduce((sum, v) => sum + v, 0));
}
