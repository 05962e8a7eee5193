// Smoothing by a symmetric kernel, one row at a time; see `../smooth.ts`, whose plain TypeScript is the reference.

/**
 * out[x] = scale[x] · (taps[0]·in[x] + Σ taps[k]·(in[x − k·step] + in[x + k·step])).
 * @param from the row's first pixel; there must be (count − 1)·step readable pixels on either side, and room for 16 beyond the end of `out`
 */
export function rows(from: usize, width: i32, taps: usize, count: i32, step: i32, scale: usize, out: usize): void {
  if (count === 3) {
    rowsOfFive(from, width, taps, step, scale, out);
    return;
  }
  for (let x = 0; x < width; x += 8) {
    const at = from + (<usize>x << 2);
    const middle = v128.load32_splat(taps);
    let a = f32x4.mul(middle, v128.load(at));
    let b = f32x4.mul(middle, v128.load(at, 16));
    let far: usize = 0;
    for (let k = 1; k < count; k++) {
      far += <usize>step << 2;
      const w = v128.load32_splat(taps + (<usize>k << 2));
      a = f32x4.add(a, f32x4.mul(w, f32x4.add(v128.load(at - far), v128.load(at + far))));
      b = f32x4.add(b, f32x4.mul(w, f32x4.add(v128.load(at - far, 16), v128.load(at + far, 16))));
    }
    const to = out + (<usize>x << 2);
    const by = scale + (<usize>x << 2);
    v128.store(to, f32x4.mul(a, v128.load(by)));
    v128.store(to, f32x4.mul(b, v128.load(by, 16)), 16);
  }
}

/** {@link rows} for the five taps of the B3 spline, laid out one after another. */
function rowsOfFive(from: usize, width: i32, taps: usize, step: i32, scale: usize, out: usize): void {
  const near = <usize>step << 2;
  const far = near << 1;
  const w0 = v128.load32_splat(taps);
  const w1 = v128.load32_splat(taps, 4);
  const w2 = v128.load32_splat(taps, 8);
  for (const end = from + (<usize>width << 2); from < end; from += 16, out += 16, scale += 16) {
    const beside = f32x4.add(v128.load(from - near), v128.load(from + near));
    const beyond = f32x4.add(v128.load(from - far), v128.load(from + far));
    const sum = f32x4.add(f32x4.add(f32x4.mul(w0, v128.load(from)), f32x4.mul(w1, beside)), f32x4.mul(w2, beyond));
    v128.store(out, f32x4.mul(sum, v128.load(scale)));
  }
}

/**
 * out[x] = scale · Σ weights[r] · row r [x].
 * @param pointers addresses of `count` rows
 * @param weights one a row
 */
export function columns(pointers: usize, weights: usize, count: i32, width: i32, scale: f32, out: usize): void {
  const by = f32x4.splat(scale);
  if (count === 5) {
    columnsOfFive(pointers, weights, width, by, out);
    return;
  }
  for (let x = 0; x < width; x += 16) {
    const at = <usize>x << 2;
    let a = f32x4.splat(0);
    let b = a;
    let c = a;
    let d = a;
    for (let r = 0; r < count; r++) {
      const row = <usize>load<u32>(pointers + (<usize>r << 2)) + at;
      const w = v128.load32_splat(weights + (<usize>r << 2));
      a = f32x4.add(a, f32x4.mul(w, v128.load(row)));
      b = f32x4.add(b, f32x4.mul(w, v128.load(row, 16)));
      c = f32x4.add(c, f32x4.mul(w, v128.load(row, 32)));
      d = f32x4.add(d, f32x4.mul(w, v128.load(row, 48)));
    }
    v128.store(out + at, f32x4.mul(a, by));
    v128.store(out + at, f32x4.mul(b, by), 16);
    v128.store(out + at, f32x4.mul(c, by), 32);
    v128.store(out + at, f32x4.mul(d, by), 48);
  }
}

/** {@link columns} for five rows, as the B3 spline has them, laid out one after another. */
function columnsOfFive(pointers: usize, weights: usize, width: i32, by: v128, out: usize): void {
  const a = <usize>load<u32>(pointers);
  const b = <usize>load<u32>(pointers, 4);
  const c = <usize>load<u32>(pointers, 8);
  const d = <usize>load<u32>(pointers, 12);
  const e = <usize>load<u32>(pointers, 16);
  const wa = v128.load32_splat(weights);
  const wb = v128.load32_splat(weights, 4);
  const wc = v128.load32_splat(weights, 8);
  const wd = v128.load32_splat(weights, 12);
  const we = v128.load32_splat(weights, 16);
  for (let at: usize = 0, end = <usize>width << 2; at < end; at += 16) {
    const before = f32x4.add(f32x4.mul(wa, v128.load(a + at)), f32x4.mul(wb, v128.load(b + at)));
    const after = f32x4.add(f32x4.mul(wd, v128.load(d + at)), f32x4.mul(we, v128.load(e + at)));
    const sum = f32x4.add(f32x4.add(before, f32x4.mul(wc, v128.load(c + at))), after);
    v128.store(out + at, f32x4.mul(sum, by));
  }
}

/** Takes the pixels that `there` leaves out, 0, from a row: they become 0. */
export function part(row: usize, there: usize, width: i32): void {
  const none = f32x4.splat(0);
  for (let x = 0; x < width; x += 4) {
    const at = <usize>x << 2;
    v128.store(row + at, v128.and(v128.load(row + at), f32x4.gt(v128.load(there + at), none)));
  }
}

/** sums[x] / weights[x], NaN where hardly any weight is left. */
export function ratio(sums: usize, weights: usize, width: i32): void {
  const least = f32x4.splat(1e-6);
  const none = f32x4.splat(NaN);
  for (let x = 0; x < width; x += 4) {
    const at = <usize>x << 2;
    const w = v128.load(weights + at);
    v128.store(sums + at, v128.bitselect(f32x4.div(v128.load(sums + at), w), none, f32x4.gt(w, least)));
  }
}

/** 1 where a row holds NaN. */
export function holed(row: usize, width: i32): i32 {
  let found = i32x4.splat(0);
  for (let x = 0; x < width; x += 4) {
    const v = v128.load(row + (<usize>x << 2));
    found = v128.or(found, f32x4.ne(v, v));
  }
  return v128.any_true(found) ? 1 : 0;
}

/** values[x] − less[x] where `where` has data, NaN where it has none. */
export function difference(values: usize, less: usize, where: usize, width: i32): void {
  const none = f32x4.splat(NaN);
  for (let x = 0; x < width; x += 4) {
    const at = <usize>x << 2;
    const w = v128.load(where + at);
    v128.store(values + at, v128.bitselect(f32x4.sub(v128.load(values + at), v128.load(less + at)), none, f32x4.eq(w, w)));
  }
}
