// Means of square cells and the cubic surface through them; see `../cells.ts`, whose plain TypeScript is the reference.

/** Adds what is there of a row to the sums of its columns, and 1 to their counts. */
export function gather(row: usize, width: i32, sums: usize, counts: usize): void {
  const one = f32x4.splat(1);
  for (let x = 0; x < width; x += 4) {
    const at = <usize>x << 2;
    const v = v128.load(row + at);
    const there = f32x4.eq(v, v);
    v128.store(sums + at, f32x4.add(v128.load(sums + at), v128.and(v, there)));
    v128.store(counts + at, f32x4.add(v128.load(counts + at), v128.and(one, there)));
  }
}

/**
 * Means of cells of n columns from the columns' sums and counts, which become 0 again.
 * @param lead pixels of the first cell that lie before the first column
 */
export function means(sums: usize, counts: usize, width: i32, n: i32, lead: i32, out: usize): void {
  for (let x = -lead; x < width; x += n) {
    let sum: f32 = 0;
    let count: f32 = 0;
    for (let c = max(0, x), end = min(width, x + n); c < end; c++) {
      const at = <usize>c << 2;
      sum += load<f32>(sums + at);
      count += load<f32>(counts + at);
      store<f32>(sums + at, 0);
      store<f32>(counts + at, 0);
    }
    store<f32>(out, count > 0 ? sum / count : NaN);
    out += 4;
  }
}

/**
 * One row of a cubic surface: out[gap·n + i] = Σ weights[k·padded + i] · row[gap + k], `n` pixels a gap.
 * @param weights four rows of n, each padded to a multiple of four
 * @param out room for `gaps` times n pixels and three more
 */
export function cubicRow(row: usize, weights: usize, n: i32, gaps: i32, out: usize): void {
  const side = <usize>((n + 3) & ~3) << 2;
  for (let g = 0; g < gaps; g++, row += 4, out += <usize>n << 2) {
    const a = v128.load32_splat(row);
    const b = v128.load32_splat(row, 4);
    const c = v128.load32_splat(row, 8);
    const d = v128.load32_splat(row, 12);
    // What is written beyond the gap's end is written over by the next one.
    for (let at: usize = 0; at < side; at += 16) {
      const w = weights + at;
      const first = f32x4.add(f32x4.mul(a, v128.load(w)), f32x4.mul(b, v128.load(w + side)));
      const second = f32x4.add(f32x4.mul(c, v128.load(w + 2 * side)), f32x4.mul(d, v128.load(w + 3 * side)));
      v128.store(out + at, f32x4.add(first, second));
    }
  }
}

/**
 * One row spread over cells of n pixels, each pixel into the cell before its own, its own and the one after; see `../spread.ts`.
 * @param lead place of the first pixel within its cell
 * @param weights n for the cell before, n for the own, n for the one after
 * @param out `cells` sums, set to 0 first; the first pixel's own cell is the second
 */
export function spread(row: usize, width: i32, lead: i32, n: i32, weights: usize, out: usize, cells: i32): void {
  for (let c = 0; c < cells; c++) store<f32>(out + (<usize>c << 2), 0);
  let x = 0;
  let p = lead;
  let to = out + 4;
  const side = <usize>n << 2;
  while (x < width) {
    let a: f32 = 0;
    let b: f32 = 0;
    let c: f32 = 0;
    const end = min(width, x + n - p);
    let w = weights + (<usize>p << 2);
    for (; x < end; x++) {
      const v = load<f32>(row + (<usize>x << 2));
      a += load<f32>(w) * v;
      b += load<f32>(w + side) * v;
      c += load<f32>(w + 2 * side) * v;
      w += 4;
    }
    p = 0;
    store<f32>(to - 4, load<f32>(to - 4) + a);
    store<f32>(to, load<f32>(to) + b);
    store<f32>(to, load<f32>(to, 4) + c, 4);
    to += 4;
  }
}
