import { CholeskyDecomposition, Matrix } from 'ml-matrix';

/** A star's profile: Moffat's (1969) `(1 + r²/α²)^−β`, elliptical. Large β is a Gaussian. */
export interface Profile {
  /** Full widths at half maximum along the longer and the shorter axis. */
  readonly long: number;
  readonly short: number;
  /** Sum of squared residuals over the sum of squared light. */
  readonly misfit: number;
}

/** Wings that are tried: as turbulence gives them, wider, narrower, and hardly any. */
export const GAUSSIAN = 20;
export const BETAS = [2.2, 3, 4.2, 7, GAUSSIAN] as const;

const ROUNDS = 12;
/**
 * How much of a pixel its light is summed over: not at all, as where an image was resampled or made by formula, or all of it, as cameras do.
 * Stars that are narrow show which of the two it was; of wider ones half of a pixel's variance is taken off, between the two. A pixel's sum is
 * taken at the points of Gauss's rule.
 */
export const PIXEL_SAMPLING = { point: [0], square: [-Math.sqrt(1 / 12), Math.sqrt(1 / 12)] } as const;
/** Stars whose σ is less bend within a pixel. */
export const NARROW = 1.3;
/** Half of a pixel's variance as it adds to the square of a Gaussian's full width. */
const HALF_PIXEL = (8 * Math.log(2)) / 24;

/** x, y, height, three numbers of the ellipse, level. */
const UNKNOWNS = 7;

/**
 * Fits an elliptical Moffat profile of given wings to the pixels about a star (Levenberg & Marquardt), each pixel of one weight.
 * @param x0 centre to begin with, as are the σ of both axes
 * @param level sky about the star
 * @returns undefined where it does not settle on a star
 */
export function fitProfile(
  values: Float32Array,
  width: number,
  height: number,
  start: { x: number; y: number; sigma: number; level: number },
  beta: number,
  pixel: keyof typeof PIXEL_SAMPLING = 'point',
): Profile | undefined {
  const reach = Math.max(3, Math.min(14, Math.ceil(3 * start.sigma)));
  const [cx, cy] = [Math.round(start.x), Math.round(start.y)];
  if (cx < reach || cy < reach || cx + reach >= width || cy + reach >= height) return undefined;
  const points = PIXEL_SAMPLING[pixel];
  const k = 2 ** (1 / beta) - 1;
  const curvature = k / (1.1774 * start.sigma) ** 2;
  const top = values[cy * width + cx] - start.level;
  const around: Around = { values, width, cx, cy, reach, beta, points };
  let at = sums(around, [start.x - cx, start.y - cy, top, curvature, 0, curvature, start.level]);
  if (!at) return undefined;
  let damping = 1e-3;
  for (let round = 0; round < ROUNDS; round++) {
    const next = stepFrom(around, at, damping);
    if (!next) break;
    const settled = at.cost - next.at.cost < 1e-7 * at.cost;
    ({ at, damping } = next);
    if (settled) break;
  }
  const { p, cost, light } = at;
  const [dx, dy, amplitude, a, b, c] = p;
  const mean = (a + c) / 2;
  const half = Math.hypot((a - c) / 2, b);
  if (!(amplitude > 0) || !(mean - half > 0) || Math.hypot(dx, dy) > reach / 2) return undefined;
  // The ellipse is kept as curvatures: half maximum lies where they make r² reach 2^(1/β) − 1.
  const spread = start.sigma < NARROW ? 0 : HALF_PIXEL;
  const across = (q: number) => Math.sqrt(Math.max(0.1, (4 * k) / q - spread));
  return { long: across(mean - half), short: across(mean + half), misfit: cost / Math.max(1e-300, light) };
}

/** The square of pixels that a profile is fitted to. */
interface Around {
  readonly values: Float32Array;
  readonly width: number;
  readonly cx: number;
  readonly cy: number;
  readonly reach: number;
  readonly beta: number;
  readonly points: readonly number[];
}

/** A profile's squared residuals, the light of its square, and the normal equations of a step from it. */
interface Sums {
  readonly p: readonly number[];
  readonly cost: number;
  readonly light: number;
  readonly normal: Float64Array;
  readonly right: Float64Array;
}

/** A damped step that lowers the cost, or none. */
function stepFrom(around: Around, from: Sums, gentle: number): { at: Sums; damping: number } | undefined {
  let damping = gentle;
  for (let tries = 0; tries < 8; tries++) {
    const damped = Matrix.from1DArray(UNKNOWNS, UNKNOWNS, Array.from(from.normal));
    for (let i = 0; i < UNKNOWNS; i++) damped.set(i, i, damped.get(i, i) * (1 + damping));
    const parted = new CholeskyDecomposition(damped);
    if (!parted.isPositiveDefinite()) return undefined;
    const step = parted.solve(Matrix.columnVector(Array.from(from.right)));
    const next = from.p.map((v, i) => v + step.get(i, 0));
    if (next[3] > 0 && next[5] > 0 && next[3] * next[5] > next[4] ** 2) {
      const at = sums(around, next);
      if (at && at.cost < from.cost) return { at, damping: damping / 8 };
    }
    damping *= 8;
  }
  return undefined;
}

/** Squared residuals of a profile over a square, and the normal equations of a step; none where a pixel has no data. */
function sums({ values, width, cx, cy, reach, beta, points }: Around, p: readonly number[]): Sums | undefined {
  const [x, y, amplitude, a, b, c, level] = p;
  const slope = new Float64Array(UNKNOWNS);
  const normal = new Float64Array(UNKNOWNS * UNKNOWNS);
  const right = new Float64Array(UNKNOWNS);
  const share = 1 / points.length ** 2;
  let [cost, light] = [0, 0];
  for (let j = -reach; j <= reach; j++) {
    for (let i = -reach; i <= reach; i++) {
      const v = values[(cy + j) * width + cx + i];
      if (v !== v) return undefined;
      slope.fill(0);
      let f = 0;
      for (const dv of points) {
        for (const du of points) {
          const [u, w] = [i - x + du, j - y + dv];
          const q = 1 + a * u * u + 2 * b * u * w + c * w * w;
          const one = share * q ** -beta;
          const g = (-beta * amplitude * one) / q;
          f += one;
          slope[0] -= 2 * g * (a * u + b * w);
          slope[1] -= 2 * g * (b * u + c * w);
          slope[3] += g * u * u;
          slope[4] += 2 * g * u * w;
          slope[5] += g * w * w;
        }
      }
      slope[2] = f;
      slope[6] = 1;
      const r = v - level - amplitude * f;
      cost += r * r;
      light += (v - level) ** 2;
      for (let m = 0; m < UNKNOWNS; m++) {
        right[m] += slope[m] * r;
        for (let n = 0; n <= m; n++) normal[m * UNKNOWNS + n] += slope[m] * slope[n];
      }
    }
  }
  for (let m = 0; m < UNKNOWNS; m++) {
    for (let n = m + 1; n < UNKNOWNS; n++) normal[m * UNKNOWNS + n] = normal[n * UNKNOWNS + m];
  }
  return { p, cost, light, normal, right };
}
