import { LuDecomposition, Matrix } from 'ml-matrix';
import { UserError } from '@owl-loom/base/errors';
import type { Rect } from '@owl-loom/image/geometry/rect';

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
  const lu = new LuDecomposition(new Matrix(a.map((row) => [...row])));
  if (lu.upperTriangularMatrix.diagonal().some((pivot) => !(Math.abs(pivot) > SINGULAR))) return undefined;
  return lu.solve(Matrix.columnVector([...b])).to1DArray();
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
  const wanted = `A polynomial of degree ${degree} needs at least ${n} samples`;
  if (samples.length < n)
    throw new UserError(
      'gradient-samples',
      `${wanted}; there ${samples.length === 1 ? 'is 1' : `are ${samples.length}`}. Add samples or lower the degree.`,
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
    throw new UserError('gradient-samples', `${wanted}, not all on one line. Spread the samples, or lower the degree.`);
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
      `A spline needs at least 3 samples; there ${samples.length === 1 ? 'is 1' : `are ${samples.length}`}. Add samples.`,
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
  if (!found) throw new UserError('gradient-samples', 'Spline samples must not lie on one line. Spread them out.');
  const own = found.slice(m);
  const terms = low ? low.terms.map((t, i) => t + (own[i] ?? 0)) : own;
  return { kind: 'spline', ...base, terms, knots: points.map((p, i) => [p.x, p.y, found[i]] as const) };
}

/** A spline's knots one after another: x, y and weight of each. */
const flat = new WeakMap<Model, Float64Array>();

function knotsOf(model: Model): Float64Array {
  let knots = flat.get(model);
  if (!knots) {
    knots = Float64Array.from(model.knots.flat());
    flat.set(model, knots);
  }
  return knots;
}

/** The model at a place in full-size pixels. */
export function modelAt(model: Model, px: number, py: number): number {
  const x = (px - model.cx) / model.unit;
  const y = (py - model.cy) / model.unit;
  let sum = 0;
  let i = 0;
  for (let d = 0; i < model.terms.length; d++)
    for (let k = 0; k <= d; k++, i++) sum += model.terms[i] * x ** (d - k) * y ** k;
  const knots = knotsOf(model);
  for (let k = 0; k < knots.length; k += 3) {
    const [dx, dy] = [x - knots[k], y - knots[k + 1]];
    sum += knots[k + 2] * plate(dx * dx + dy * dy);
  }
  return sum;
}
