// Light coded by sRGB and back, four pixels at a time, and the roots that it takes: without a division.

/**
 * A first guess at a root from nought up: the exponent parted, the mantissa along with it. Whole numbers come of a sum that is so great that
 * its last digit is one.
 */
@inline
function guessed(x: v128, share: f32, offset: i32): v128 {
  return i32x4.shl(f32x4.add(f32x4.mul(f32x4.convert_i32x4_s(x), f32x4.splat(share / 512)), f32x4.splat(<f32>(<f64>offset / 512 + 8388608))), 9);
}

/**
 * The third root of numbers from nought up, without a division: one over it first, `y·(1 − e)^(−1/3)` by its series with `e = 1 − x·y³`;
 * then one step of Newton's at the root itself, which leaves a last digit.
 */
@inline
function thirdRoot(x: v128): v128 {
  let y = guessed(x, <f32>(-1 / 3.0), 1419900529);
  const e = f32x4.sub(f32x4.splat(1), f32x4.mul(x, cube(y)));
  let bent = f32x4.add(f32x4.mul(e, f32x4.splat(<f32>(14 / 81.0))), f32x4.splat(<f32>(2 / 9.0)));
  bent = f32x4.add(f32x4.mul(e, bent), f32x4.splat(<f32>(1 / 3.0)));
  y = f32x4.add(y, f32x4.mul(y, f32x4.mul(e, bent)));
  const yy = f32x4.mul(y, y);
  const found = f32x4.mul(x, yy);
  return f32x4.add(found, f32x4.mul(f32x4.sub(x, cube(found)), f32x4.mul(yy, f32x4.splat(<f32>(1 / 3.0)))));
}

/** The fifth root, likewise. */
@inline
function fifthRoot(x: v128): v128 {
  let y = guessed(x, <f32>(-1 / 5.0), 1277905443);
  let yy = f32x4.mul(y, y);
  const e = f32x4.sub(f32x4.splat(1), f32x4.mul(f32x4.mul(x, y), f32x4.mul(yy, yy)));
  let bent = f32x4.add(f32x4.mul(e, f32x4.splat(<f32>(11 / 125.0))), f32x4.splat(<f32>(3 / 25.0)));
  bent = f32x4.add(f32x4.mul(e, bent), f32x4.splat(<f32>(1 / 5.0)));
  y = f32x4.add(y, f32x4.mul(y, f32x4.mul(e, bent)));
  yy = f32x4.mul(y, y);
  const slope = f32x4.mul(yy, yy);
  const found = f32x4.mul(x, slope);
  const square = f32x4.mul(found, found);
  const left = f32x4.sub(x, f32x4.mul(found, f32x4.mul(square, square)));
  return f32x4.add(found, f32x4.mul(left, f32x4.mul(slope, f32x4.splat(<f32>(1 / 5.0)))));
}

/** One over the sixth root, by the series alone. */
@inline
function overSixthRoot(x: v128): v128 {
  const one = f32x4.splat(1);
  let y = guessed(x, <f32>(-1 / 6.0), 1242415409);
  let yyy = cube(y);
  let e = f32x4.sub(one, f32x4.mul(f32x4.mul(x, yyy), yyy));
  let bent = f32x4.add(f32x4.mul(e, f32x4.splat(<f32>(91 / 1296.0))), f32x4.splat(<f32>(7 / 72.0)));
  bent = f32x4.add(f32x4.mul(e, bent), f32x4.splat(<f32>(1 / 6.0)));
  y = f32x4.add(y, f32x4.mul(y, f32x4.mul(e, bent)));
  yyy = cube(y);
  e = f32x4.sub(one, f32x4.mul(f32x4.mul(x, yyy), yyy));
  return f32x4.add(y, f32x4.mul(y, f32x4.mul(e, f32x4.splat(<f32>(1 / 6.0)))));
}

@inline
function signOf(x: v128): v128 {
  return v128.and(x, i32x4.splat(0x80000000));
}

/** Light from a number coded by sRGB, below nought as above. */
@inline
export function decoded(v: v128): v128 {
  const size = f32x4.abs(v);
  const x = f32x4.mul(f32x4.add(size, f32x4.splat(0.055)), f32x4.splat(<f32>(1 / 1.055)));
  // x to 2.4 is the square of x by its fifth root.
  const times = f32x4.mul(x, fifthRoot(x));
  const straight = f32x4.mul(size, f32x4.splat(<f32>(1 / 12.92)));
  return v128.or(v128.bitselect(straight, f32x4.mul(times, times), f32x4.le(size, f32x4.splat(0.04045))), signOf(v));
}

/** The coded number of a light. */
@inline
export function coded(v: v128): v128 {
  const size = f32x4.abs(v);
  // x to 1/2.4 is its square root to 5/6, which is that over its own sixth root.
  const half = f32x4.sqrt(size);
  const bent = f32x4.mul(half, overSixthRoot(half));
  const curve = f32x4.sub(f32x4.mul(f32x4.splat(1.055), bent), f32x4.splat(0.055));
  const straight = f32x4.mul(size, f32x4.splat(12.92));
  return v128.or(v128.bitselect(straight, curve, f32x4.le(size, f32x4.splat(0.0031308))), signOf(v));
}

@inline
export function root(x: v128): v128 {
  const size = f32x4.abs(x);
  return v128.or(v128.and(thirdRoot(size), f32x4.gt(size, f32x4.splat(1e-30))), signOf(x));
}

@inline
export function cube(x: v128): v128 {
  return f32x4.mul(f32x4.mul(x, x), x);
}
