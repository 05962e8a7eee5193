// A smooth surface, known on a lattice, taken off a row of pixels: between two lattice columns it is one cubic of Catmull and Rom (1974).
// Two pixels at a time, in double precision: a gradient is a small part of a great level.

/** What a row divided by the surface keeps as it is: below this share of the level the surface is as good as nothing. */
const LEAST: f64 = 1e-6;

/**
 * out = x − (surface − kept), or x · kept / surface.
 * @param from n pixels
 * @param u0 place of the first pixel in lattice columns, from the lattice's first column on; at least 1
 * @param du from one pixel to the next
 * @param lattice the surface at the lattice's columns, in the row's height: doubles
 */
export function offSurface(
  from: usize,
  n: i32,
  u0: f64,
  du: f64,
  lattice: usize,
  kept: f64,
  divides: bool,
  out: usize,
): void {
  const least = LEAST * abs(kept);
  let c = 0;
  while (c < n) {
    const u = u0 + <f64>c * du;
    const left = floor(u);
    const at = lattice + ((<usize>left - 1) << 3);
    const a = load<f64>(at);
    const b = load<f64>(at, 8);
    const d = load<f64>(at, 16);
    const e = load<f64>(at, 24);
    const p0 = f64x2.splat(b);
    const p1 = f64x2.splat(0.5 * (d - a));
    const p2 = f64x2.splat(a - 2.5 * b + 2 * d - 0.5 * e);
    const p3 = f64x2.splat(1.5 * (b - d) + 0.5 * (e - a));
    const end = min(n, c + <i32>ceil((left + 1 - u) / du));
    let t = f64x2.add(f64x2.splat(u - left), f64x2.mul(f64x2.splat(du), f64x2(0, 1)));
    const dt = f64x2.splat(2 * du);
    for (; c < end; c += 2) {
      const surface = f64x2.add(p0, f64x2.mul(t, f64x2.add(p1, f64x2.mul(t, f64x2.add(p2, f64x2.mul(t, p3))))));
      const place = <usize>c << 2;
      const x = f64x2.promote_low_f32x4(v128.load64_zero(from + place));
      const made = divides
        ? v128.bitselect(
            f64x2.div(f64x2.mul(x, f64x2.splat(kept)), surface),
            x,
            f64x2.gt(surface, f64x2.splat(least)),
          )
        : f64x2.sub(x, f64x2.sub(surface, f64x2.splat(kept)));
      const low = f32x4.demote_f64x2_zero(made);
      // The second of two may belong to the next cubic, or lie beyond the row.
      if (c + 1 < end) v128.store64_lane(out + place, low, 0);
      else v128.store32_lane(out + place, low, 0);
      t = f64x2.add(t, dt);
    }
    c = end;
  }
}
