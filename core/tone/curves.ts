/** The four ways from linear to display. */
export type StretchCurve = 'asinh' | 'midtone' | 'power' | 'log';

/** A number near enough to zero strength that the curve is a straight line to the last digit of a float32. */
const FLAT = 1e-9;

/** asinh by logarithm: three times as fast as Math.asinh, and as true where it is divided by asinh(s). */
const asinh = (x: number): number => Math.log(x + Math.sqrt(x * x + 1));

/** The rational curve that takes 0 to 0, s to 0.5 and 1 to 1: `(s−1)·t / ((2s−1)·t − s)`. */
export function midtone(t: number, s: number): number {
  if (t <= 0) return 0;
  if (t >= 1) return 1;
  return ((s - 1) * t) / ((2 * s - 1) * t - s);
}

/**
 * A stretch curve from [0, 1] onto [0, 1].
 * asinh `asinh(s·t)/asinh(s)` (Lupton et al. 2004), log `ln(1+s·t)/ln(1+s)`, power `t^s`, midtone see {@link midtone}.
 * @param strength above 0; for midtone between 0 and 1
 */
export function curveOf(curve: StretchCurve, strength: number): (t: number) => number {
  const s = strength;
  switch (curve) {
    case 'asinh': {
      if (Math.abs(s) < FLAT) return (t) => t;
      const over = 1 / asinh(s);
      return (t) => asinh(s * t) * over;
    }
    case 'log': {
      if (Math.abs(s) < FLAT) return (t) => t;
      const over = 1 / Math.log1p(s);
      return (t) => Math.log(1 + s * t) * over;
    }
    case 'power':
      return (t) => t ** s;
    case 'midtone':
      return (t) => midtone(t, s);
  }
}

/**
 * Stretches a whole plane: `curve(clamp((x − black) / (white − black), 0, 1))`; NaN stays NaN.
 * The most used curves have loops of their own, since a call a pixel costs more than its arithmetic.
 */
export function stretchPlane(
  curve: StretchCurve,
  strength: number,
  black: number,
  white: number,
  from: Float32Array,
  to: Float32Array,
): void {
  const over = 1 / (white - black);
  if (curve === 'asinh' && Math.abs(strength) >= FLAT) {
    const height = 1 / asinh(strength);
    for (let i = 0; i < to.length; i++) {
      const t = (from[i] - black) * over;
      const x = strength * (t < 0 ? 0 : t > 1 ? 1 : t);
      to[i] = Math.log(x + Math.sqrt(x * x + 1)) * height;
    }
    return;
  }
  if (curve === 'midtone') {
    for (let i = 0; i < to.length; i++) {
      const t = (from[i] - black) * over;
      // NaN falls through both comparisons and stays what it is.
      to[i] = t <= 0 ? 0 : t >= 1 ? 1 : ((strength - 1) * t) / ((2 * strength - 1) * t - strength);
    }
    return;
  }
  const f = curveOf(curve, strength);
  for (let i = 0; i < to.length; i++) {
    const t = (from[i] - black) * over;
    to[i] = f(t < 0 ? 0 : t > 1 ? 1 : t);
  }
}

/** What each curve takes as its strength where nothing is measured or given. */
export const DEFAULT_STRENGTH: Record<StretchCurve, number> = { asinh: 100, log: 100, power: 0.4, midtone: 0.15 };

/**
 * The strength that takes `t` to `target`; the curve's straight line where it can only brighten and `t` lies above already.
 * @param t sky between black and white, 0 to 1
 */
export function strengthFor(curve: StretchCurve, t: number, target: number): number {
  if (!(t > 0 && t < 1)) return DEFAULT_STRENGTH[curve];
  if (curve === 'power') return Math.log(target) / Math.log(t);
  if (curve === 'midtone') return (t * (target - 1)) / (2 * t * target - target - t);
  if (t >= target) return FLAT / 10;
  let low = Math.log(1e-6);
  let high = Math.log(1e12);
  for (let i = 0; i < 100; i++) {
    const mid = (low + high) / 2;
    if (curveOf(curve, Math.exp(mid))(t) < target) low = mid;
    else high = mid;
  }
  return Math.exp((low + high) / 2);
}
