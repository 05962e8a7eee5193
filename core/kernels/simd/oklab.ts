// Colours by OKLab (Björn Ottosson, 2020), four pixels at a time: from numbers coded by sRGB and back. Strips may be read and written up to
// 16 bytes beyond their end. What the reference is stands in core/colour.

/** Light to cones, cones to L, a, b; back: L, a, b to cones, cones to light. */
const CONES: usize = memory.data<f32>([
  0.4122214708, 0.5363325363, 0.0514459929, 0.2119034982, 0.6806995451, 0.1073969566, 0.0883024619, 0.2817188376,
  0.6299787005,
]);
const LAB: usize = memory.data<f32>([
  0.2104542553, 0.793617785, -0.0040720468, 1.9779984951, -2.428592205, 0.4505937099, 0.0259040371, 0.7827717662,
  -0.808675766,
]);
const BACK: usize = memory.data<f32>([
  1, 0.3963377774, 0.2158037573, 1, -0.1055613458, -0.0638541728, 1, -0.0894841775, -1.291485548,
]);
const LIGHT: usize = memory.data<f32>([
  4.0767416621, -3.3077115913, 0.2309699292, -1.2684380046, 2.6097574011, -0.3413193965, -0.0041960863, -0.7034186147,
  1.707614701,
]);

/** A number of a table, in all lanes. */
@inline
function told(table: usize, i: i32): v128 {
  return v128.load32_splat(table + (<usize>i << 2));
}

/** A row of a table times three numbers. */
@inline
function row(table: usize, i: i32, x: v128, y: v128, z: v128): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(told(table, i), x), f32x4.mul(told(table, i + 1), y)),
    f32x4.mul(told(table, i + 2), z),
  );
}

/** A first guess at a root from nought up: the exponent parted, the mantissa along with it. */
@inline
function guessed(x: v128, share: f32, offset: i32): v128 {
  return i32x4.add(i32x4.trunc_sat_f32x4_s(f32x4.mul(f32x4.convert_i32x4_s(x), f32x4.splat(share))), i32x4.splat(offset));
}

/** The third root of numbers from nought up: two steps of Halley's method. */
@inline
function thirdRoot(x: v128): v128 {
  const twice = f32x4.add(x, x);
  let y = guessed(x, <f32>(1 / 3.0), 709983558);
  for (let k = 0; k < 2; k++) {
    const yyy = cube(y);
    y = f32x4.div(f32x4.mul(y, f32x4.add(yyy, twice)), f32x4.add(f32x4.add(yyy, yyy), x));
  }
  return y;
}

/** The fifth root of numbers from nought up, likewise. */
@inline
function fifthRoot(x: v128): v128 {
  const two = f32x4.splat(2);
  const three = f32x4.splat(3);
  let y = guessed(x, <f32>(1 / 5.0), 851980270);
  for (let k = 0; k < 2; k++) {
    const yy = f32x4.mul(y, y);
    const fifth = f32x4.mul(f32x4.mul(yy, yy), y);
    y = f32x4.div(
      f32x4.mul(y, f32x4.add(f32x4.mul(two, fifth), f32x4.mul(three, x))),
      f32x4.add(f32x4.mul(three, fifth), f32x4.mul(two, x)),
    );
  }
  return y;
}

@inline
function signOf(x: v128): v128 {
  return v128.and(x, i32x4.splat(0x80000000));
}

/** Light from a number coded by sRGB, below nought as above. */
@inline
function decoded(v: v128): v128 {
  const size = f32x4.abs(v);
  const x = f32x4.mul(f32x4.add(size, f32x4.splat(0.055)), f32x4.splat(<f32>(1 / 1.055)));
  // x to 2.4 is the square of x by its fifth root.
  const times = f32x4.mul(x, fifthRoot(x));
  const straight = f32x4.mul(size, f32x4.splat(<f32>(1 / 12.92)));
  return v128.or(v128.bitselect(straight, f32x4.mul(times, times), f32x4.le(size, f32x4.splat(0.04045))), signOf(v));
}

/** The coded number of a light. */
@inline
function coded(v: v128): v128 {
  const size = f32x4.abs(v);
  // x to 1/2.4 is its fourth root by its sixth.
  const bent = f32x4.mul(f32x4.sqrt(f32x4.sqrt(size)), f32x4.sqrt(thirdRoot(size)));
  const curve = f32x4.sub(f32x4.mul(f32x4.splat(1.055), bent), f32x4.splat(0.055));
  const straight = f32x4.mul(size, f32x4.splat(12.92));
  return v128.or(v128.bitselect(straight, curve, f32x4.le(size, f32x4.splat(0.0031308))), signOf(v));
}

@inline
function root(x: v128): v128 {
  const size = f32x4.abs(x);
  return v128.or(v128.and(thirdRoot(size), f32x4.gt(size, f32x4.splat(1e-30))), signOf(x));
}

@inline
function cube(x: v128): v128 {
  return f32x4.mul(f32x4.mul(x, x), x);
}

/** Held to 0–1 and smoothed at both ends. */
@inline
function smooth(t: v128): v128 {
  const x = f32x4.min(f32x4.max(t, f32x4.splat(0)), f32x4.splat(1));
  return f32x4.mul(f32x4.mul(x, x), f32x4.sub(f32x4.splat(3), f32x4.add(x, x)));
}

/** The angle from the first axis, 0 to π, whichever side of it (Moshier's Cephes, `atanf`). */
@inline
function angleOf(x: v128, y: v128): v128 {
  const up = f32x4.abs(y);
  const along = f32x4.abs(x);
  const q = f32x4.div(f32x4.min(up, along), f32x4.max(f32x4.max(up, along), f32x4.splat(1e-30)));
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

/** Sine and cosine of an angle up to π or so either way (Cephes, `sinf` and `cosf`): within a quarter turn, then by quarters. */
@inline
function sine(x: v128, quarters: i32): v128 {
  const k = f32x4.nearest(f32x4.mul(x, f32x4.splat(<f32>0.6366197724)));
  const t = f32x4.sub(f32x4.sub(x, f32x4.mul(k, f32x4.splat(1.5703125))), f32x4.mul(k, f32x4.splat(4.8382679e-4)));
  const z = f32x4.mul(t, t);
  let s = f32x4.add(f32x4.mul(f32x4.splat(-1.9515295891e-4), z), f32x4.splat(8.3321608736e-3));
  s = f32x4.sub(f32x4.mul(s, z), f32x4.splat(1.6666654611e-1));
  s = f32x4.add(f32x4.mul(f32x4.mul(s, z), t), t);
  let c = f32x4.sub(f32x4.mul(f32x4.splat(2.443315711809948e-5), z), f32x4.splat(1.388731625493765e-3));
  c = f32x4.add(f32x4.mul(c, z), f32x4.splat(4.166664568298827e-2));
  c = f32x4.add(f32x4.sub(f32x4.mul(f32x4.mul(c, z), z), f32x4.mul(f32x4.splat(0.5), z)), f32x4.splat(1));
  const turn = i32x4.add(i32x4.trunc_sat_f32x4_s(k), i32x4.splat(quarters));
  const odd = i32x4.ne(v128.and(turn, i32x4.splat(1)), i32x4.splat(0));
  const flip = i32x4.shl(v128.and(turn, i32x4.splat(2)), 30);
  return v128.xor(v128.bitselect(c, s, odd), flip);
}

/** A number with no data where any of three has none. */
@inline
function absent(v: v128, r: v128, g: v128, b: v128): v128 {
  return f32x4.add(v, f32x4.mul(f32x4.splat(0), f32x4.add(f32x4.add(r, g), b)));
}

/**
 * Chroma times `1 + amount·w`, `w = shadows + (1 − shadows)·smoothstep(0, 0.3, L)`.
 * @param pointers addresses of three planes, then of the three that are made
 */
export function saturate(pointers: usize, n: i32, amount: f32, shadows: f32): void {
  const red = <usize>load<u32>(pointers);
  const green = <usize>load<u32>(pointers, 4);
  const blue = <usize>load<u32>(pointers, 8);
  const toRed = <usize>load<u32>(pointers, 12);
  const toGreen = <usize>load<u32>(pointers, 16);
  const toBlue = <usize>load<u32>(pointers, 20);
  const one = f32x4.splat(1);
  for (let i = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const r = v128.load(red + at);
    const g = v128.load(green + at);
    const b = v128.load(blue + at);
    const x = decoded(r);
    const y = decoded(g);
    const z = decoded(b);
    const l = root(row(CONES, 0, x, y, z));
    const m = root(row(CONES, 3, x, y, z));
    const s = root(row(CONES, 6, x, y, z));
    const light = row(LAB, 0, l, m, s);
    const w = f32x4.add(
      f32x4.splat(shadows),
      f32x4.mul(f32x4.splat(1 - shadows), smooth(f32x4.mul(light, f32x4.splat(<f32>(1 / 0.3))))),
    );
    const by = f32x4.add(one, f32x4.mul(f32x4.splat(amount), w));
    const p = f32x4.mul(by, row(LAB, 3, l, m, s));
    const q = f32x4.mul(by, row(LAB, 6, l, m, s));
    const u = cube(row(BACK, 0, light, p, q));
    const v = cube(row(BACK, 3, light, p, q));
    const t = cube(row(BACK, 6, light, p, q));
    v128.store(toRed + at, absent(coded(row(LIGHT, 0, u, v, t)), r, g, b));
    v128.store(toGreen + at, absent(coded(row(LIGHT, 3, u, v, t)), r, g, b));
    v128.store(toBlue + at, absent(coded(row(LIGHT, 6, u, v, t)), r, g, b));
  }
}

/**
 * Turns, dulls, enriches, lifts or pushes one family of hues; what lies outside of it stays to the last digit.
 * @param pointers addresses of three planes, then of the three that are made
 * @param band cosine and sine of the centre, half the width, 1 / soft (radians), chroma below which is grey, 1 / (chroma from which all
 * counts − that), turn (radians), chroma's factor less 1, lightness, shift of red, green and blue
 */
export function hueBand(pointers: usize, n: i32, band: usize): void {
  const red = <usize>load<u32>(pointers);
  const green = <usize>load<u32>(pointers, 4);
  const blue = <usize>load<u32>(pointers, 8);
  const toRed = <usize>load<u32>(pointers, 12);
  const toGreen = <usize>load<u32>(pointers, 16);
  const toBlue = <usize>load<u32>(pointers, 20);
  const one = f32x4.splat(1);
  for (let i = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const r = v128.load(red + at);
    const g = v128.load(green + at);
    const b = v128.load(blue + at);
    const x = decoded(r);
    const y = decoded(g);
    const z = decoded(b);
    const l = root(row(CONES, 0, x, y, z));
    const m = root(row(CONES, 3, x, y, z));
    const s = root(row(CONES, 6, x, y, z));
    const p = row(LAB, 3, l, m, s);
    const q = row(LAB, 6, l, m, s);
    const along = f32x4.add(f32x4.mul(p, told(band, 0)), f32x4.mul(q, told(band, 1)));
    const aside = f32x4.sub(f32x4.mul(q, told(band, 0)), f32x4.mul(p, told(band, 1)));
    const away = f32x4.sub(angleOf(along, aside), told(band, 2));
    const size = f32x4.sqrt(f32x4.add(f32x4.mul(p, p), f32x4.mul(q, q)));
    const w = f32x4.mul(
      smooth(f32x4.sub(one, f32x4.mul(f32x4.max(away, f32x4.splat(0)), told(band, 3)))),
      smooth(f32x4.mul(f32x4.sub(size, told(band, 4)), told(band, 5))),
    );
    const turn = f32x4.mul(w, told(band, 6));
    const sin = sine(turn, 0);
    const cos = sine(turn, 1);
    const by = f32x4.add(one, f32x4.mul(w, told(band, 7)));
    const light = f32x4.add(row(LAB, 0, l, m, s), f32x4.mul(w, told(band, 8)));
    const p2 = f32x4.mul(by, f32x4.sub(f32x4.mul(p, cos), f32x4.mul(q, sin)));
    const q2 = f32x4.mul(by, f32x4.add(f32x4.mul(q, cos), f32x4.mul(p, sin)));
    const u = cube(row(BACK, 0, light, p2, q2));
    const v = cube(row(BACK, 3, light, p2, q2));
    const t = cube(row(BACK, 6, light, p2, q2));
    const held = f32x4.gt(w, f32x4.splat(0));
    const toR = f32x4.add(coded(row(LIGHT, 0, u, v, t)), f32x4.mul(w, told(band, 9)));
    const toG = f32x4.add(coded(row(LIGHT, 3, u, v, t)), f32x4.mul(w, told(band, 10)));
    const toB = f32x4.add(coded(row(LIGHT, 6, u, v, t)), f32x4.mul(w, told(band, 11)));
    v128.store(toRed + at, absent(v128.bitselect(toR, r, held), r, g, b));
    v128.store(toGreen + at, absent(v128.bitselect(toG, g, held), r, g, b));
    v128.store(toBlue + at, absent(v128.bitselect(toB, b, held), r, g, b));
  }
}
