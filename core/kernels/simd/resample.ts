import { highest, lowest } from './lanes';

// Lanczos-3 resampling, one pixel's six rows at a time in lanes; see `../lanczos.ts`, whose plain TypeScript is the reference.

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

/** Eight weights (six, then zeros) at a fraction between two pixels. */
@inline
function weigh(table: usize, fraction: f64, out: usize): void {
  const at = fraction * STEPS;
  const s = min(STEPS - 1, Math.floor(at));
  const t = f32x4.splat(<f32>(at - s));
  const row = table + (<usize>s << 5);
  for (let k: usize = 0; k < 32; k += 16) {
    const w = v128.load(row + k);
    v128.store(out + k, f32x4.add(w, f32x4.mul(f32x4.sub(v128.load(row + k, 32), w), t)));
  }
}

/**
 * @param from source plane of `width` by `height`
 * @param table 2049 rows of eight weights
 * @param own 64 bytes of our own
 * @param xx ... map from an output pixel, counted from `out`'s own corner, to the source plane's
 */
export function resample(from: usize, width: i32, height: i32, table: usize, own: usize, xx: f64, xy: f64, tx: f64, yx: f64, yy: f64, ty: f64, out: usize, outWidth: i32, outHeight: i32): void {
  const wx = own;
  const wy = own + 32;
  const pitch = <usize>width << 2;
  for (let r = 0; r < outHeight; r++) {
    for (let c = 0; c < outWidth; c++) {
      const x = nearest((xx * <f64>c + xy * <f64>r + tx) * GRAIN) * PIXEL;
      const y = nearest((yx * <f64>c + yy * <f64>r + ty) * GRAIN) * PIXEL;
      const fx = Math.floor(x);
      const fy = Math.floor(y);
      const nx = Math.floor(x + 0.5);
      const ny = Math.floor(y + 0.5);
      let value: f32 = NaN;
      if (nx >= 0 && ny >= 0 && nx < <f64>width && ny < <f64>height) {
        const at = load<f32>(from + (<usize>(<i32>ny * width + <i32>nx) << 2));
        if (at == at) {
          weigh(table, x - fx, wx);
          weigh(table, y - fy, wy);
          const x0 = <i32>fx;
          const y0 = <i32>fy;
          const inside = x0 >= 2 && y0 >= 2 && x0 + 3 < width && y0 + 3 < height;
          value = inside ? whole(from + (<usize>((y0 - 2) * width + x0 - 2) << 2), pitch, wx, wy) : NaN;
          if (value != value) value = partial(from, width, height, x0, y0, wx, wy, at);
        }
      }
      store<f32>(out, value);
      out += 4;
    }
  }
}

/** All 36 pixels are inside; NaN where one of them is absent. */
@inline
function whole(at: usize, pitch: usize, wx: usize, wy: usize): f32 {
  // Columns 0 to 3 and 2 to 5: those that are there twice weigh nothing the second time.
  let left = v128.load(at);
  let right = v128.load(at, 8);
  let low = f32x4.pmin(left, right);
  let high = f32x4.pmax(left, right);
  let w = v128.load32_splat(wy);
  let sumLeft = f32x4.mul(w, left);
  let sumRight = f32x4.mul(w, right);
  for (let k: usize = 4; k < 24; k += 4) {
    at += pitch;
    left = v128.load(at);
    right = v128.load(at, 8);
    low = f32x4.pmin(low, f32x4.pmin(left, right));
    high = f32x4.pmax(high, f32x4.pmax(left, right));
    w = v128.load32_splat(wy + k);
    sumLeft = f32x4.add(sumLeft, f32x4.mul(w, left));
    sumRight = f32x4.add(sumRight, f32x4.mul(w, right));
  }
  const ends = v128.load64_zero(wx, 16);
  let sum = f32x4.mul(v128.load(wx), sumLeft);
  sum = f32x4.add(sum, f32x4.mul(v128.shuffle<f32>(ends, ends, 2, 3, 0, 1), sumRight));
  const two = f32x4.add(sum, v128.shuffle<f32>(sum, sum, 2, 3, 0, 1));
  const one = f32x4.extract_lane(two, 0) + f32x4.extract_lane(two, 1);
  return one != one ? one : min(highest(high), max(lowest(low), one));
}
