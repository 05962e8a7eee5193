// Lanczos-3 resampling, four pixels side by side in lanes; see `../lanczos.ts`, whose plain TypeScript is the reference.

const STEPS: f64 = 2048;
const GRAIN: f64 = 1048576;
const PIXEL: f64 = 1 / GRAIN;

/** Some of the 6x6 pixels are absent: those that are there, their weights brought back to 1. */
function partial(from: usize, width: i32, height: i32, x0: i32, y0: i32, wx: usize, wy: usize, nearest: f32): f32 {
  let sum: f64 = 0;
  let weight: f64 = 0;
  let low = nearest;
  let high = nearest;
  for (let k = 0; k < 6; k++) {
    const y = y0 - 2 + k;
    if (y < 0 || y >= height) continue;
    for (let j = 0; j < 6; j++) {
      const x = x0 - 2 + j;
      if (x < 0 || x >= width) continue;
      const v = load<f32>(from + (<usize>(y * width + x) << 2));
      if (v != v) continue;
      const w = <f64>load<f32>(wx + (<usize>j << 2)) * <f64>load<f32>(wy + (<usize>k << 2));
      sum += w * <f64>v;
      weight += w;
      if (v < low) low = v;
      if (v > high) high = v;
    }
  }
  // With most of the weight gone the rest would be blown up.
  return weight > 0.4 ? min(high, max(low, <f32>(sum / weight))) : nearest;
}

/** Eight weights (six, then zeros) from a row of the table and the next one. */
@inline
function between(row: usize, t: v128, out: usize): void {
  for (let k: usize = 0; k < 32; k += 16) {
    const w = v128.load(row + k);
    v128.store(out + k, f32x4.add(w, f32x4.mul(f32x4.sub(v128.load(row + k, 32), w), t)));
  }
}

/** Eight weights at a fraction between two pixels. */
function weigh(table: usize, fraction: f64, out: usize): void {
  const at = fraction * STEPS;
  const s = Math.floor(at);
  between(table + (<usize>s << 5), f32x4.splat(<f32>(at - s)), out);
}

/** Four weights from a row of the table and the next one. */
@inline
function firstFour(row: usize, t: v128): v128 {
  const w = v128.load(row);
  return f32x4.add(w, f32x4.mul(f32x4.sub(v128.load(row, 32), w), t));
}

/** The last two weights of two pixels. */
@inline
function lastTwo(row: usize, other: usize, t: v128): v128 {
  const w = v128.load64_lane(other + 16, v128.load64_zero(row + 16), 1);
  const next = v128.load64_lane(other + 48, v128.load64_zero(row + 48), 1);
  return f32x4.add(w, f32x4.mul(f32x4.sub(next, w), t));
}

/** The weights at four places counted in grains, as six vectors of four: eleven bits below the pixel's tell the row, nine more how far beyond it. */
@inline
function weighFour(table: usize, grains: v128, out: usize): void {
  const t = f32x4.mul(f32x4.convert_i32x4_s(v128.and(grains, i32x4.splat(511))), f32x4.splat(1 / 512));
  const rows = v128.and(i32x4.shr_u(grains, 4), i32x4.splat(2047 << 5));
  const first = table + <usize>i32x4.extract_lane(rows, 0);
  const second = table + <usize>i32x4.extract_lane(rows, 1);
  const third = table + <usize>i32x4.extract_lane(rows, 2);
  const fourth = table + <usize>i32x4.extract_lane(rows, 3);
  const a = firstFour(first, v128.shuffle<f32>(t, t, 0, 0, 0, 0));
  const b = firstFour(second, v128.shuffle<f32>(t, t, 1, 1, 1, 1));
  const c = firstFour(third, v128.shuffle<f32>(t, t, 2, 2, 2, 2));
  const d = firstFour(fourth, v128.shuffle<f32>(t, t, 3, 3, 3, 3));
  const lowAb = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
  const lowCd = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
  const highAb = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
  const highCd = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
  v128.store(out, v128.shuffle<f32>(lowAb, lowCd, 0, 1, 4, 5));
  v128.store(out, v128.shuffle<f32>(lowAb, lowCd, 2, 3, 6, 7), 16);
  v128.store(out, v128.shuffle<f32>(highAb, highCd, 0, 1, 4, 5), 32);
  v128.store(out, v128.shuffle<f32>(highAb, highCd, 2, 3, 6, 7), 48);
  const e = lastTwo(first, second, v128.shuffle<f32>(t, t, 0, 0, 1, 1));
  const f = lastTwo(third, fourth, v128.shuffle<f32>(t, t, 2, 2, 3, 3));
  v128.store(out, v128.shuffle<f32>(e, f, 0, 2, 4, 6), 64);
  v128.store(out, v128.shuffle<f32>(e, f, 1, 3, 5, 7), 80);
}

/** Two places by their columns, in grains: in the low words of what comes, since beside this sum a double has no room for a fraction. */
@inline
function placed(by: f64, columns: v128, add: f64, base: f64): v128 {
  const at = f64x2.add(f64x2.add(f64x2.mul(f64x2.splat(by), columns), f64x2.splat(add)), f64x2.splat(base));
  return f64x2.add(at, f64x2.splat(6755399441055744));
}

/** Where one pixel's weights, those of four, and the places of four in the source lie in the room of our own. */
const TO_Y: usize = 32;
const VECTORS_X: usize = 64;
const VECTORS_Y: usize = 160;
const PLACES: usize = 256;
const MADE: usize = 272;

/** The pixels at a distance from four places. */
@inline
function gathered(places: usize, off: usize): v128 {
  let v = v128.load32_zero(<usize>load<u32>(places) + off);
  v = v128.load32_lane(<usize>load<u32>(places, 4) + off, v, 1);
  v = v128.load32_lane(<usize>load<u32>(places, 8) + off, v, 2);
  return v128.load32_lane(<usize>load<u32>(places, 12) + off, v, 3);
}

/** The pixels at a distance from four places, which lie side by side or not. */
@inline
function at(places: usize, first: usize, off: usize, beside: bool): v128 {
  return beside ? v128.load(first + off) : gathered(places, off);
}

/** Four sums held to the least and the greatest of the 36 pixels that each is made of; NaN stays. */
function bounded(own: usize, pitch: usize, sum: v128): v128 {
  const places = own + PLACES;
  let low = gathered(places, 0);
  let high = low;
  for (let k = 0, off: usize = 0; k < 6; k++, off += pitch) {
    for (let j: usize = 0; j < 24; j += 4) {
      const v = gathered(places, off + j);
      low = f32x4.pmin(low, v);
      high = f32x4.pmax(high, v);
    }
  }
  return v128.bitselect(f32x4.pmin(f32x4.pmax(sum, low), high), sum, f32x4.eq(sum, sum));
}

/** {@link bounded} of four pixels side by side, which share the extremes of columns. */
function boundedBeside(first: usize, pitch: usize, sum: v128): v128 {
  let low = v128.load(first);
  let lowMiddle = v128.load(first, 16);
  let lowRight = v128.load(first, 20);
  let high = low;
  let highMiddle = lowMiddle;
  let highRight = lowRight;
  for (let k = 1; k < 6; k++) {
    first += pitch;
    const left = v128.load(first);
    const middle = v128.load(first, 16);
    const right = v128.load(first, 20);
    low = f32x4.pmin(low, left);
    high = f32x4.pmax(high, left);
    lowMiddle = f32x4.pmin(lowMiddle, middle);
    highMiddle = f32x4.pmax(highMiddle, middle);
    lowRight = f32x4.pmin(lowRight, right);
    highRight = f32x4.pmax(highRight, right);
  }
  // Pixel i is made of columns i to i + 5: of the nine, the first, the last and the four between, each moved on by one.
  const lowTwo = f32x4.pmin(v128.shuffle<f32>(low, lowMiddle, 1, 2, 3, 4), v128.shuffle<f32>(low, lowMiddle, 3, 4, 5, 6));
  const highTwo = f32x4.pmax(v128.shuffle<f32>(high, highMiddle, 1, 2, 3, 4), v128.shuffle<f32>(high, highMiddle, 3, 4, 5, 6));
  const lowThree = f32x4.pmin(lowTwo, v128.shuffle<f32>(low, lowMiddle, 2, 3, 4, 5));
  const highThree = f32x4.pmax(highTwo, v128.shuffle<f32>(high, highMiddle, 2, 3, 4, 5));
  const least = f32x4.pmin(f32x4.pmin(low, lowMiddle), f32x4.pmin(lowRight, lowThree));
  const most = f32x4.pmax(f32x4.pmax(high, highMiddle), f32x4.pmax(highRight, highThree));
  return v128.bitselect(f32x4.pmin(f32x4.pmax(sum, least), most), sum, f32x4.eq(sum, sum));
}

/**
 * Four pixels, all of whose 36 lie inside; NaN where one of them is absent.
 * @param beside whether the four lie side by side in the source, so that they are had by one load
 */
@inline
function four(own: usize, pitch: usize, beside: bool): v128 {
  const places = own + PLACES;
  const first = <usize>load<u32>(places);
  const a = v128.load(own, VECTORS_X);
  const b = v128.load(own, VECTORS_X + 16);
  const c = v128.load(own, VECTORS_X + 32);
  const d = v128.load(own, VECTORS_X + 48);
  const e = v128.load(own, VECTORS_X + 64);
  const f = v128.load(own, VECTORS_X + 80);
  let sum = f32x4.splat(0);
  let low = f32x4.splat(0);
  let high = low;
  for (let k: usize = 0, off: usize = 0; k < 96; k += 16, off += pitch) {
    const u = at(places, first, off, beside);
    const v = at(places, first, off + 4, beside);
    const w = at(places, first, off + 8, beside);
    const x = at(places, first, off + 12, beside);
    const y = at(places, first, off + 16, beside);
    const z = at(places, first, off + 20, beside);
    const left = f32x4.add(f32x4.mul(a, u), f32x4.mul(b, v));
    const middle = f32x4.add(f32x4.mul(c, w), f32x4.mul(d, x));
    const right = f32x4.add(f32x4.mul(e, y), f32x4.mul(f, z));
    const along = f32x4.add(f32x4.add(left, middle), right);
    sum = f32x4.add(sum, f32x4.mul(v128.load(own + k, VECTORS_Y), along));
    if (k === 32) {
      low = f32x4.pmin(f32x4.pmin(v, w), f32x4.pmin(x, y));
      high = f32x4.pmax(f32x4.pmax(v, w), f32x4.pmax(x, y));
    } else if (k === 48) {
      low = f32x4.pmin(low, f32x4.pmin(f32x4.pmin(v, w), f32x4.pmin(x, y)));
      high = f32x4.pmax(high, f32x4.pmax(f32x4.pmax(v, w), f32x4.pmax(x, y)));
    }
  }
  // What lies within the nearest eight lies within all: most do, and need not ask the others.
  const within = v128.and(f32x4.ge(sum, low), f32x4.le(sum, high));
  if (v128.all_true<i32>(within)) return sum;
  return beside ? boundedBeside(first, pitch, sum) : bounded(own, pitch, sum);
}

/** One pixel with its 36 not all there: at the border, or beside a hole. */
function alone(from: usize, width: i32, height: i32, table: usize, own: usize, x: f64, y: f64): f32 {
  const nx = Math.floor(x + 0.5);
  const ny = Math.floor(y + 0.5);
  if (!(nx >= 0 && ny >= 0 && nx < <f64>width && ny < <f64>height)) return NaN;
  const closest = load<f32>(from + (<usize>(<i32>ny * width + <i32>nx) << 2));
  if (closest != closest) return NaN;
  const fx = Math.floor(x);
  const fy = Math.floor(y);
  weigh(table, x - fx, own);
  weigh(table, y - fy, own + TO_Y);
  return partial(from, width, height, <i32>fx, <i32>fy, own, own + TO_Y, closest);
}

/**
 * @param from source plane of `width` by `height`, that of `out` no further than 2000 pixels from it
 * @param table 2049 rows of eight weights
 * @param own 512 bytes of our own
 * @param xx ... map from an output pixel, counted from `out`'s own corner, to the source plane's
 */
export function resample(from: usize, width: i32, height: i32, table: usize, own: usize, xx: f64, xy: f64, tx: f64, yx: f64, yy: f64, ty: f64, out: usize, outWidth: i32, outHeight: i32): void {
  const pitch = <usize>width << 2;
  const places = own + PLACES;
  for (let r = 0; r < outHeight; r++) {
    for (let c = 0; c < outWidth; c += 4) {
      const count = min(4, outWidth - c);
      // Beyond the row's end the last pixel is taken again.
      const last = <f64>(c + count - 1);
      const first = f64x2(<f64>c, Math.min(last, <f64>(c + 1)));
      const second = f64x2(Math.min(last, <f64>(c + 2)), Math.min(last, <f64>(c + 3)));
      const x01 = placed(xx * GRAIN, first, xy * <f64>r * GRAIN, tx * GRAIN);
      const x23 = placed(xx * GRAIN, second, xy * <f64>r * GRAIN, tx * GRAIN);
      const y01 = placed(yx * GRAIN, first, yy * <f64>r * GRAIN, ty * GRAIN);
      const y23 = placed(yx * GRAIN, second, yy * <f64>r * GRAIN, ty * GRAIN);
      const x = v128.shuffle<i32>(x01, x23, 0, 2, 4, 6);
      const y = v128.shuffle<i32>(y01, y23, 0, 2, 4, 6);
      const px = i32x4.shr_s(x, 20);
      const py = i32x4.shr_s(y, 20);
      const two = i32x4.splat(2);
      const across = v128.and(i32x4.ge_s(px, two), i32x4.lt_s(px, i32x4.splat(width - 3)));
      const up = v128.and(i32x4.ge_s(py, two), i32x4.lt_s(py, i32x4.splat(height - 3)));
      const there = i32x4.bitmask(v128.and(across, up));
      const cell = i32x4.add(i32x4.mul(i32x4.sub(py, two), i32x4.splat(width)), i32x4.sub(px, two));
      const place = i32x4.add(i32x4.splat(<i32>from), i32x4.shl(cell, 2));
      v128.store(places, place);
      let beside = v128.all_true<i32>(
        i32x4.eq(place, i32x4.add(i32x4.splat(i32x4.extract_lane(place, 0)), i32x4(0, 4, 8, 12))),
      );
      let made = f32x4.splat(NaN);
      if (there !== 0) {
        if (there !== 15) {
          beside = false;
          // A place for those that have none; what comes of it is not used.
          const safe = load<u32>(places + (<usize>ctz(there) << 2));
          for (let i = 0; i < 4; i++) if (!((there >> i) & 1)) store<u32>(places + (<usize>i << 2), safe);
        }
        weighFour(table, x, own + VECTORS_X);
        weighFour(table, y, own + VECTORS_Y);
        made = beside ? four(own, pitch, true) : four(own, pitch, false);
      }
      if (count === 4 && there === 15 && v128.all_true<i32>(f32x4.eq(made, made))) {
        v128.store(out, made);
        out += 16;
        continue;
      }
      v128.store(own + MADE, made);
      for (let i = 0; i < count; i++) {
        let value = load<f32>(own + MADE + (<usize>i << 2));
        if (!((there >> i) & 1) || value != value) {
          const column = <f64>(c + i);
          const x = nearest((xx * column + xy * <f64>r + tx) * GRAIN) * PIXEL;
          const y = nearest((yx * column + yy * <f64>r + ty) * GRAIN) * PIXEL;
          value = alone(from, width, height, table, own, x, y);
        }
        store<f32>(out, value);
        out += 4;
      }
    }
  }
}
