import { runOnPlanes } from '@owl-loom/image/kernels/planes';
import { type WasmKernels, wasmKernels } from '@owl-loom/image/kernels/wasm';
import { octaveTable } from './table';

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

/** What the kernels call each curve: one read from a table, two by arithmetic, and a straight line. */
const NUMBERS = { asinh: 0, log: 0, midtone: 1, power: 2 } as const;
const STRAIGHT = 3;

const isFlat = (curve: StretchCurve, s: number): boolean =>
  (curve === 'asinh' || curve === 'log') && Math.abs(s) < FLAT;

/** Number of a curve in the kernels, and the address of its table there, if it has one. */
function inKernels(wasm: WasmKernels, curve: StretchCurve, s: number): { number: number; table: number } {
  if (isFlat(curve, s)) return { number: STRAIGHT, table: 0 };
  const number = NUMBERS[curve];
  // Below this the logarithm of 1 + s·t is s·t to half a millionth of itself, and asinh is so still sooner.
  const make = () => octaveTable(curveOf(curve, s), Math.min(0.5, 2 ** -20 / s));
  return { number, table: number === 0 ? wasm.cachedTable(`${curve} ${s}`, make) : 0 };
}

/** Stretches a whole plane: `curve(clamp((x − black) / (white − black), 0, 1))`; NaN stays NaN. */
export function stretchPlane(
  curve: StretchCurve,
  strength: number,
  black: number,
  white: number,
  from: Float32Array,
  to: Float32Array,
): void {
  const wasm = wasmKernels();
  const over = 1 / (white - black);
  if (!wasm) {
    stretchPlain(curve, strength, black, white, from, to);
    return;
  }
  const { number, table } = inKernels(wasm, curve, strength);
  runOnPlanes(wasm, [from], [to], (n, [source], [target]) =>
    wasm.run.stretch(number, source, n, black, over, strength, table, target),
  );
}

/** {@link stretchPlane} in plain TypeScript, in double precision: the reference. */
export function stretchPlain(
  curve: StretchCurve,
  strength: number,
  black: number,
  white: number,
  from: Float32Array,
  to: Float32Array,
): void {
  const over = 1 / (white - black);
  const f = curveOf(curve, strength);
  for (let i = 0; i < to.length; i++) {
    const t = (from[i] - black) * over;
    // NaN falls through both comparisons and stays what it is.
    to[i] = t <= 0 ? 0 : t >= 1 ? 1 : t !== t ? t : f(t);
  }
}

/**
 * Keeps the hue: black off, the curve on the planes' mean, all planes scaled by its ratio; where one goes above 1 all are divided by it.
 * Brightness above white is not cut before the ratio is taken, or bright stars would lose their colour.
 * @param black one a plane, as is white
 */
export function stretchHue(
  curve: StretchCurve,
  strength: number,
  black: readonly number[],
  white: readonly number[],
  from: readonly Float32Array[],
  to: readonly Float32Array[],
): void {
  const wasm = wasmKernels();
  if (!wasm) {
    stretchHuePlain(curve, strength, black, white, from, to);
    return;
  }
  const { number, table } = inKernels(wasm, curve, strength);
  const ends = [...black, ...white.map((w, p) => 1 / (w - black[p]))];
  runOnPlanes(wasm, from, to, (n, sources, targets) =>
    wasm.run.stretchHue(number, wasm.pointers([...sources, ...targets]), n, wasm.numbers(ends), strength, table),
  );
}

/** {@link stretchHue} in plain TypeScript, in double precision: the reference. */
export function stretchHuePlain(
  curve: StretchCurve,
  strength: number,
  black: readonly number[],
  white: readonly number[],
  [r, g, b]: readonly Float32Array[],
  [R, G, B]: readonly Float32Array[],
): void {
  const f = curveOf(curve, strength);
  const over = white.map((w, p) => 1 / (w - black[p]));
  for (let i = 0; i < R.length; i++) {
    const x = Math.max(0, (r[i] - black[0]) * over[0]);
    const y = Math.max(0, (g[i] - black[1]) * over[1]);
    const z = Math.max(0, (b[i] - black[2]) * over[2]);
    const mean = (x + y + z) / 3;
    let ratio = mean > 0 ? f(Math.min(1, mean)) / mean : 0;
    if (mean !== mean) ratio = Number.NaN;
    const top = ratio * Math.max(x, y, z);
    if (top > 1) ratio /= top;
    R[i] = x * ratio;
    G[i] = y * ratio;
    B[i] = z * ratio;
  }
}

/** What each curve takes as its strength where nothing is measured or given. */
export const DEFAULT_STRENGTH: Record<StretchCurve, number> = { asinh: 100, log: 100, power: 0.4, midtone: 0.15 };

/**
 * The strength that takes `t` to `target`; a curve that can only brighten takes one that lies below it.
 * @param t sky between black and white, 0 to 1
 */
export function strengthFor(curve: StretchCurve, t: number, target: number): number {
  if (!(t > 0 && t < 1)) return DEFAULT_STRENGTH[curve];
  if (curve === 'power') return Math.log(target) / Math.log(t);
  if (curve === 'midtone') return (t * (target - 1)) / (2 * t * target - target - t);
  let low = Math.log(1e-6);
  let high = Math.log(1e12);
  for (let i = 0; i < 100; i++) {
    const mid = (low + high) / 2;
    if (curveOf(curve, Math.exp(mid))(t) < target) low = mid;
    else high = mid;
  }
  return Math.exp((low + high) / 2);
}
