import { held } from './lanes';

// Stretches and straight lines over a strip, four pixels at a time. Strips may be read and written up to 16 bytes beyond their end.
// No data, NaN, goes through all arithmetic and stays what it is; comparisons with it are false, on which the choices below lean.

@inline const ONE: f32 = 1;

/** out = a + b·x. */
export function affine(from: usize, n: i32, a: f32, b: f32, out: usize): void {
  const add = f32x4.splat(a);
  const by = f32x4.splat(b);
  for (let i = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    v128.store(out + at, f32x4.add(add, f32x4.mul(by, v128.load(from + at))));
  }
}

/**
 * Numbers of the polynomials, in memory: a number written into the code is made anew for every vector, in three instructions, and there are
 * more of them than registers.
 */
const LOG: usize = memory.data<f32>([
  0.70710678, 7.0376836292e-2, -1.151461031e-1, 1.1676998740e-1, -1.2420140846e-1, 1.4249322787e-1, -1.6668057665e-1,
  2.0000714765e-1, -2.4999993993e-1, 3.3333331174e-1, -2.12194440e-4, 0.693359375, 0.5,
]);
const EXP: usize = memory.data<f32>([
  1.535336188319500e-4, 1.339887440266574e-3, 9.618437357674640e-3, 5.550332471162809e-2, 2.402264791363012e-1,
  6.931472028550421e-1, 1, -126, 1e-37, 1.44269504,
]);
const BITS: usize = memory.data<i32>([126, 0x007fffff, 0x3f000000, 127]);

/** A number of a table, in all lanes. */
@inline
function told(table: usize, i: i32): v128 {
  return v128.load32_splat(table + (<usize>i << 2));
}

/** A number of a table times x, and the next one. */
@inline
function pair(table: usize, i: i32, x: v128): v128 {
  return f32x4.add(f32x4.mul(told(table, i), x), told(table, i + 1));
}

/**
 * The natural logarithm of numbers from 2⁻¹²⁶ up: exponent and a polynomial on the mantissa between √½ and √2 (Moshier's Cephes, `logf`),
 * true to the last digit or nearly so.
 */
@inline
function log(x: v128, one: v128): v128 {
  let exponent = i32x4.sub(i32x4.shr_u(x, 23), told(BITS, 0));
  let m = v128.or(v128.and(x, told(BITS, 1)), told(BITS, 2));
  const low = f32x4.lt(m, told(LOG, 0));
  exponent = i32x4.add(exponent, low);
  m = f32x4.sub(f32x4.add(m, v128.and(m, low)), one);
  const e = f32x4.convert_i32x4_s(exponent);
  const z = f32x4.mul(m, m);
  // Pairs first, then pairs of pairs: one term after another would leave the processor waiting for each.
  const zz = f32x4.mul(z, z);
  const a = f32x4.add(pair(LOG, 8, m), f32x4.mul(pair(LOG, 6, m), z));
  const b = f32x4.add(pair(LOG, 4, m), f32x4.mul(pair(LOG, 2, m), z));
  let y = f32x4.add(f32x4.add(a, f32x4.mul(b, zz)), f32x4.mul(told(LOG, 1), f32x4.mul(zz, zz)));
  y = f32x4.mul(f32x4.mul(y, m), z);
  y = f32x4.add(y, f32x4.mul(e, told(LOG, 10)));
  y = f32x4.sub(y, f32x4.mul(told(LOG, 12), z));
  return f32x4.add(f32x4.add(m, y), f32x4.mul(e, told(LOG, 11)));
}

/** 2ˣ for x up to 0: whole part into the exponent, the rest by a polynomial (Cephes, `exp2f`). */
@inline
function exp2(x: v128): v128 {
  const bounded = f32x4.pmax(x, told(EXP, 7));
  const whole = f32x4.nearest(bounded);
  const f = f32x4.sub(bounded, whole);
  const ff = f32x4.mul(f, f);
  const a = f32x4.add(pair(EXP, 5, f), f32x4.mul(pair(EXP, 3, f), ff));
  const b = f32x4.add(pair(EXP, 1, f), f32x4.mul(told(EXP, 0), ff));
  const y = f32x4.add(a, f32x4.mul(b, f32x4.mul(ff, ff)));
  const scale = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(whole), told(BITS, 3)), 23);
  return f32x4.mul(y, scale);
}

/** A curve as pieces of straight line; see `packages/algorithms/tone/table`. What lies beyond its ends, NaN among it, takes the last piece. */
@inline
function looked(table: usize, t: v128): v128 {
  const piece = i32x4.sub(i32x4.min_u(i32x4.shr_u(t, 13), i32x4.add(told(table, 0), told(table, 1))), told(table, 0));
  const at = i32x4.shl(i32x4.max_s(piece, i32x4.splat(0)), 3);
  const lines = table + 8;
  const first = v128.load64_zero(lines + <usize>i32x4.extract_lane(at, 0));
  const third = v128.load64_zero(lines + <usize>i32x4.extract_lane(at, 2));
  const two = v128.load64_lane(lines + <usize>i32x4.extract_lane(at, 1), first, 1);
  const more = v128.load64_lane(lines + <usize>i32x4.extract_lane(at, 3), third, 1);
  const a = v128.shuffle<f32>(two, more, 0, 2, 4, 6);
  return f32x4.add(a, f32x4.mul(v128.shuffle<f32>(two, more, 1, 3, 5, 7), t));
}

/** One of four curves on t between 0 and 1; see `curveOf` in packages/algorithms/tone/curves, which is the reference. */
@inline
function bent(curve: i32, t: v128, s: v128, table: usize): v128 {
  const one = f32x4.splat(ONE);
  if (curve === 0) return looked(table, t);
  if (curve === 1) {
    const up = f32x4.mul(f32x4.sub(s, one), t);
    const down = f32x4.sub(f32x4.mul(f32x4.sub(f32x4.add(s, s), one), t), s);
    return f32x4.div(up, down);
  }
  if (curve === 2) {
    const power = exp2(f32x4.mul(s, f32x4.mul(log(f32x4.pmax(t, told(EXP, 8)), one), told(EXP, 9))));
    return v128.bitselect(power, t, f32x4.gt(t, f32x4.splat(0)));
  }
  return t;
}

/**
 * curve(clamp((x − black) / (white − black), 0, 1)).
 * @param curve 0 one that stands in `table`, 1 midtone, 2 power, 3 a straight line
 * @param over 1 / (white − black)
 */
export function stretch(curve: i32, from: usize, n: i32, black: f32, over: f32, strength: f32, table: usize, out: usize): void {
  if (curve === 0) stretched(0, from, n, black, over, strength, table, out);
  else if (curve === 1) stretched(1, from, n, black, over, strength, table, out);
  else if (curve === 2) stretched(2, from, n, black, over, strength, table, out);
  else stretched(3, from, n, black, over, strength, table, out);
}

@inline
function stretched(curve: i32, from: usize, n: i32, black: f32, over: f32, strength: f32, table: usize, out: usize): void {
  const b = f32x4.splat(black);
  const o = f32x4.splat(over);
  const s = f32x4.splat(strength);
  const one = f32x4.splat(ONE);
  for (let i = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const t = held(f32x4.mul(f32x4.sub(v128.load(from + at), b), o));
    const bow = bent(curve, t, s, table);
    // The ends are where they belong to the last digit.
    v128.store(out + at, curve === 0 ? bow : v128.bitselect(one, bow, f32x4.ge(t, one)));
  }
}

/**
 * The stretch that keeps the hue: black off, the curve on the planes' mean, all planes times its ratio; where one goes above 1 all are
 * divided by it.
 * @param pointers addresses of three planes, then of the three that are made
 * @param ends blacks of three planes, then their 1 / (white − black)
 */
export function stretchHue(curve: i32, pointers: usize, n: i32, ends: usize, strength: f32, table: usize): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(ONE);
  const s = f32x4.splat(strength);
  const third = f32x4.splat(3);
  const red = <usize>load<u32>(pointers);
  const green = <usize>load<u32>(pointers, 4);
  const blue = <usize>load<u32>(pointers, 8);
  const toRed = <usize>load<u32>(pointers, 12);
  const toGreen = <usize>load<u32>(pointers, 16);
  const toBlue = <usize>load<u32>(pointers, 20);
  for (let i = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    let x = f32x4.mul(f32x4.sub(v128.load(red + at), v128.load32_splat(ends)), v128.load32_splat(ends, 12));
    let y = f32x4.mul(f32x4.sub(v128.load(green + at), v128.load32_splat(ends, 4)), v128.load32_splat(ends, 16));
    let z = f32x4.mul(f32x4.sub(v128.load(blue + at), v128.load32_splat(ends, 8)), v128.load32_splat(ends, 20));
    x = v128.bitselect(zero, x, f32x4.lt(x, zero));
    y = v128.bitselect(zero, y, f32x4.lt(y, zero));
    z = v128.bitselect(zero, z, f32x4.lt(z, zero));
    const mean = f32x4.div(f32x4.add(f32x4.add(x, y), z), third);
    const t = v128.bitselect(one, mean, f32x4.gt(mean, one));
    const bow = v128.bitselect(one, bent(curve, t, s, table), f32x4.ge(t, one));
    let ratio = v128.bitselect(zero, f32x4.div(bow, mean), f32x4.le(mean, zero));
    const top = f32x4.mul(ratio, f32x4.max(x, f32x4.max(y, z)));
    ratio = v128.bitselect(f32x4.div(ratio, top), ratio, f32x4.gt(top, one));
    v128.store(toRed + at, f32x4.mul(x, ratio));
    v128.store(toGreen + at, f32x4.mul(y, ratio));
    v128.store(toBlue + at, f32x4.mul(z, ratio));
  }
}
