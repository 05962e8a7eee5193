import { summed } from './lanes';

// The moments of a star; see `shapeOf` in packages/algorithms/stars/shape, whose constants these are.

/** Half the side of the square that is looked at. */
@inline const BOX: i32 = 8;
@inline const SIDE: i32 = 17;
/** A row of doubles, one more than the square is wide, so that pairs fill it. */
@inline const ROW: usize = 144;
@inline const NARROWEST: f64 = 1.6;

/**
 * Fills a row of weights exp(−(i − c)² / 2v) for i from `first` to `last`, nought in the odd one out at either end.
 * A Gaussian's next value is the one before times a factor that itself falls by a constant factor.
 */
@inline
function weights(row: usize, first: i32, last: i32, c: f64, variance: f64): void {
  const per = 0.5 / variance;
  const d = <f64>first - c;
  let weight = Math.exp(-per * d * d);
  let factor = Math.exp(-per * (2.0 * d + 1.0));
  const falls = Math.exp(-2.0 * per);
  if (first & 1) store<f64>(row + (<usize>(first - 1) << 3), 0);
  for (let i = first; i <= last; i++) {
    store<f64>(row + (<usize>i << 3), weight);
    weight *= factor;
    factor *= falls;
  }
  if (!(last & 1)) store<f64>(row + (<usize>(last + 1) << 3), 0);
}

@inline
function own(m: f64, variance: f64): f64 {
  return (m * variance) / max<f64>(0.05 * variance, variance - m);
}

/**
 * Centre and widths by moments under a round Gaussian weight that is fitted to each star round by round.
 * @param band rows of a plane
 * @param peaks column and row of each peak in the band and the level about it, as doubles
 * @param scratch 19·18 doubles
 * @param out four doubles a star: x and y from the peak, σ along the longer and the shorter axis; the latter is below nought where there is
 *   nothing of a star's shape
 */
export function shapes(
  band: usize,
  width: i32,
  height: i32,
  peaks: usize,
  count: i32,
  scratch: usize,
  out: usize,
): void {
  for (let k = 0; k < count; k++) {
    const peak = peaks + <usize>k * 24;
    const to = out + (<usize>k << 5);
    const x = <i32>load<f64>(peak) - BOX;
    const y = <i32>load<f64>(peak, 8) - BOX;
    const base = load<f64>(peak, 16);
    for (let j = 0; j < SIDE; j++) {
      const row = scratch + <usize>j * ROW;
      const from = band + (<usize>((y + j) * width + x) << 2);
      const there = y + j >= 0 && y + j < height;
      for (let i = 0; i < SIDE; i++) {
        let v: f64 = 0;
        if (there && x + i >= 0 && x + i < width) {
          const pixel = load<f32>(from + (<usize>i << 2));
          if (pixel === pixel) v = <f64>pixel - base;
        }
        store<f64>(row + (<usize>i << 3), v);
      }
      store<f64>(row, 0, 136);
    }
    if (!shape(scratch, to)) store<f64>(to, -1, 24);
  }
}

/** The moments of one square of doubles; whether they are a star's. */
function shape(scratch: usize, out: usize): bool {
  const across = scratch + 17 * ROW;
  const up = across + ROW;
  let cx: f64 = BOX;
  let cy: f64 = BOX;
  let variance: f64 = 2;
  let found = false;
  for (let round = 0; round < 24; round++) {
    const reach = 3.3 * Math.sqrt(variance);
    const left = max<i32>(0, <i32>Math.ceil(cx - reach));
    const right = min<i32>(SIDE - 1, <i32>Math.floor(cx + reach));
    const foot = max<i32>(0, <i32>Math.ceil(cy - reach));
    const head = min<i32>(SIDE - 1, <i32>Math.floor(cy + reach));
    weights(across, left, right, cx, variance);
    weights(up, foot, head, cy, variance);
    const begin = left & ~1;
    const start = f64x2.add(f64x2.splat(<f64>begin - cx), f64x2(0, 1));
    let w0: f64 = 0;
    let wx: f64 = 0;
    let wy: f64 = 0;
    let xx: f64 = 0;
    let yy: f64 = 0;
    let xy: f64 = 0;
    for (let j = foot; j <= head; j++) {
      const row = scratch + <usize>j * ROW;
      let r0 = f64x2.splat(0);
      let r1 = f64x2.splat(0);
      let r2 = f64x2.splat(0);
      let dx = start;
      for (let i = begin; i <= right; i += 2) {
        const at = <usize>i << 3;
        const weight = f64x2.mul(v128.load(row + at), v128.load(across + at));
        const first = f64x2.mul(weight, dx);
        r0 = f64x2.add(r0, weight);
        r1 = f64x2.add(r1, first);
        r2 = f64x2.add(r2, f64x2.mul(first, dx));
        dx = f64x2.add(dx, f64x2.splat(2));
      }
      const dy = <f64>j - cy;
      const u = load<f64>(up + (<usize>j << 3));
      const s0 = u * summed(r0);
      const s1 = u * summed(r1);
      w0 += s0;
      wx += s1;
      wy += s0 * dy;
      xx += u * summed(r2);
      yy += s0 * dy * dy;
      xy += s1 * dy;
    }
    if (!(w0 > 0)) return false;
    const mx = wx / w0;
    const my = wy / w0;
    cx += 1.6 * mx;
    cy += 1.6 * my;
    if (Math.sqrt((cx - BOX) * (cx - BOX) + (cy - BOX) * (cy - BOX)) > 3) return false;
    const a = xx / w0 - mx * mx;
    const b = yy / w0 - my * my;
    const c = xy / w0 - mx * my;
    const mean = (a + b) / 2;
    const half = Math.sqrt(((a - b) / 2) * ((a - b) / 2) + c * c);
    if (!(mean > 0.02) || !(mean < 0.93 * variance)) {
      variance *= 2;
      if (variance > BOX * BOX) return false;
      continue;
    }
    store<f64>(out, cx - BOX);
    store<f64>(out, cy - BOX, 8);
    store<f64>(out, Math.sqrt(own(min<f64>(mean + half, 0.95 * variance), variance)), 16);
    store<f64>(out, Math.sqrt(max<f64>(0, own(max<f64>(0, mean - half), variance))), 24);
    found = true;
    const next = min<f64>((BOX * BOX) / 2, max<f64>(NARROWEST, own(mean, variance)));
    if (Math.abs(next - variance) < 4e-3 * variance && Math.sqrt(mx * mx + my * my) < 2e-3) break;
    variance = next;
  }
  return found;
}
