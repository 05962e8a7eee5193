// Counts and sums over a plane's pixels, piece by piece. No data, NaN, counts nowhere.

/** Bins of a fine histogram on either side of its centre; see `../../stats/stream.ts`. */
// @ts-ignore: decorator
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
  const lowest = i32x4.splat(base);
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
    const key = i32x4.min_s(i32x4.max_s(i32x4.sub(size, lowest), none), last);
    const below = i32x4.shr_s(d, 31);
    // Below the centre the complement of the key counts downwards.
    const bin = i32x4.add(v128.xor(key, below), half);
    const mask = i32x4.bitmask(is);
    if (mask === 15) {
      low = f32x4.min(low, v);
      high = f32x4.max(high, v);
      sumA = f64x2.add(sumA, f64x2.promote_low_f32x4(v));
      sumB = f64x2.add(sumB, f64x2.promote_low_f32x4(i8x16.shuffle(v, v, 8, 9, 10, 11, 12, 13, 14, 15, 8, 9, 10, 11, 12, 13, 14, 15)));
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
    sumB = f64x2.add(sumB, f64x2.promote_low_f32x4(i8x16.shuffle(held, held, 8, 9, 10, 11, 12, 13, 14, 15, 8, 9, 10, 11, 12, 13, 14, 15)));
    if (mask & 1) count(bins, i32x4.extract_lane(bin, 0));
    if (mask & 2) count(bins, i32x4.extract_lane(bin, 1));
    if (mask & 4) count(bins, i32x4.extract_lane(bin, 2));
    if (mask & 8) count(bins, i32x4.extract_lane(bin, 3));
    there += (mask & 1) + ((mask >> 1) & 1) + ((mask >> 2) & 1) + (mask >> 3);
  }
  let least = f32x4.extract_lane(low, 0);
  let most = f32x4.extract_lane(high, 0);
  for (let k = 1; k < 4; k++) {
    const a = k === 1 ? f32x4.extract_lane(low, 1) : k === 2 ? f32x4.extract_lane(low, 2) : f32x4.extract_lane(low, 3);
    const b = k === 1 ? f32x4.extract_lane(high, 1) : k === 2 ? f32x4.extract_lane(high, 2) : f32x4.extract_lane(high, 3);
    if (a < least) least = a;
    if (b > most) most = b;
  }
  let sum = f64x2.extract_lane(sumA, 0) + f64x2.extract_lane(sumA, 1) + f64x2.extract_lane(sumB, 0) + f64x2.extract_lane(sumB, 1);
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

// @ts-ignore: decorator
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
    const far = f64x2.promote_low_f32x4(i8x16.shuffle(d, d, 8, 9, 10, 11, 12, 13, 14, 15, 8, 9, 10, 11, 12, 13, 14, 15));
    a = f64x2.add(a, near);
    b = f64x2.add(b, far);
    aa = f64x2.add(aa, f64x2.mul(near, near));
    bb = f64x2.add(bb, f64x2.mul(far, far));
    there = i32x4.sub(there, is);
  }
  let number = i32x4.extract_lane(there, 0) + i32x4.extract_lane(there, 1) + i32x4.extract_lane(there, 2) + i32x4.extract_lane(there, 3);
  let sum = f64x2.extract_lane(a, 0) + f64x2.extract_lane(a, 1) + f64x2.extract_lane(b, 0) + f64x2.extract_lane(b, 1);
  let squares = f64x2.extract_lane(aa, 0) + f64x2.extract_lane(aa, 1) + f64x2.extract_lane(bb, 0) + f64x2.extract_lane(bb, 1);
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

/**
 * Takes out, as NaN, the pixels of one plane that do not count in a pair: where either has none, or lies outside its range.
 * @param ranges least and greatest of the first, then of the second
 * @returns how many count
 */
export function pairs(first: usize, second: usize, n: i32, ranges: usize): i32 {
  const lowA = v128.load32_splat(ranges);
  const highA = v128.load32_splat(ranges, 4);
  const lowB = v128.load32_splat(ranges, 8);
  const highB = v128.load32_splat(ranges, 12);
  const none = f32x4.splat(f32.NaN);
  let there = i32x4.splat(0);
  let i = 0;
  for (; i + 4 <= n; i += 4) {
    const at = <usize>i << 2;
    const a = v128.load(first + at);
    const b = v128.load(second + at);
    const is = v128.and(v128.and(f32x4.ge(a, lowA), f32x4.le(a, highA)), v128.and(f32x4.ge(b, lowB), f32x4.le(b, highB)));
    v128.store(first + at, v128.bitselect(a, none, is));
    v128.store(second + at, v128.bitselect(b, none, is));
    there = i32x4.sub(there, is);
  }
  let number = i32x4.extract_lane(there, 0) + i32x4.extract_lane(there, 1) + i32x4.extract_lane(there, 2) + i32x4.extract_lane(there, 3);
  for (; i < n; i++) {
    const at = <usize>i << 2;
    const a = load<f32>(first + at);
    const b = load<f32>(second + at);
    if (a >= load<f32>(ranges) && a <= load<f32>(ranges, 4) && b >= load<f32>(ranges, 8) && b <= load<f32>(ranges, 12)) {
      number++;
      continue;
    }
    store<f32>(first + at, f32.NaN);
    store<f32>(second + at, f32.NaN);
  }
  return number;
}

/**
 * Sums over the pairs near a line, about an origin: number, x, y, xx, xy, yy as six doubles. A pair counts where
 * (y − a − b·x − centre)² ≤ reach² + widening·x².
 * @param line x and y of the origin, a, b, centre, reach², widening as seven floats
 */
export function near(first: usize, second: usize, n: i32, line: usize, sums: usize): void {
  const ox = v128.load32_splat(line);
  const oy = v128.load32_splat(line, 4);
  const a = f32x4.add(v128.load32_splat(line, 8), v128.load32_splat(line, 16));
  const b = v128.load32_splat(line, 12);
  const reach = v128.load32_splat(line, 20);
  const widening = v128.load32_splat(line, 24);
  let sx = f64x2.splat(0);
  let sy = f64x2.splat(0);
  let sxx = f64x2.splat(0);
  let sxy = f64x2.splat(0);
  let syy = f64x2.splat(0);
  let there = i32x4.splat(0);
  let i = 0;
  for (; i + 4 <= n; i += 4) {
    const at = <usize>i << 2;
    const x = f32x4.sub(v128.load(first + at), ox);
    const y = f32x4.sub(v128.load(second + at), oy);
    const r = f32x4.sub(f32x4.sub(y, a), f32x4.mul(b, x));
    const is = f32x4.le(f32x4.mul(r, r), f32x4.add(reach, f32x4.mul(widening, f32x4.mul(x, x))));
    if (!v128.any_true(is)) continue;
    there = i32x4.sub(there, is);
    const hx = v128.and(x, is);
    const hy = v128.and(y, is);
    const x0 = f64x2.promote_low_f32x4(hx);
    const y0 = f64x2.promote_low_f32x4(hy);
    const x1 = f64x2.promote_low_f32x4(i8x16.shuffle(hx, hx, 8, 9, 10, 11, 12, 13, 14, 15, 8, 9, 10, 11, 12, 13, 14, 15));
    const y1 = f64x2.promote_low_f32x4(i8x16.shuffle(hy, hy, 8, 9, 10, 11, 12, 13, 14, 15, 8, 9, 10, 11, 12, 13, 14, 15));
    sx = f64x2.add(sx, f64x2.add(x0, x1));
    sy = f64x2.add(sy, f64x2.add(y0, y1));
    sxx = f64x2.add(sxx, f64x2.add(f64x2.mul(x0, x0), f64x2.mul(x1, x1)));
    sxy = f64x2.add(sxy, f64x2.add(f64x2.mul(x0, y0), f64x2.mul(x1, y1)));
    syy = f64x2.add(syy, f64x2.add(f64x2.mul(y0, y0), f64x2.mul(y1, y1)));
  }
  let number = i32x4.extract_lane(there, 0) + i32x4.extract_lane(there, 1) + i32x4.extract_lane(there, 2) + i32x4.extract_lane(there, 3);
  let tx = f64x2.extract_lane(sx, 0) + f64x2.extract_lane(sx, 1);
  let ty = f64x2.extract_lane(sy, 0) + f64x2.extract_lane(sy, 1);
  let txx = f64x2.extract_lane(sxx, 0) + f64x2.extract_lane(sxx, 1);
  let txy = f64x2.extract_lane(sxy, 0) + f64x2.extract_lane(sxy, 1);
  let tyy = f64x2.extract_lane(syy, 0) + f64x2.extract_lane(syy, 1);
  for (; i < n; i++) {
    const at = <usize>i << 2;
    const x = load<f32>(first + at) - load<f32>(line);
    const y = load<f32>(second + at) - load<f32>(line, 4);
    const r = y - load<f32>(line, 8) - load<f32>(line, 16) - load<f32>(line, 12) * x;
    if (!(r * r <= load<f32>(line, 20) + load<f32>(line, 24) * x * x)) continue;
    number++;
    tx += <f64>x;
    ty += <f64>y;
    txx += <f64>x * <f64>x;
    txy += <f64>x * <f64>y;
    tyy += <f64>y * <f64>y;
  }
  store<f64>(sums, load<f64>(sums) + <f64>number);
  store<f64>(sums, load<f64>(sums, 8) + tx, 8);
  store<f64>(sums, load<f64>(sums, 16) + ty, 16);
  store<f64>(sums, load<f64>(sums, 24) + txx, 24);
  store<f64>(sums, load<f64>(sums, 32) + txy, 32);
  store<f64>(sums, load<f64>(sums, 40) + tyy, 40);
}

/** How many pixels have data. */
export function present(from: usize, n: i32): i32 {
  return atLeast(from, n, -f32.MAX_VALUE);
}

/** The greatest pixel; −∞ where none has data. */
export function greatest(from: usize, n: i32): f32 {
  let most = f32x4.splat(-Infinity);
  let i = 0;
  // A maximum that is asked for as "less than" passes by what is not a number.
  for (; i + 4 <= n; i += 4) most = f32x4.pmax(most, v128.load(from + (<usize>i << 2)));
  let max = f32x4.extract_lane(most, 0);
  if (f32x4.extract_lane(most, 1) > max) max = f32x4.extract_lane(most, 1);
  if (f32x4.extract_lane(most, 2) > max) max = f32x4.extract_lane(most, 2);
  if (f32x4.extract_lane(most, 3) > max) max = f32x4.extract_lane(most, 3);
  for (; i < n; i++) {
    const v = load<f32>(from + (<usize>i << 2));
    if (v > max) max = v;
  }
  return max;
}

/** How many pixels are no smaller than a value. */
export function atLeast(from: usize, n: i32, least: f32): i32 {
  const low = f32x4.splat(least);
  let there = i32x4.splat(0);
  let i = 0;
  for (; i + 4 <= n; i += 4) there = i32x4.sub(there, f32x4.ge(v128.load(from + (<usize>i << 2)), low));
  let count = i32x4.extract_lane(there, 0) + i32x4.extract_lane(there, 1) + i32x4.extract_lane(there, 2) + i32x4.extract_lane(there, 3);
  for (; i < n; i++) if (load<f32>(from + (<usize>i << 2)) >= least) count++;
  return count;
}
