import { held } from './lanes';

// Sums of strips, and strips laid on strips. Strips may be read and written up to 16 bytes beyond their end.

/**
 * out = add + Σ factors[k]·strip k, in single precision.
 * @param pointers addresses of `count` strips
 * @param factors one a strip
 * @returns 1 where any of the n results is NaN
 */
export function weigh(pointers: usize, factors: usize, count: i32, n: i32, add: f32, out: usize): i32 {
  const from = f32x4.splat(add);
  let odd = i32x4.splat(0);
  let i = 0;
  for (; i + 4 <= n; i += 4) {
    const at = <usize>i << 2;
    let sum = from;
    for (let k = 0; k < count; k++) {
      const strip = <usize>load<u32>(pointers + (<usize>k << 2));
      sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(factors + (<usize>k << 2)), v128.load(strip + at)));
    }
    odd = v128.or(odd, f32x4.ne(sum, sum));
    v128.store(out + at, sum);
  }
  let any: bool = v128.any_true(odd);
  for (; i < n; i++) {
    const at = <usize>i << 2;
    let sum = add;
    for (let k = 0; k < count; k++) {
      const strip = <usize>load<u32>(pointers + (<usize>k << 2));
      sum += load<f32>(factors + (<usize>k << 2)) * load<f32>(strip + at);
    }
    any = any || sum !== sum;
    store<f32>(out + at, sum);
  }
  return any ? 1 : 0;
}

@inline
function screened(x: v128, y: v128): v128 {
  return f32x4.sub(f32x4.add(x, y), f32x4.mul(x, y));
}

@inline
function hardLight(b: v128, t: v128): v128 {
  const twice = f32x4.add(t, t);
  const dark = f32x4.mul(twice, b);
  return v128.bitselect(dark, screened(b, f32x4.sub(twice, f32x4.splat(1))), f32x4.le(t, f32x4.splat(0.5)));
}

@inline
function softLight(b: v128, t: v128): v128 {
  const one = f32x4.splat(1);
  const by = f32x4.sub(f32x4.add(t, t), one);
  const dark = f32x4.mul(f32x4.mul(by, b), f32x4.sub(one, b));
  const cubic = f32x4.mul(
    f32x4.add(f32x4.mul(f32x4.sub(f32x4.mul(f32x4.splat(16), b), f32x4.splat(12)), b), f32x4.splat(4)),
    b,
  );
  const d = v128.bitselect(cubic, f32x4.sqrt(b), f32x4.le(b, f32x4.splat(0.25)));
  const light = f32x4.mul(by, f32x4.sub(d, b));
  return f32x4.add(b, v128.bitselect(dark, light, f32x4.le(t, f32x4.splat(0.5))));
}

/** b / (1 − t) up to 1; nothing stays nothing. */
@inline
function dodged(b: v128, t: v128): v128 {
  const one = f32x4.splat(1);
  return v128.andnot(f32x4.min(one, f32x4.div(b, f32x4.sub(one, t))), f32x4.le(b, f32x4.splat(0)));
}

/** 1 − (1 − b) / t, not below 0; white stays white. A nought with a minus is nought. */
@inline
function burned(b: v128, t: v128): v128 {
  const one = f32x4.splat(1);
  const burnt = f32x4.sub(one, f32x4.min(one, f32x4.div(f32x4.sub(one, b), f32x4.abs(t))));
  return v128.bitselect(one, burnt, f32x4.ge(b, one));
}

/** Two strips by a blend; its number is that of `KERNEL_MODES` in packages/algorithms/blend/layer. */
@inline
function blended(mode: i32, below: v128, top: v128): v128 {
  if (mode === 0) return top;
  if (mode === 1) return f32x4.add(below, top);
  if (mode === 2) return f32x4.sub(below, top);
  if (mode === 3) return f32x4.mul(f32x4.add(below, top), f32x4.splat(0.5));
  if (mode === 4) return f32x4.sub(f32x4.add(below, f32x4.add(top, top)), f32x4.splat(1));
  if (mode === 5) return v128.bitselect(below, top, f32x4.gt(below, top));
  if (mode === 6) return v128.bitselect(below, top, f32x4.lt(below, top));
  const b = held(below);
  const t = held(top);
  if (mode === 7) return f32x4.mul(b, t);
  if (mode === 8) return screened(b, t);
  if (mode === 9) return hardLight(t, b);
  if (mode === 10) return hardLight(b, t);
  if (mode === 11) return softLight(b, t);
  if (mode === 12) return dodged(b, t);
  if (mode === 13) return burned(b, t);
  if (mode === 14) return f32x4.abs(f32x4.sub(b, t));
  return f32x4.sub(f32x4.add(b, t), f32x4.mul(f32x4.splat(2), f32x4.mul(b, t)));
}

/** How much of a layer or a step is taken: the mask held to 0–1, no data in it as 0, times the opacity; the opacity where there is no mask. */
@inline
export function shareOf(mask: usize, at: usize, opacity: v128): v128 {
  if (mask === 0) return opacity;
  const m = v128.load(mask + at);
  return f32x4.mul(v128.and(held(m), f32x4.eq(m, m)), opacity);
}

/**
 * below + (blend(below, top) − below)·opacity·mask. Where the top has no data the cloth below stays; where the cloth below has none, the
 * top lies on black.
 * @param mask 0 where there is none
 */
export function lay(mode: i32, below: usize, top: usize, mask: usize, n: i32, opacity: f32, out: usize): void {
  const whole = f32x4.splat(opacity);
  for (let i = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const b = v128.load(below + at);
    const t = v128.load(top + at);
    const part = shareOf(mask, at, whole);
    const laid = f32x4.add(b, f32x4.mul(f32x4.sub(blended(mode, b, t), b), part));
    const overBlack = v128.bitselect(f32x4.mul(t, part), laid, f32x4.ne(b, b));
    v128.store(out + at, v128.bitselect(b, overBlack, f32x4.ne(t, t)));
  }
}

/**
 * before + (after − before)·opacity·mask; no data in either is no data, except where the mask hides all: there it stays as before.
 * @param mask 0 where there is none
 */
export function mix(before: usize, after: usize, mask: usize, n: i32, opacity: f32, out: usize): void {
  const whole = f32x4.splat(opacity);
  for (let i = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const from = v128.load(before + at);
    const part = shareOf(mask, at, whole);
    const mixed = f32x4.add(from, f32x4.mul(f32x4.sub(v128.load(after + at), from), part));
    v128.store(out + at, mask === 0 ? mixed : v128.bitselect(from, mixed, f32x4.eq(part, f32x4.splat(0))));
  }
}

/**
 * Fills the pixels of `out` that are NaN by the sum over the strips that have data there: Σ (adds[k] + factors[k]·strip k), over Σ weights[k] of those strips where `share`
 * is set; NaN where none has any. Marks the pixels that only some of them cover, as floats: what stands in a mark already stays.
 * @param numbers factors, adds and weights, `count` of each
 * @returns how many pixels were marked that had not been
 */
export function weighPresent(pointers: usize, numbers: usize, count: i32, n: i32, share: i32, out: usize, marks: usize): i32 {
  const none = f32x4.splat(f32.NaN);
  const one = f32x4.splat(1);
  const shift = <usize>count << 2;
  let marked = 0;
  for (let i = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const before = v128.load(out + at);
    // Few groups hold anything to be filled.
    if (!v128.any_true(f32x4.ne(before, before))) continue;
    let sum = f32x4.splat(0);
    let weight = f32x4.splat(0);
    let all = i32x4.splat(-1);
    let any = i32x4.splat(0);
    for (let k = 0; k < count; k++) {
      const v = v128.load(<usize>load<u32>(pointers + (<usize>k << 2)) + at);
      const own = numbers + (<usize>k << 2);
      const is = f32x4.eq(v, v);
      all = v128.and(all, is);
      any = v128.or(any, is);
      const term = f32x4.add(v128.load32_splat(own + shift), f32x4.mul(v128.load32_splat(own), v));
      sum = f32x4.add(sum, v128.and(term, is));
      weight = f32x4.add(weight, v128.and(v128.load32_splat(own + 2 * shift), is));
    }
    const value = share ? f32x4.div(sum, weight) : sum;
    v128.store(out + at, v128.bitselect(before, v128.bitselect(value, none, any), f32x4.eq(before, before)));
    const partly = v128.and(v128.andnot(any, all), f32x4.ne(before, before));
    const marksBefore = v128.load(marks + at);
    // What lies behind the last pixel is none.
    const within = n - i < 4 ? (1 << (n - i)) - 1 : 15;
    marked += popcnt<i32>(i32x4.bitmask(v128.andnot(partly, f32x4.eq(marksBefore, one))) & within);
    v128.store(marks + at, v128.or(marksBefore, v128.and(one, partly)));
  }
  return marked;
}
