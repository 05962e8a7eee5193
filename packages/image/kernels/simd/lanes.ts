// What several kernels do with the lanes of a vector. All of it is laid out in place: a call would cost more than the work.

/** Held to 0–1; NaN stays. */
@inline
export function held(t: v128): v128 {
  // Of two of which one is NaN these give the first.
  return f32x4.pmin(f32x4.pmax(t, f32x4.splat(0)), f32x4.splat(1));
}

/** The third and fourth lane in double precision. */
@inline
export function upper(v: v128): v128 {
  return f64x2.promote_low_f32x4(v128.shuffle<u64>(v, v, 1, 1));
}

/** The sum of two lanes in double precision. */
@inline
export function summed(v: v128): f64 {
  return f64x2.extract_lane(v, 0) + f64x2.extract_lane(v, 1);
}

/** The sum of four counts. */
@inline
export function counted(v: v128): i32 {
  return i32x4.extract_lane(v, 0) + i32x4.extract_lane(v, 1) + i32x4.extract_lane(v, 2) + i32x4.extract_lane(v, 3);
}

/** The least of four lanes, none of them NaN. */
@inline
export function lowest(v: v128): f32 {
  const two = f32x4.pmin(v, v128.shuffle<f32>(v, v, 2, 3, 0, 1));
  return f32x4.extract_lane(f32x4.pmin(two, v128.shuffle<f32>(two, two, 1, 0, 3, 2)), 0);
}

/** The greatest of four lanes, none of them NaN. */
@inline
export function highest(v: v128): f32 {
  const two = f32x4.pmax(v, v128.shuffle<f32>(v, v, 2, 3, 0, 1));
  return f32x4.extract_lane(f32x4.pmax(two, v128.shuffle<f32>(two, two, 1, 0, 3, 2)), 0);
}
