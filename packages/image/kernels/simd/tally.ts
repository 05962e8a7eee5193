import { counted, highest, lowest, summed, upper } from './lanes';

// Counts and sums over a plane's pixels, piece by piece. No data, NaN, counts nowhere.

/** Bins of a fine histogram on either side of its centre; see `HALF` in `../tally.ts`. */
@inline const HALF: i32 = 16384;

/**
 * Counts pixels in bins that grow with their distance from a centre: the upper bits of the distance as a number in single precision, 512
 * bins an octave. Bin HALF + k lies above the centre, HALF − 1 − k below it.
 * @param base the lowest bin's bits: nearer pixels all fall into the first
 * @param bins 2·HALF counts of 4 bytes
 * @param ends least and greatest value so far as two floats, then their sum as a double
 * @returns how many pixels have data
 */
export function bins(from: usize, n: i32, centre: f32, base: i32, bins: usize, ends: usize): i32 {
  const c = f32x4.splat(centre);
  const first = i32x4.splat(base);
  const last = i32x4.splat(HALF - 1);
  const none = i32x4.splat(0);
  const half = i32x4.splat(HALF);
  let low = v128.load32_splat(ends);
  let high = v128.load32_splat(ends, 4);
  let sumA = f64x2.splat(0);
  let sumB = f64x2.splat(0);
  let there = 0;
  let i = 0;
  for (; i + 4 <= n; i += 4) {
    const v = v128.load(from + (<usize>i << 2));
    const is = f32x4.eq(v, v);
    const d = f32x4.sub(v, c);
    const size = i32x4.shr_u(v128.and(d, i32x4.splat(0x7fffffff)), 14);
    const key = i32x4.min_s(i32x4.max_s(i32x4.sub(size, first), none), last);
    const below = i32x4.shr_s(d, 31);
    // Below the centre the complement of the key counts downwards.
    const bin = i32x4.add(v128.xor(key, below), half);
    const mask = i32x4.bitmask(is);
    if (mask === 15) {
      low = f32x4.min(low, v);
      high = f32x4.max(high, v);
      sumA = f64x2.add(sumA, f64x2.promote_low_f32x4(v));
      sumB = f64x2.add(sumB, upper(v));
      there += 4;
      count(bins, i32x4.extract_lane(bin, 0));
      count(bins, i32x4.extract_lane(bin, 1));
      count(bins, i32x4.extract_lane(bin, 2));
      count(bins, i32x4.extract_lane(bin, 3));
      continue;
    }
    if (mask === 0) continue;
    const nought = f32x4.splat(0);
    const held = v128.bitselect(v, nought, is);
    low = v128.bitselect(f32x4.min(low, v), low, is);
    high = v128.bitselect(f32x4.max(high, v), high, is);
    sumA = f64x2.add(sumA, f64x2.promote_low_f32x4(held));
    sumB = f64x2.add(sumB, upper(held));
    if (mask & 1) count(bins, i32x4.extract_lane(bin, 0));
    if (mask & 2) count(bins, i32x4.extract_lane(bin, 1));
    if (mask & 4) count(bins, i32x4.extract_lane(bin, 2));
    if (mask & 8) count(bins, i32x4.extract_lane(bin, 3));
    there += (mask & 1) + ((mask >> 1) & 1) + ((mask >> 2) & 1) + (mask >> 3);
  }
  let least = lowest(low);
  let most = highest(high);
  let sum = summed(sumA) + summed(sumB);
  for (; i < n; i++) {
    const v = load<f32>(from + (<usize>i << 2));
    if (v !== v) continue;
    const bits = reinterpret<i32>(v - centre);
    const key = min<i32>(max<i32>(((bits & 0x7fffffff) >> 14) - base, 0), HALF - 1);
    count(bins, (bits < 0 ? ~key : key) + HALF);
    if (v < least) least = v;
    if (v > most) most = v;
    sum += <f64>v;
    there++;
  }
  store<f32>(ends, least);
  store<f32>(ends, most, 4);
  store<f64>(ends, load<f64>(ends, 8) + sum, 8);
  return there;
}

@inline
function count(bins: usize, bin: i32): void {
  const at = bins + (<usize>bin << 2);
  store<u32>(at, load<u32>(at) + 1);
}

/**
 * Collects the pixels that lie in one of a few brackets, in the order in which they stand.
 * @param brackets lower and upper ends, both counted in, as 2·count floats in rising order
 * @param out room for n floats
 * @returns how many were collected
 */
export function collect(from: usize, n: i32, brackets: usize, count: i32, out: usize): i32 {
  let to = out;
  let i = 0;
  for (; i + 4 <= n; i += 4) {
    const v = v128.load(from + (<usize>i << 2));
    let is = i32x4.splat(0);
    for (let k = 0; k < count; k++) {
      const at = brackets + (<usize>k << 3);
      is = v128.or(is, v128.and(f32x4.ge(v, v128.load32_splat(at)), f32x4.le(v, v128.load32_splat(at, 4))));
    }
    const mask = i32x4.bitmask(is);
    if (mask === 0) continue;
    if (mask & 1) {
      store<f32>(to, f32x4.extract_lane(v, 0));
      to += 4;
    }
    if (mask & 2) {
      store<f32>(to, f32x4.extract_lane(v, 1));
      to += 4;
    }
    if (mask & 4) {
      store<f32>(to, f32x4.extract_lane(v, 2));
      to += 4;
    }
    if (mask & 8) {
      store<f32>(to, f32x4.extract_lane(v, 3));
      to += 4;
    }
  }
  for (; i < n; i++) {
    const v = load<f32>(from + (<usize>i << 2));
    for (let k = 0; k < count; k++) {
      const at = brackets + (<usize>k << 3);
      if (v >= load<f32>(at) && v <= load<f32>(at, 4)) {
        store<f32>(to, v);
        to += 4;
        break;
      }
    }
  }
  return <i32>((to - out) >> 2);
}

/**
 * Adds up the pixels up to a top, about a centre.
 * @param sums three doubles: number, sum, sum of squares
 */
export function moments(from: usize, n: i32, centre: f32, top: f32, sums: usize): void {
  const c = f32x4.splat(centre);
  const most = f32x4.splat(top);
  let a = f64x2.splat(0);
  let aa = f64x2.splat(0);
  let b = f64x2.splat(0);
  let bb = f64x2.splat(0);
  let there = i32x4.splat(0);
  let i = 0;
  for (; i + 4 <= n; i += 4) {
    const v = v128.load(from + (<usize>i << 2));
    const is = f32x4.le(v, most);
    const d = v128.and(f32x4.sub(v, c), is);
    const near = f64x2.promote_low_f32x4(d);
    const far = upper(d);
    a = f64x2.add(a, near);
    b = f64x2.add(b, far);
    aa = f64x2.add(aa, f64x2.mul(near, near));
    bb = f64x2.add(bb, f64x2.mul(far, far));
    there = i32x4.sub(there, is);
  }
  let number = counted(there);
  let sum = summed(a) + summed(b);
  let squares = summed(aa) + summed(bb);
  for (; i < n; i++) {
    const v = load<f32>(from + (<usize>i << 2));
    if (!(v <= top)) continue;
    const d = <f64>(v - centre);
    number++;
    sum += d;
    squares += d * d;
  }
  store<f64>(sums, load<f64>(sums) + <f64>number);
  store<f64>(sums, load<f64>(sums, 8) + sum, 8);
  store<f64>(sums, load<f64>(sums, 16) + squares, 16);
}

/** The bins of two values: from 0 to `last`, or the one after where a value does not count. */
@inline
function twoBins(v: v128, low: v128, high: v128, per: v128, last: v128, none: v128, keeps: bool): v128 {
  const is = keeps ? f64x2.eq(v, v) : v128.and(f64x2.ge(v, low), f64x2.le(v, high));
  const at = i32x4.trunc_sat_f64x2_s_zero(f64x2.mul(f64x2.sub(v, low), per));
  const bin = i32x4.min_s(i32x4.max_s(at, i32x4.splat(0)), last);
  return v128.bitselect(bin, none, i8x16.shuffle(is, is, 0, 1, 2, 3, 8, 9, 10, 11, 0, 1, 2, 3, 8, 9, 10, 11));
}

/**
 * Counts pixels in equal bins from a value on; what lies outside falls into the end bins or, where it is not kept, into one bin more after
 * them, as NaN does.
 * @param from n floats, and as many more, whose values do not count, as make it a multiple of four
 * @param counts four tables of counts of 4 bytes, `bins + 1` each: neighbours seldom wait for each other's counts then
 */
export function equal(
  from: usize,
  n: i32,
  low: f64,
  high: f64,
  per: f64,
  bins: i32,
  keeps: bool,
  counts: usize,
): void {
  const table = <usize>(bins + 1) << 2;
  const least = f64x2.splat(low);
  const most = f64x2.splat(high);
  const factor = f64x2.splat(per);
  const last = i32x4.splat(bins - 1);
  const none = i32x4.splat(bins);
  for (let i = 0; i < n; i += 4) {
    const v = v128.load(from + (<usize>i << 2));
    const a = twoBins(f64x2.promote_low_f32x4(v), least, most, factor, last, none, keeps);
    const b = twoBins(upper(v), least, most, factor, last, none, keeps);
    count(counts, i32x4.extract_lane(a, 0));
    count(counts + table, i32x4.extract_lane(a, 1));
    count(counts + 2 * table, i32x4.extract_lane(b, 0));
    count(counts + 3 * table, i32x4.extract_lane(b, 1));
  }
}
