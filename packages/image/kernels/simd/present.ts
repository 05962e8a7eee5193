import { counted, highest } from './lanes';

/** How many pixels have data. */
export function present(from: usize, n: i32): i32 {
  return atLeast(from, n, -f32.MAX_VALUE);
}

/** The greatest pixel; −∞ where none has data. */
export function greatest(from: usize, n: i32): f32 {
  let most = f32x4.splat(-Infinity);
  let i = 0;
  // A maximum that is asked for as "less than" passes by what is not a number.
  for (; i + 4 <= n; i += 4) most = f32x4.pmax(most, v128.load(from + (<usize>i << 2)));
  let max = highest(most);
  for (; i < n; i++) {
    const v = load<f32>(from + (<usize>i << 2));
    if (v > max) max = v;
  }
  return max;
}

/** How many pixels are no smaller than a value. */
export function atLeast(from: usize, n: i32, least: f32): i32 {
  const low = f32x4.splat(least);
  let there = i32x4.splat(0);
  let i = 0;
  for (; i + 4 <= n; i += 4) there = i32x4.sub(there, f32x4.ge(v128.load(from + (<usize>i << 2)), low));
  let count = counted(there);
  for (; i < n; i++) if (load<f32>(from + (<usize>i << 2)) >= least) count++;
  return count;
}
