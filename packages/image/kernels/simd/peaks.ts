/**
 * Fills a row between the pixels of one that is four times as coarse, with straight lines from middle to middle.
 * @param coarse the coarse row with its ends doubled, count + 2 floats
 * @param out room for 4·count + 4 floats, the first two of which lie before the row
 */
export function between(coarse: usize, count: i32, out: usize): void {
  const parts = f32x4(0.125, 0.375, 0.625, 0.875);
  for (let c = 0; c <= count; c++) {
    const at = coarse + (<usize>c << 2);
    const from = v128.load32_splat(at);
    const rise = f32x4.sub(v128.load32_splat(at, 4), from);
    v128.store(out + (<usize>c << 4), f32x4.add(from, f32x4.mul(rise, parts)));
  }
}

/**
 * Finds the pixels of a row that stand above a background by more than a threshold and above their eight neighbours; of equal ones the
 * first in reading order is taken.
 * @param below rows are 4·n bytes each, pixels −1 and n may be read
 * @param out room for n whole numbers
 * @returns how many were found
 */
export function peaks(below: usize, row: usize, above: usize, ground: usize, n: i32, threshold: f32, out: usize): i32 {
  const t = f32x4.splat(threshold);
  let to = out;
  for (let i = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const c = v128.load(row + at);
    let is = f32x4.gt(f32x4.sub(c, v128.load(ground + at)), t);
    if (!v128.any_true(is)) continue;
    is = v128.and(is, f32x4.gt(c, v128.load(row + at - 4)));
    is = v128.and(is, f32x4.ge(c, v128.load(row + at, 4)));
    is = v128.and(is, f32x4.gt(c, v128.load(below + at - 4)));
    is = v128.and(is, f32x4.gt(c, v128.load(below + at)));
    is = v128.and(is, f32x4.gt(c, v128.load(below + at, 4)));
    is = v128.and(is, f32x4.ge(c, v128.load(above + at - 4)));
    is = v128.and(is, f32x4.ge(c, v128.load(above + at)));
    is = v128.and(is, f32x4.ge(c, v128.load(above + at, 4)));
    const mask = i32x4.bitmask(is);
    for (let k = 0; k < 4; k++) {
      if (!(mask & (1 << k)) || i + k >= n) continue;
      store<i32>(to, i + k);
      to += 4;
    }
  }
  return <i32>((to - out) >> 2);
}
