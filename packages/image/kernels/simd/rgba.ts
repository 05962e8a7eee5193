// Three planes as bytes of red, green, blue and opacity. Strips may be read and written up to 16 bytes beyond their end.

/** 255 times a number, held to 0–255 and rounded to even; what NaN gives is of no account. */
@inline
function byteOf(at: usize): v128 {
  const v = f32x4.mul(v128.load(at), f32x4.splat(255));
  return i32x4.trunc_sat_f32x4_s(f32x4.nearest(f32x4.min(f32x4.max(v, f32x4.splat(0)), f32x4.splat(255))));
}

@inline
function there(at: usize): v128 {
  const v = v128.load(at);
  return f32x4.eq(v, v);
}

/** Pixels without data in any plane are transparent. */
export function rgba(r: usize, g: usize, b: usize, n: i32, out: usize): void {
  const opaque = i32x4.splat(0xff000000);
  for (let i = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const colour = v128.or(
      v128.or(byteOf(r + at), i32x4.shl(byteOf(g + at), 8)),
      v128.or(i32x4.shl(byteOf(b + at), 16), opaque),
    );
    const all = v128.and(v128.and(there(r + at), there(g + at)), there(b + at));
    v128.store(out + at, v128.and(colour, all));
  }
}
