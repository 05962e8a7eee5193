// The operations of formulas over strips of doubles; their numbers are those of `OPS` in packages/algorithms/formula/ops.

@inline
function held(t: v128): v128 {
  return f64x2.min(f64x2.max(t, f64x2.splat(0)), f64x2.splat(1));
}

/** 1 where a comparison holds, else 0. */
@inline
function truth(is: v128): v128 {
  return v128.and(is, f64x2.splat(1));
}

@inline
function isTrue(v: v128): v128 {
  return f64x2.ne(v, f64x2.splat(0));
}

/** 0 where a result is not finite. */
@inline
function finite(v: v128): v128 {
  return f64x2.lt(f64x2.abs(v), f64x2.splat(Infinity));
}

@inline
function result(op: i32, x: v128, y: v128, z: v128): v128 {
  if (op === 0) return f64x2.add(x, y);
  if (op === 1) return f64x2.sub(x, y);
  if (op === 2) return f64x2.mul(x, y);
  if (op === 3) return f64x2.div(x, y);
  if (op === 4) return truth(f64x2.lt(x, y));
  if (op === 5) return truth(f64x2.le(x, y));
  if (op === 6) return truth(f64x2.gt(x, y));
  if (op === 7) return truth(f64x2.ge(x, y));
  if (op === 8) return truth(f64x2.eq(x, y));
  if (op === 9) return truth(f64x2.ne(x, y));
  if (op === 10) return truth(v128.and(isTrue(x), isTrue(y)));
  if (op === 11) return truth(v128.or(isTrue(x), isTrue(y)));
  if (op === 12) return v128.bitselect(x, y, f64x2.lt(x, y));
  if (op === 13) return v128.bitselect(x, y, f64x2.gt(x, y));
  if (op === 14) return f64x2.abs(x);
  if (op === 15) return f64x2.sqrt(x);
  if (op === 16) return f64x2.min(z, f64x2.max(y, x));
  if (op === 17) return f64x2.add(x, f64x2.mul(f64x2.sub(y, x), z));
  if (op === 18) return truth(f64x2.ge(y, x));
  if (op === 19) return f64x2.div(f64x2.sub(z, x), f64x2.sub(y, x));
  if (op === 20) return f64x2.sub(f64x2.splat(1), f64x2.mul(f64x2.sub(f64x2.splat(1), x), f64x2.sub(f64x2.splat(1), y)));
  if (op === 21) return f64x2.neg(x);
  if (op === 22) return truth(f64x2.eq(x, f64x2.splat(0)));
  return v128.bitselect(y, z, isTrue(x));
}

/** Operations that give NaN by themselves where an operand is NaN. */
@inline
function carries(op: i32): bool {
  return op <= 2 || (op >= 14 && op <= 17) || op === 20 || op === 21;
}

/** One operation, known where this is laid out, over the whole strip: asking for it pixel by pixel would cost more than the work. */
@inline
function over(op: i32, x: usize, xs: usize, y: usize, ys: usize, z: usize, zs: usize, n: i32, out: usize): i32 {
  const kept = op === 3 || op === 15 || op === 19;
  let faults = 0;
  for (let i = 0; i < n; i += 2) {
    const a = v128.load(x);
    const b = v128.load(y);
    const c = v128.load(z);
    let v = result(op, a, b, c);
    if (carries(op) && !kept) v128.store(out, v);
    else {
      const there = v128.and(v128.and(f64x2.eq(a, a), f64x2.eq(b, b)), f64x2.eq(c, c));
      if (kept) {
        const is = finite(v);
        const bad = i64x2.bitmask(v128.andnot(there, is));
        if (bad) faults += (bad & 1) + (i + 1 < n ? bad >> 1 : 0);
        v = v128.and(v, is);
        if (op === 19) {
          const t = held(v);
          v = f64x2.mul(f64x2.mul(t, t), f64x2.sub(f64x2.splat(3), f64x2.mul(f64x2.splat(2), t)));
        }
      }
      v128.store(out, v128.bitselect(v, f64x2.splat(NaN), there));
    }
    x += xs;
    y += ys;
    z += zs;
    out += 16;
  }
  return faults;
}

/**
 * One operation over strips of doubles. No data in any operand is no data in the result; where a quotient or a root has no answer, it is 0.
 * @param xs bytes from one pair of numbers to the next, 16, or 0 where one number stands for all, written twice
 * @param out room for n doubles, one more where n is odd
 * @returns pixels that had no answer
 */
export function formula(
  op: i32,
  x: usize,
  xs: usize,
  y: usize,
  ys: usize,
  z: usize,
  zs: usize,
  n: i32,
  out: usize,
): i32 {
  switch (op) {
    case 0:
      return over(0, x, xs, y, ys, z, zs, n, out);
    case 1:
      return over(1, x, xs, y, ys, z, zs, n, out);
    case 2:
      return over(2, x, xs, y, ys, z, zs, n, out);
    case 3:
      return over(3, x, xs, y, ys, z, zs, n, out);
    case 4:
      return over(4, x, xs, y, ys, z, zs, n, out);
    case 5:
      return over(5, x, xs, y, ys, z, zs, n, out);
    case 6:
      return over(6, x, xs, y, ys, z, zs, n, out);
    case 7:
      return over(7, x, xs, y, ys, z, zs, n, out);
    case 8:
      return over(8, x, xs, y, ys, z, zs, n, out);
    case 9:
      return over(9, x, xs, y, ys, z, zs, n, out);
    case 10:
      return over(10, x, xs, y, ys, z, zs, n, out);
    case 11:
      return over(11, x, xs, y, ys, z, zs, n, out);
    case 12:
      return over(12, x, xs, y, ys, z, zs, n, out);
    case 13:
      return over(13, x, xs, y, ys, z, zs, n, out);
    case 14:
      return over(14, x, xs, y, ys, z, zs, n, out);
    case 15:
      return over(15, x, xs, y, ys, z, zs, n, out);
    case 16:
      return over(16, x, xs, y, ys, z, zs, n, out);
    case 17:
      return over(17, x, xs, y, ys, z, zs, n, out);
    case 18:
      return over(18, x, xs, y, ys, z, zs, n, out);
    case 19:
      return over(19, x, xs, y, ys, z, zs, n, out);
    case 20:
      return over(20, x, xs, y, ys, z, zs, n, out);
    case 21:
      return over(21, x, xs, y, ys, z, zs, n, out);
    case 22:
      return over(22, x, xs, y, ys, z, zs, n, out);
    default:
      return over(23, x, xs, y, ys, z, zs, n, out);
  }
}

/** Doubles from floats, two at a time; up to one more than n is read and written. */
export function widen(from: usize, n: i32, out: usize): void {
  for (let i = 0; i < n; i += 2) {
    v128.store(out + (<usize>i << 3), f64x2.promote_low_f32x4(v128.load64_zero(from + (<usize>i << 2))));
  }
}

/** Floats from doubles, two at a time; up to one more than n is read and written. */
export function narrow(from: usize, n: i32, out: usize): void {
  for (let i = 0; i < n; i += 2) {
    v128.store64_lane(out + (<usize>i << 2), f32x4.demote_f64x2_zero(v128.load(from + (<usize>i << 3))), 0);
  }
}
