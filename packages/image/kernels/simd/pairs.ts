import { counted, summed, upper } from './lanes';

// Two planes pixel by pixel: which pairs count, and sums over those near a line.

/**
 * Takes out, as NaN, the pixels of one plane that do not count in a pair: where either has none, or lies outside its range.
 * @param ranges least and greatest of the first, then of the second
 * @returns how many count
 */
export function pairs(first: usize, second: usize, n: i32, ranges: usize): i32 {
  const lowA = v128.load32_splat(ranges);
  const highA = v128.load32_splat(ranges, 4);
  const lowB = v128.load32_splat(ranges, 8);
  const highB = v128.load32_splat(ranges, 12);
  const none = f32x4.splat(f32.NaN);
  let there = i32x4.splat(0);
  let i = 0;
  for (; i + 4 <= n; i += 4) {
    const at = <usize>i << 2;
    const a = v128.load(first + at);
    const b = v128.load(second + at);
    const is = v128.and(v128.and(f32x4.ge(a, lowA), f32x4.le(a, highA)), v128.and(f32x4.ge(b, lowB), f32x4.le(b, highB)));
    v128.store(first + at, v128.bitselect(a, none, is));
    v128.store(second + at, v128.bitselect(b, none, is));
    there = i32x4.sub(there, is);
  }
  let number = counted(there);
  for (; i < n; i++) {
    const at = <usize>i << 2;
    const a = load<f32>(first + at);
    const b = load<f32>(second + at);
    if (a >= load<f32>(ranges) && a <= load<f32>(ranges, 4) && b >= load<f32>(ranges, 8) && b <= load<f32>(ranges, 12)) {
      number++;
      continue;
    }
    store<f32>(first + at, f32.NaN);
    store<f32>(second + at, f32.NaN);
  }
  return number;
}

/**
 * Sums over the pairs near a line, about an origin: number, x, y, xx, xy, yy as six doubles. A pair counts where
 * (y − a − b·x − centre)² ≤ reach² + widening·x².
 * @param line x and y of the origin, a, b, centre, reach², widening as seven floats
 */
export function near(first: usize, second: usize, n: i32, line: usize, sums: usize): void {
  const ox = v128.load32_splat(line);
  const oy = v128.load32_splat(line, 4);
  const a = f32x4.add(v128.load32_splat(line, 8), v128.load32_splat(line, 16));
  const b = v128.load32_splat(line, 12);
  const reach = v128.load32_splat(line, 20);
  const widening = v128.load32_splat(line, 24);
  let sx = f64x2.splat(0);
  let sy = f64x2.splat(0);
  let sxx = f64x2.splat(0);
  let sxy = f64x2.splat(0);
  let syy = f64x2.splat(0);
  let there = i32x4.splat(0);
  let i = 0;
  for (; i + 4 <= n; i += 4) {
    const at = <usize>i << 2;
    const x = f32x4.sub(v128.load(first + at), ox);
    const y = f32x4.sub(v128.load(second + at), oy);
    const r = f32x4.sub(f32x4.sub(y, a), f32x4.mul(b, x));
    const is = f32x4.le(f32x4.mul(r, r), f32x4.add(reach, f32x4.mul(widening, f32x4.mul(x, x))));
    if (!v128.any_true(is)) continue;
    there = i32x4.sub(there, is);
    const hx = v128.and(x, is);
    const hy = v128.and(y, is);
    const x0 = f64x2.promote_low_f32x4(hx);
    const y0 = f64x2.promote_low_f32x4(hy);
    const x1 = upper(hx);
    const y1 = upper(hy);
    sx = f64x2.add(sx, f64x2.add(x0, x1));
    sy = f64x2.add(sy, f64x2.add(y0, y1));
    sxx = f64x2.add(sxx, f64x2.add(f64x2.mul(x0, x0), f64x2.mul(x1, x1)));
    sxy = f64x2.add(sxy, f64x2.add(f64x2.mul(x0, y0), f64x2.mul(x1, y1)));
    syy = f64x2.add(syy, f64x2.add(f64x2.mul(y0, y0), f64x2.mul(y1, y1)));
  }
  let number = counted(there);
  let tx = summed(sx);
  let ty = summed(sy);
  let txx = summed(sxx);
  let txy = summed(sxy);
  let tyy = summed(syy);
  for (; i < n; i++) {
    const at = <usize>i << 2;
    const x = load<f32>(first + at) - load<f32>(line);
    const y = load<f32>(second + at) - load<f32>(line, 4);
    const r = y - load<f32>(line, 8) - load<f32>(line, 16) - load<f32>(line, 12) * x;
    if (!(r * r <= load<f32>(line, 20) + load<f32>(line, 24) * x * x)) continue;
    number++;
    tx += <f64>x;
    ty += <f64>y;
    txx += <f64>x * <f64>x;
    txy += <f64>x * <f64>y;
    tyy += <f64>y * <f64>y;
  }
  store<f64>(sums, load<f64>(sums) + <f64>number);
  store<f64>(sums, load<f64>(sums, 8) + tx, 8);
  store<f64>(sums, load<f64>(sums, 16) + ty, 16);
  store<f64>(sums, load<f64>(sums, 24) + txx, 24);
  store<f64>(sums, load<f64>(sums, 32) + txy, 32);
  store<f64>(sums, load<f64>(sums, 40) + tyy, 40);
}
