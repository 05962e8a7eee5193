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
function blended(mode: i32, b: v128, t: v128): v128 {
  if (mode === 1) return f32x4.add(b, t);
  if (mode === 2) {
    const x = held(b);
    const y = held(t);
    return f32x4.sub(f32x4.add(x, y), f32x4.mul(x, y));
  }
  if (mode === 3) return v128.bitselect(b, t, f32x4.gt(b, t));
  return t;
}

/**
 * below + (blend(below, top) − below)·opacity. Where the top has no data the cloth below stays; where the cloth below has none, the top
 * lies on black.
 * @param mode 0 normal, 1 add, 2 screen, 3 lighten
 */
export function lay(mode: i32, below: usize, top: usize, n: i32, opacity: f32, out: usize): void {
  const part = f32x4.splat(opacity);
  for (let i = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const b = v128.load(below + at);
    const t = v128.load(top + at);
    const laid = f32x4.add(b, f32x4.mul(f32x4.sub(blended(mode, b, t), b), part));
    const overBlack = v128.bitselect(f32x4.mul(t, part), laid, f32x4.ne(b, b));
    v128.store(out + at, v128.bitselect(b, overBlack, f32x4.ne(t, t)));
  }
}

/** before + (after − before)·opacity; no data in either is no data. */
export function mix(before: usize, after: usize, n: i32, opacity: f32, out: usize): void {
  const by = f32x4.splat(opacity);
  for (let i = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const from = v128.load(before + at);
    v128.store(out + at, f32x4.add(from, f32x4.mul(f32x4.sub(v128.load(after + at), from), by)));
  }
}

/**
 * Fills the pixels of `out` that are NaN by the sum over the strips that have data there: Σ (adds[k] + factors[k]·strip k), over Σ weights[k] of those strips where `share`
 * is set; NaN where none has any. Marks the pixels that only some of them cover, as floats: what stands in a mark already stays.
 * @param numbers factors, adds and weights, `count` of each
 */
export function weighPresent(pointers: usize, numbers: usize, count: i32, n: i32, share: i32, out: usize, marks: usize): void {
  const none = f32x4.splat(f32.NaN);
  const one = f32x4.splat(1);
  const shift = <usize>count << 2;
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
    v128.store(marks + at, v128.or(v128.load(marks + at), v128.and(v128.and(one, v128.andnot(any, all)), f32x4.ne(before, before))));
  }
}
