// Angles, four at a time, in single precision (Moshier's Cephes).

/** The angle from the first axis, 0 to π, whichever side of it (Moshier's Cephes, `atanf`). */
@inline
export function angleOf(x: v128, y: v128): v128 {
  const up = f32x4.abs(y);
  const along = f32x4.abs(x);
  const q = f32x4.div(f32x4.pmin(up, along), f32x4.pmax(f32x4.pmax(up, along), f32x4.splat(1e-30)));
  const big = f32x4.gt(q, f32x4.splat(0.41421356));
  const one = f32x4.splat(1);
  const t = v128.bitselect(f32x4.div(f32x4.sub(q, one), f32x4.add(q, one)), q, big);
  const z = f32x4.mul(t, t);
  let p = f32x4.sub(f32x4.mul(f32x4.splat(8.05374449538e-2), z), f32x4.splat(1.38776856032e-1));
  p = f32x4.add(f32x4.mul(p, z), f32x4.splat(1.99777106478e-1));
  p = f32x4.sub(f32x4.mul(p, z), f32x4.splat(3.33329491539e-1));
  let angle = f32x4.add(f32x4.mul(f32x4.mul(p, z), t), t);
  angle = f32x4.add(angle, v128.and(big, f32x4.splat(<f32>0.7853981634)));
  angle = v128.bitselect(f32x4.sub(f32x4.splat(<f32>1.5707963268), angle), angle, f32x4.gt(up, along));
  return v128.bitselect(f32x4.sub(f32x4.splat(<f32>3.1415926536), angle), angle, f32x4.lt(x, f32x4.splat(0)));
}

/** Sine within an eighth of a turn either way (Cephes, `sinf`). */
@inline
export function shortSine(t: v128, z: v128): v128 {
  let s = f32x4.add(f32x4.mul(f32x4.splat(-1.9515295891e-4), z), f32x4.splat(8.3321608736e-3));
  s = f32x4.sub(f32x4.mul(s, z), f32x4.splat(1.6666654611e-1));
  return f32x4.add(f32x4.mul(f32x4.mul(s, z), t), t);
}

/** Cosine within an eighth of a turn either way, by the angle's square (Cephes, `cosf`). */
@inline
export function shortCosine(z: v128): v128 {
  let c = f32x4.sub(f32x4.mul(f32x4.splat(2.443315711809948e-5), z), f32x4.splat(1.388731625493765e-3));
  c = f32x4.add(f32x4.mul(c, z), f32x4.splat(4.166664568298827e-2));
  return f32x4.add(f32x4.sub(f32x4.mul(f32x4.mul(c, z), z), f32x4.mul(f32x4.splat(0.5), z)), f32x4.splat(1));
}

/** The sine so many quarters of a turn further on. */
@inline
export function further(s: v128, c: v128, quarters: v128): v128 {
  const odd = i32x4.ne(v128.and(quarters, i32x4.splat(1)), i32x4.splat(0));
  const flip = i32x4.shl(v128.and(quarters, i32x4.splat(2)), 30);
  return v128.xor(v128.bitselect(c, s, odd), flip);
}
