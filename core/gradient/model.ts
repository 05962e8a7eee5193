import { LuDecomposition, Matrix } from 'ml-matrix';
import { type Rect, sameRect, union } from '../raster/rect';
import { toFull } from '../raster/levels';
import { UserError } from '../errors';
import { cubic } from '../kernels/grid';

/** A level of the background at a place: the middle of a sample box. */
export interface Sample {
  readonly x: number;
  readonly y: number;
  readonly value: number;
}

/** A smooth background. Places are taken about `cx`, `cy` in units of `unit` pixels, so that numbers stay near 1. */
export interface Model {
  readonly kind: 'polynomial' | 'spline';
  readonly cx: number;
  readonly cy: number;
  readonly unit: number;
  /** Factors of the polynomial's terms, or of the spline's plane: 1, x, y, x², xy, y², … */
  readonly terms: readonly number[];
  /** Knots of the spline: place and weight. */
  readonly knots: readonly (readonly [x: number, y: number, weight: number])[];
}

/** Terms of a polynomial of a degree in two variables, by rising degree. */
export const termCount = (degree: number): number => ((degree + 1) * (degree + 2)) / 2;

function terms(degree: number, x: number, y: number): number[] {
  const out: number[] = [];
  for (let d = 0; d <= degree; d++) for (let k = 0; k <= d; k++) out.push(x ** (d - k) * y ** k);
  return out;
}

/** A pivot below this says that the system has no single answer. */
const SINGULAR = 1e-13;

/** Solves a dense linear system; undefined where it has no single answer. */
function solveLinear(a: readonly (readonly number[])[], b: readonly number[]): number[] | undefined {
  const lu = new LuDecomposition(new Matrix(a as number[][]));
  if (lu.upperTriangularMatrix.diagonal().some((pivot) => !(Math.abs(pivot) > SINGULAR))) return undefined;
  return lu.solve(Matrix.columnVector(b as number[])).to1DArray();
}

/** r² ln r, the shape that a thin plate takes about a point (Duchon 1977). */
const plate = (d2: number): number => (d2 > 0 ? 0.5 * d2 * Math.log(d2) : 0);

function placed(samples: readonly Sample[], frame: Rect) {
  const base = {
    cx: frame.x + frame.width / 2,
    cy: frame.y + frame.height / 2,
    unit: Math.max(frame.width, frame.height) / 2,
  };
  return {
    base,
    points: samples.map((s) => ({ x: (s.x - base.cx) / base.unit, y: (s.y - base.cy) / base.unit, v: s.value })),
  };
}

/**
 * The polynomial of least squares through samples.
 * @throws UserError where there are too few, or all lie on a line
 */
export function fitPolynomial(samples: readonly Sample[], degree: number, frame: Rect): Model {
  const n = termCount(degree);
  const wanted = `a polynomial of degree ${degree} needs at least ${n} samples`;
  if (samples.length < n)
    throw new UserError(
      'gradient-samples',
      `${wanted}, and there ${samples.length === 1 ? 'is 1' : `are ${samples.length}`}; add samples or lower the degree.`,
    );
  const { base, points } = placed(samples, frame);
  const a = Array.from({ length: n }, () => new Array<number>(n).fill(0));
  const b = new Array<number>(n).fill(0);
  for (const p of points) {
    const t = terms(degree, p.x, p.y);
    for (let i = 0; i < n; i++) {
      b[i] += t[i] * p.v;
      for (let k = 0; k < n; k++) a[i][k] += t[i] * t[k];
    }
  }
  const found = solveLinear(a, b);
  if (!found)
    throw new UserError('gradient-samples', `${wanted} that do not lie on a line; spread them over the picture.`);
  return { kind: 'polynomial', ...base, terms: found, knots: [] };
}

/** How much stiffness one unit of `smoothing` is: at 1 the spline passes noise of single boxes by and still follows a bend. */
const STIFFNESS = 0.0001;
/** Degree of the polynomial under a plate. */
const UNDER = 2;

/**
 * The thin-plate spline near samples (Wahba 1990): the smoother, the less it follows single ones.
 * @throws UserError where there are fewer than three, or all lie on a line
 */
export function fitSpline(samples: readonly Sample[], smoothing: number, frame: Rect): Model {
  if (samples.length < 3)
    throw new UserError(
      'gradient-samples',
      `a spline needs at least 3 samples, and there ${samples.length === 1 ? 'is 1' : `are ${samples.length}`}; add samples.`,
    );
  // A low polynomial first, the plate on what is left: a plate alone is stiff where the sky is steep.
  const low = samples.length >= 2 * termCount(UNDER) ? fitPolynomial(samples, UNDER, frame) : undefined;
  const rest = low ? samples.map((s) => ({ ...s, value: s.value - modelAt(low, s.x, s.y) })) : samples;
  const { base, points } = placed(rest, frame);
  const m = points.length;
  const stiff = smoothing * STIFFNESS * m;
  const a = Array.from({ length: m + 3 }, () => new Array<number>(m + 3).fill(0));
  const b = new Array<number>(m + 3).fill(0);
  for (let i = 0; i < m; i++) {
    const p = points[i];
    for (let k = 0; k < m; k++) a[i][k] = plate((p.x - points[k].x) ** 2 + (p.y - points[k].y) ** 2);
    a[i][i] += stiff;
    [1, p.x, p.y].forEach((t, k) => {
      a[i][m + k] = t;
      a[m + k][i] = t;
    });
    b[i] = p.v;
  }
  const found = solveLinear(a, b);
  if (!found)
    throw new UserError(
      'gradient-samples',
      'the samples of a spline must not all lie on a line or on one place; spread them over the picture.',
    );
  const own = found.slice(m);
  const terms = low ? low.terms.map((t, i) => t + (own[i] ?? 0)) : own;
  return { kind: 'spline', ...base, terms, knots: points.map((p, i) => [p.x, p.y, found[i]] as const) };
}

/** The model at a place in full-size pixels. */
export function modelAt(model: Model, px: number, py: number): number {
  const x = (px - model.cx) / model.unit;
  const y = (py - model.cy) / model.unit;
  let sum = 0;
  let i = 0;
  for (let d = 0; i < model.terms.length; d++)
    for (let k = 0; k <= d; k++, i++) sum += model.terms[i] * x ** (d - k) * y ** k;
  for (const [kx, ky, weight] of model.knots) sum += weight * plate((x - kx) ** 2 + (y - ky) ** 2);
  return sum;
}

/** Spacing of the lattice on which a model is worked out; between its points a cubic is truer than any sample. */
const LATTICE = 32;

interface Lattice {
  /** In lattice points. */
  readonly rect: Rect;
  readonly values: Float64Array;
}

/** Points of models worked out already: a picture asks for the same ones again with every change that comes after the gradient. */
const known = new WeakMap<Model, Lattice>();

/** The model at the lattice points of a rectangle; those that were asked for before are not worked out again. */
function latticeOf(model: Model, rect: Rect): Float64Array {
  const before = known.get(model);
  const whole = before ? union(before.rect, rect) : rect;
  if (!before || !sameRect(whole, before.rect)) {
    const values = new Float64Array(whole.width * whole.height);
    for (let r = 0; r < whole.height; r++) {
      for (let c = 0; c < whole.width; c++) {
        const [x, y] = [whole.x + c, whole.y + r];
        const old =
          before &&
          x >= before.rect.x &&
          y >= before.rect.y &&
          x < before.rect.x + before.rect.width &&
          y < before.rect.y + before.rect.height;
        values[r * whole.width + c] = old
          ? before.values[(y - before.rect.y) * before.rect.width + x - before.rect.x]
          : modelAt(model, x * LATTICE, y * LATTICE);
      }
    }
    known.set(model, { rect: whole, values });
  }
  const { rect: from, values } = known.get(model) as Lattice;
  const out = new Float64Array(rect.width * rect.height);
  for (let r = 0; r < rect.height; r++) {
    const start = (rect.y + r - from.y) * from.width + rect.x - from.x;
    out.set(values.subarray(start, start + rect.width), r * rect.width);
  }
  return out;
}

/** How the columns of a window cross the lattice. */
interface Columns {
  /** Lattice column before the one that each run of pixels lies in, and the pixel at which the next run begins. */
  readonly runs: readonly { readonly left: number; readonly end: number }[];
  /** How far each pixel is from the second of its four lattice columns to the third. */
  readonly t: Float64Array;
}

/** Windows of one picture have the same columns over and over: a strip for every few rows. */
const crossings = new Map<string, Columns>();
const MOST_CROSSINGS = 16;

function columnsOf(x: number, width: number, level: number): Columns {
  const key = `${x} ${width} ${level}`;
  const before = crossings.get(key);
  if (before) return before;
  const t = new Float64Array(width);
  const runs: { left: number; end: number }[] = [];
  for (let c = 0; c < width; c++) {
    const u = toFull(x + c, level) / LATTICE;
    const left = Math.floor(u) - 1;
    t[c] = u - Math.floor(u);
    const last = runs.at(-1);
    if (last?.left === left) last.end = c + 1;
    else runs.push({ left, end: c + 1 });
  }
  for (const old of crossings.keys()) {
    if (crossings.size < MOST_CROSSINGS) break;
    crossings.delete(old);
  }
  crossings.set(key, { runs, t });
  return { runs, t };
}

/**
 * The model at every pixel of a level's window. The lattice is that of full-size pixels, so that every window and level sees one surface.
 * @param out room for it; new where none is given
 */
export function modelWindow(
  model: Model,
  rect: Rect,
  level: number,
  out = new Float32Array(rect.width * rect.height),
): Float32Array {
  const at = (i: number) => toFull(i, level) / LATTICE;
  const x0 = Math.floor(at(rect.x)) - 1;
  const y0 = Math.floor(at(rect.y)) - 1;
  const w = Math.floor(at(rect.x + rect.width - 1)) + 3 - x0;
  const h = Math.floor(at(rect.y + rect.height - 1)) + 3 - y0;
  const grid = latticeOf(model, { x: x0, y: y0, width: w, height: h });
  const row = new Float64Array(w);
  const { runs, t } = columnsOf(rect.x, rect.width, level);
  for (let r = 0; r < rect.height; r++) {
    const v = at(rect.y + r);
    const top = (Math.floor(v) - 1 - y0) * w;
    const [w0, w1, w2, w3] = cubic(v - Math.floor(v));
    for (let c = 0, k = top; c < w; c++, k++)
      row[c] = w0 * grid[k] + w1 * grid[k + w] + w2 * grid[k + 2 * w] + w3 * grid[k + 3 * w];
    const start = r * rect.width;
    let c = 0;
    for (const { left, end } of runs) {
      // The same cubic in powers of t, worked out once for all pixels between two lattice columns.
      const k = left - x0;
      const [a, b, d, e] = [row[k], row[k + 1], row[k + 2], row[k + 3]];
      const [p1, p2, p3] = [0.5 * (d - a), a - 2.5 * b + 2 * d - 0.5 * e, 1.5 * (b - d) + 0.5 * (e - a)];
      for (; c < end; c++) out[start + c] = b + t[c] * (p1 + t[c] * (p2 + t[c] * p3));
    }
  }
  return out;
}
