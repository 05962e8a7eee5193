// Colours by OKLab (Björn Ottosson, 2020), four pixels at a time: from numbers coded by sRGB and back. Strips may be read and written up to
// 16 bytes beyond their end. What the reference is stands in packages/algorithms/colour.
import { angleOf, further, shortCosine, shortSine } from './angles';
import { coded, cube, decoded, root } from './light-coded';

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

/** Held to 0–1 and smoothed at both ends. */
@inline
function smooth(t: v128): v128 {
  const x = f32x4.pmin(f32x4.pmax(t, f32x4.splat(0)), f32x4.splat(1));
  return f32x4.mul(f32x4.mul(x, x), f32x4.sub(f32x4.splat(3), f32x4.add(x, x)));
}

/** A number with no data where any of three has none. */
@inline
function absent(v: v128, r: v128, g: v128, b: v128): v128 {
  return f32x4.add(v, f32x4.mul(f32x4.splat(0), f32x4.add(f32x4.add(r, g), b)));
}

/** How much colours belong to a family of hues, by its first six numbers (see {@link workColours}). */
@inline
function heldBy(family: usize, p: v128, q: v128): v128 {
  const along = f32x4.add(f32x4.mul(p, told(family, 0)), f32x4.mul(q, told(family, 1)));
  const aside = f32x4.sub(f32x4.mul(q, told(family, 0)), f32x4.mul(p, told(family, 1)));
  const away = f32x4.sub(angleOf(along, aside), told(family, 2));
  const size = f32x4.sqrt(f32x4.add(f32x4.mul(p, p), f32x4.mul(q, q)));
  return f32x4.mul(
    smooth(f32x4.sub(f32x4.splat(1), f32x4.mul(f32x4.pmax(away, f32x4.splat(0)), told(family, 3)))),
    smooth(f32x4.mul(f32x4.sub(size, told(family, 4)), told(family, 5))),
  );
}

/**
 * L, a and b of colours; no data in all three where any plane has none.
 * @param pointers addresses of red, green and blue, then of what is made
 * @param isCoded whether the numbers are coded by sRGB; else they are light
 */
export function labColours(pointers: usize, n: i32, isCoded: bool): void {
  const red = <usize>load<u32>(pointers);
  const green = <usize>load<u32>(pointers, 4);
  const blue = <usize>load<u32>(pointers, 8);
  for (let i = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const r = v128.load(red + at);
    const g = v128.load(green + at);
    const b = v128.load(blue + at);
    const x = isCoded ? decoded(r) : r;
    const y = isCoded ? decoded(g) : g;
    const z = isCoded ? decoded(b) : b;
    const l = root(row(CONES, 0, x, y, z));
    const m = root(row(CONES, 3, x, y, z));
    const s = root(row(CONES, 6, x, y, z));
    v128.store(<usize>load<u32>(pointers, 12) + at, absent(row(LAB, 0, l, m, s), r, g, b));
    v128.store(<usize>load<u32>(pointers, 16) + at, absent(row(LAB, 3, l, m, s), r, g, b));
    v128.store(<usize>load<u32>(pointers, 20) + at, absent(row(LAB, 6, l, m, s), r, g, b));
  }
}

/** How much each of n colours belongs to a family of hues, by its a and b; no data stays so. */
export function hueShares(a: usize, b: usize, n: i32, family: usize, out: usize): void {
  for (let i = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const p = v128.load(a + at);
    const q = v128.load(b + at);
    v128.store(out + at, absent(heldBy(family, p, q), p, q, q));
  }
}

/** Numbers of one work, and where its kind stands among them. */
const WORK: usize = 64;
const KIND: i32 = 12;

/**
 * Works at colours one after another: families of hues (kind 0) and chroma as a whole (kind 1). What none of them touches stays to the
 * last digit.
 * @param pointers addresses of three planes, then of the three that are made
 * @param works 16 numbers each. Of a family: cosine and sine of the centre, half the width, 1 / soft (radians), chroma below which is grey,
 * 1 / (chroma from which all counts − that), turn (radians), chroma's factor less 1, lightness, shift of red, green and blue (of the last
 * work alone), 0. Of chroma, which is times `1 + amount·w`, `w = shadows + (1 − shadows)·smoothstep(0, 0.3, L)`: amount, shadows, chroma
 * below which nothing is changed, 1 / (chroma from which all is − that); 1 at KIND
 */
export function workColours(pointers: usize, n: i32, works: usize, count: i32): void {
  const red = <usize>load<u32>(pointers);
  const green = <usize>load<u32>(pointers, 4);
  const blue = <usize>load<u32>(pointers, 8);
  const toRed = <usize>load<u32>(pointers, 12);
  const toGreen = <usize>load<u32>(pointers, 16);
  const toBlue = <usize>load<u32>(pointers, 20);
  const one = f32x4.splat(1);
  const none = f32x4.splat(0);
  const last = works + <usize>(count - 1) * WORK;
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
    let light = row(LAB, 0, l, m, s);
    let p = row(LAB, 3, l, m, s);
    let q = row(LAB, 6, l, m, s);
    let touched = none;
    let share = none;
    for (let work = works; work <= last; work += WORK) {
      if (load<f32>(work, KIND << 2) != 0) {
        const size = f32x4.sqrt(f32x4.add(f32x4.mul(p, p), f32x4.mul(q, q)));
        const acts = smooth(f32x4.mul(f32x4.sub(size, told(work, 2)), told(work, 3)));
        const amount = f32x4.mul(
          f32x4.mul(told(work, 0), acts),
          f32x4.add(
            told(work, 1),
            f32x4.mul(f32x4.sub(one, told(work, 1)), smooth(f32x4.mul(light, f32x4.splat(<f32>(1 / 0.3))))),
          ),
        );
        p = f32x4.add(p, f32x4.mul(p, amount));
        q = f32x4.add(q, f32x4.mul(q, amount));
        touched = v128.or(touched, f32x4.gt(acts, none));
        share = none;
        continue;
      }
      share = heldBy(work, p, q);
      const held = f32x4.gt(share, none);
      if (!v128.any_true(held)) continue;
      touched = v128.or(touched, held);
      const turn = f32x4.mul(share, told(work, 6));
      const k = f32x4.nearest(f32x4.mul(turn, f32x4.splat(<f32>0.6366197724)));
      const rest = f32x4.sub(
        f32x4.sub(turn, f32x4.mul(k, f32x4.splat(1.5703125))),
        f32x4.mul(k, f32x4.splat(4.8382679e-4)),
      );
      const square = f32x4.mul(rest, rest);
      const quarters = i32x4.trunc_sat_f32x4_s(k);
      const short = shortSine(rest, square);
      const cosine = shortCosine(square);
      const sin = further(short, cosine, quarters);
      const cos = further(short, cosine, i32x4.add(quarters, i32x4.splat(1)));
      const by = f32x4.add(one, f32x4.mul(share, told(work, 7)));
      light = f32x4.add(light, f32x4.mul(share, told(work, 8)));
      const turned = f32x4.mul(by, f32x4.sub(f32x4.mul(p, cos), f32x4.mul(q, sin)));
      q = f32x4.mul(by, f32x4.add(f32x4.mul(q, cos), f32x4.mul(p, sin)));
      p = turned;
    }
    if (!v128.any_true(touched)) {
      v128.store(toRed + at, absent(r, r, g, b));
      v128.store(toGreen + at, absent(g, r, g, b));
      v128.store(toBlue + at, absent(b, r, g, b));
      continue;
    }
    const u = cube(row(BACK, 0, light, p, q));
    const v = cube(row(BACK, 3, light, p, q));
    const t = cube(row(BACK, 6, light, p, q));
    const toR = f32x4.add(coded(row(LIGHT, 0, u, v, t)), f32x4.mul(share, told(last, 9)));
    const toG = f32x4.add(coded(row(LIGHT, 3, u, v, t)), f32x4.mul(share, told(last, 10)));
    const toB = f32x4.add(coded(row(LIGHT, 6, u, v, t)), f32x4.mul(share, told(last, 11)));
    v128.store(toRed + at, absent(v128.bitselect(toR, r, touched), r, g, b));
    v128.store(toGreen + at, absent(v128.bitselect(toG, g, touched), r, g, b));
    v128.store(toBlue + at, absent(v128.bitselect(toB, b, touched), r, g, b));
  }
}
