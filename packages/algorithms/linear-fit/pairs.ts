import { type Rect, intersect } from '@owl-loom/image/geometry/rect';
import { noiseSample } from '@owl-loom/image/stats/noise';

/** Two planes on one grid, to be brought to one brightness. */
export interface FitInput {
  readonly reference: Float32Array;
  readonly target: Float32Array;
  readonly width: number;
  readonly height: number;
  /** Only pixels in here count. */
  readonly region?: Rect;
  /** The place from which skies and noise are taken; the whole where it is left out. */
  readonly sky?: Rect;
  /** Pixels below this in either plane do not count. */
  readonly low?: number;
  /** Pixels above this in either plane do not count. */
  readonly high?: number;
}

/** Noise of both planes, in their own units; 0 where none can be seen. */
export interface PairNoise {
  readonly target: number;
  readonly reference: number;
}

/**
 * Measures the noise of both planes.
 * @param keep whether the pixel of an index counts; all do where it is left out
 * @returns the noises, and how many pixels of the target gave its own
 */
export function pairNoise(
  { target, reference, width, height, sky }: FitInput,
  keep?: (i: number) => boolean,
): PairNoise & { samples: number } {
  const place = sky && sky.width >= 8 && sky.height >= 8 ? intersect(sky, { x: 0, y: 0, width, height }) : undefined;
  const of = (values: Float32Array) => noiseSample(values, width, height, { place, keep });
  const found = of(target);
  return { target: found.noise || 0, reference: of(reference).noise || 0, samples: found.samples };
}

/** Sums over pairs (x target, y reference), taken about a shared origin so that they keep their digits. */
export class PairSums {
  n = 0;
  x = 0;
  y = 0;
  xx = 0;
  xy = 0;
  yy = 0;

  add(x: number, y: number): void {
    this.n++;
    this.x += x;
    this.y += y;
    this.xx += x * x;
    this.xy += x * y;
    this.yy += y * y;
  }

  /** Takes sums in that were made elsewhere: number, Σx, Σy, Σx², Σxy, Σy². */
  addSums(n: number, x: number, y: number, xx: number, xy: number, yy: number): void {
    this.n += n;
    this.x += x;
    this.y += y;
    this.xx += xx;
    this.xy += xy;
    this.yy += yy;
  }

  /** Takes another's sums in, `sign` times. */
  merge(other: PairSums, sign: 1 | -1 = 1): this {
    this.n += sign * other.n;
    this.x += sign * other.x;
    this.y += sign * other.y;
    this.xx += sign * other.xx;
    this.xy += sign * other.xy;
    this.yy += sign * other.yy;
    return this;
  }

  /** Means and central second moments, per pixel. */
  moments(): { mx: number; my: number; sxx: number; sxy: number; syy: number } {
    const mx = this.x / this.n;
    const my = this.y / this.n;
    return {
      mx,
      my,
      sxx: this.xx / this.n - mx * mx,
      sxy: this.xy / this.n - mx * my,
      syy: this.yy / this.n - my * my,
    };
  }
}

/** A straight line `y = a + b·x`. */
export interface Line {
  readonly a: number;
  readonly b: number;
}

/**
 * The line with errors in both axes (Deming 1943): `ratio` is the variance of y's noise over that of x's.
 * @returns undefined where x and y have nothing in common
 */
export function deming(sums: PairSums, ratio: number): Line | undefined {
  const { mx, my, sxx, sxy, syy } = sums.moments();
  if (!(sums.n >= 3) || !(Math.abs(sxy) > 0)) return undefined;
  const d = syy - ratio * sxx;
  const b = (d + Math.sqrt(d * d + 4 * ratio * sxy * sxy)) / (2 * sxy);
  return Number.isFinite(b) ? { a: my - b * mx, b } : undefined;
}
