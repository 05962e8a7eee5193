// Stored numbers of FITS files to pixels and back. Rooms may be read and written up to 32 bytes beyond their end.

@inline
function swapped(v: v128): v128 {
  return i8x16.swizzle(v, i8x16(3, 2, 1, 0, 7, 6, 5, 4, 11, 10, 9, 8, 15, 14, 13, 12));
}

/** Big-endian floats over a divisor; what is not finite is no data. */
export function fromFloats(from: usize, n: i32, divisor: f32, out: usize): void {
  const by = f32x4.splat(divisor);
  const none = f32x4.splat(f32.NaN);
  const nought = f32x4.splat(0);
  for (let i = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const v = swapped(v128.load(from + at));
    // What is less itself is nought only where it is finite.
    const finite = f32x4.eq(f32x4.sub(v, v), nought);
    v128.store(out + at, v128.bitselect(f32x4.div(v, by), none, finite));
  }
}

@inline
function scaled(v: v128, zero: v128, blank: v128, hasBlank: v128, by: v128): v128 {
  const isBlank = v128.and(i32x4.eq(v, blank), hasBlank);
  const q = f32x4.div(f32x4.convert_i32x4_s(i32x4.add(v, zero)), by);
  return v128.bitselect(f32x4.splat(f32.NaN), q, isBlank);
}

/** Big-endian 16-bit integers plus a zero, over a divisor; a stored blank is no data. */
export function fromShorts(from: usize, n: i32, zero: i32, blank: i32, hasBlank: i32, divisor: f32, out: usize): void {
  const by = f32x4.splat(divisor);
  const z = i32x4.splat(zero);
  const b = i32x4.splat(blank);
  const is = i32x4.splat(hasBlank ? -1 : 0);
  for (let i = 0; i < n; i += 8) {
    const v = i8x16.swizzle(v128.load(from + (<usize>i << 1)), i8x16(1, 0, 3, 2, 5, 4, 7, 6, 9, 8, 11, 10, 13, 12, 15, 14));
    v128.store(out + (<usize>i << 2), scaled(i32x4.extend_low_i16x8_s(v), z, b, is, by));
    v128.store(out + (<usize>i << 2), scaled(i32x4.extend_high_i16x8_s(v), z, b, is, by), 16);
  }
}

/** Unsigned bytes plus a zero, over a divisor; a stored blank is no data. */
export function fromBytes(from: usize, n: i32, zero: i32, blank: i32, hasBlank: i32, divisor: f32, out: usize): void {
  const by = f32x4.splat(divisor);
  const z = i32x4.splat(zero);
  const b = i32x4.splat(blank);
  const is = i32x4.splat(hasBlank ? -1 : 0);
  for (let i = 0; i < n; i += 8) {
    const v = i16x8.extend_low_i8x16_u(v128.load64_zero(from + <usize>i));
    v128.store(out + (<usize>i << 2), scaled(i32x4.extend_low_i16x8_s(v), z, b, is, by));
    v128.store(out + (<usize>i << 2), scaled(i32x4.extend_high_i16x8_s(v), z, b, is, by), 16);
  }
}

/**
 * Floats to big-endian bytes.
 * @returns the sum of the words as they are written, which FITS checksums are made of
 */
export function toFloats(from: usize, n: i32, out: usize): u64 {
  let low = i64x2.splat(0);
  let i = 0;
  for (; i + 4 <= n; i += 4) {
    const at = <usize>i << 2;
    const v = v128.load(from + at);
    low = i64x2.add(low, i64x2.add(i64x2.extend_low_i32x4_u(v), i64x2.extend_high_i32x4_u(v)));
    v128.store(out + at, swapped(v));
  }
  let sum = <u64>i64x2.extract_lane(low, 0) + <u64>i64x2.extract_lane(low, 1);
  for (; i < n; i++) {
    const at = <usize>i << 2;
    const word = load<u32>(from + at);
    sum += <u64>word;
    store<u32>(out + at, bswap<u32>(word));
  }
  return sum;
}

/** The next level of two rows: each pixel the mean of the up to four that are there. */
export function halve(lower: usize, upper: usize, n: i32, out: usize): void {
  const half = n >> 1;
  const nought = f32x4.splat(0);
  const one = f32x4.splat(1);
  for (let i = 0; i < half; i += 4) {
    const at = <usize>i << 3;
    const a = v128.load(lower + at);
    const b = v128.load(lower + at, 16);
    const c = v128.load(upper + at);
    const d = v128.load(upper + at, 16);
    const sum = f32x4.add(a, c);
    const next = f32x4.add(b, d);
    const total = f32x4.add(
      i8x16.shuffle(sum, next, 0, 1, 2, 3, 8, 9, 10, 11, 16, 17, 18, 19, 24, 25, 26, 27),
      i8x16.shuffle(sum, next, 4, 5, 6, 7, 12, 13, 14, 15, 20, 21, 22, 23, 28, 29, 30, 31),
    );
    if (!v128.any_true(f32x4.ne(total, total))) {
      v128.store(out + (<usize>i << 2), f32x4.mul(total, f32x4.splat(0.25)));
      continue;
    }
    // With holes: sums and numbers of what is there.
    const ia = f32x4.eq(a, a);
    const ib = f32x4.eq(b, b);
    const ic = f32x4.eq(c, c);
    const id = f32x4.eq(d, d);
    const s = f32x4.add(v128.bitselect(a, nought, ia), v128.bitselect(c, nought, ic));
    const t = f32x4.add(v128.bitselect(b, nought, ib), v128.bitselect(d, nought, id));
    const m = f32x4.add(v128.and(one, ia), v128.and(one, ic));
    const o = f32x4.add(v128.and(one, ib), v128.and(one, id));
    const held = f32x4.add(
      i8x16.shuffle(s, t, 0, 1, 2, 3, 8, 9, 10, 11, 16, 17, 18, 19, 24, 25, 26, 27),
      i8x16.shuffle(s, t, 4, 5, 6, 7, 12, 13, 14, 15, 20, 21, 22, 23, 28, 29, 30, 31),
    );
    const number = f32x4.add(
      i8x16.shuffle(m, o, 0, 1, 2, 3, 8, 9, 10, 11, 16, 17, 18, 19, 24, 25, 26, 27),
      i8x16.shuffle(m, o, 4, 5, 6, 7, 12, 13, 14, 15, 20, 21, 22, 23, 28, 29, 30, 31),
    );
    // Nought over nought is no data.
    v128.store(out + (<usize>i << 2), f32x4.div(held, number));
  }
}
