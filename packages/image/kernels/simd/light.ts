// The light of a star in a circle over the sky of a ring; see `photometer` in packages/algorithms/stars/photometry, whose arithmetic this is.

/** Parts of a pixel's side that tell how much of a pixel a circle covers. */
@inline const PARTS: i32 = 5;
/** From a pixel's middle to its corner. */
@inline const HALF_DIAGONAL: f64 = 0.7072;

/** The share of the pixel at (dx, dy) from the centre that lies within the radius. */
function covered(dx: f64, dy: f64, radius: f64): f64 {
  const d2 = dx * dx + dy * dy;
  const inner = radius - HALF_DIAGONAL;
  const outer = radius + HALF_DIAGONAL;
  if (inner > 0 && d2 <= inner * inner) return 1;
  if (d2 >= outer * outer) return 0;
  let n = 0;
  for (let j = 0; j < PARTS; j++) {
    const y = dy + (<f64>j + 0.5) / <f64>PARTS - 0.5;
    for (let i = 0; i < PARTS; i++) {
      const x = dx + (<f64>i + 0.5) / <f64>PARTS - 0.5;
      if (x * x + y * y <= radius * radius) n++;
    }
  }
  return <f64>n / <f64>(PARTS * PARTS);
}

@inline
function at(list: usize, i: i32): f64 {
  return <f64>load<f32>(list + (<usize>i << 2));
}

/**
 * Sorts floats in rising order, byte by byte from the lowest: it takes no branch that hangs on the values. None may be NaN.
 * @param spare room for as many
 * @param counts room for 4·256 counts of 4 bytes
 */
function sort(list: usize, n: i32, spare: usize, counts: usize): void {
  memory.fill(counts, 0, 4096);
  const end = list + (<usize>n << 2);
  for (let p = list; p < end; p += 4) {
    const bits = load<i32>(p);
    // Bits that stand in the order of the numbers.
    const key = bits ^ ((bits >> 31) | <i32>0x80000000);
    store<i32>(p, key);
    for (let byte = 0; byte < 4; byte++) {
      const c = counts + (<usize>byte << 10) + (<usize>((key >>> (byte << 3)) & 255) << 2);
      store<u32>(c, load<u32>(c) + 1);
    }
  }
  let from = list;
  let to = spare;
  for (let byte = 0; byte < 4; byte++) {
    const table = counts + (<usize>byte << 10);
    const shift = byte << 3;
    if (load<i32>(table + (<usize>((load<i32>(from) >>> shift) & 255) << 2)) === n) continue;
    let before = to;
    for (let c = table; c < table + 1024; c += 4) {
      const number = <usize>load<u32>(c);
      store<u32>(c, <u32>before);
      before += number << 2;
    }
    const last = from + (<usize>n << 2);
    for (let p = from; p < last; p += 4) {
      const key = load<i32>(p);
      const c = table + (<usize>((key >>> shift) & 255) << 2);
      const place = load<u32>(c);
      store<i32>(<usize>place, key);
      store<u32>(c, place + 4);
    }
    const other = from;
    from = to;
    to = other;
  }
  for (let i: usize = 0; i < <usize>n << 2; i += 4) {
    const key = load<i32>(from + i);
    store<i32>(list + i, key ^ (~(key >> 31) | <i32>0x80000000));
  }
}

/** The median of sorted floats from one place to before another. */
@inline
function middle(list: usize, from: i32, to: i32): f64 {
  const half = from + ((to - from) >> 1);
  return (to - from) & 1 ? at(list, half) : (at(list, half - 1) + at(list, half)) / 2;
}

/** The first place whose value is greater, or no smaller where `same` counts too. */
function bound(list: usize, from: i32, to: i32, value: f64, same: bool): i32 {
  let low = from;
  let high = to;
  while (low < high) {
    const mid = (low + high) >> 1;
    const v = at(list, mid);
    if (same ? v >= value : v > value) high = mid;
    else low = mid + 1;
  }
  return low;
}

/** Median distance from a centre, by walking outwards from it. */
function spread(list: usize, from: i32, to: i32, centre: f64): f64 {
  let above = bound(list, from, to, centre, true);
  let below = above - 1;
  const count = to - from;
  const half = (count - 1) >> 1;
  let last: f64 = 0;
  let before: f64 = 0;
  const steps = count & 1 ? half : half + 1;
  for (let n = 0; n <= steps; n++) {
    const up = above < to ? at(list, above) - centre : Infinity;
    const down = below >= from ? centre - at(list, below) : Infinity;
    before = last;
    if (up < down) above++;
    else below--;
    last = min<f64>(up, down);
  }
  return count & 1 ? last : (before + last) / 2;
}

/** Half of what a circle takes of a row at a distance from its middle; less than nought where it does not reach it. */
@inline
function along(square: f64, dy: f64): f64 {
  const rest = square - dy * dy;
  return rest < 0 ? -1 : Math.sqrt(rest);
}

/**
 * Sum and area of a circle.
 * @returns whether all of it has data
 */
function circle(band: usize, width: i32, height: i32, x: f64, y: f64, radius: f64, out: usize): bool {
  let sum: f64 = 0;
  let area: f64 = 0;
  const reach = radius + 1;
  for (let j = <i32>Math.ceil(y - reach); j <= <i32>Math.floor(y + reach); j++) {
    for (let i = <i32>Math.ceil(x - reach); i <= <i32>Math.floor(x + reach); i++) {
      const share = covered(<f64>i - x, <f64>j - y, radius);
      if (share === 0) continue;
      if (i < 0 || j < 0 || i >= width || j >= height) return false;
      const v = load<f32>(band + (<usize>(j * width + i) << 2));
      if (v !== v) return false;
      sum += share * <f64>v;
      area += share;
    }
  }
  store<f64>(out, sum);
  store<f64>(out, area, 8);
  return true;
}

/** Takes the pixels of a row between two columns that have data; returns where the next go. */
@inline
function take(row: usize, from: i32, to: i32, width: i32, into: usize): usize {
  let at = into;
  const last = min<i32>(to, width - 1);
  for (let i = max<i32>(0, from); i <= last; i++) {
    const v = load<f32>(row + (<usize>i << 2));
    store<f32>(at, v);
    at += v === v ? 4 : 0;
  }
  return at;
}

/**
 * The light in a circle and the sigma-clipped median of a ring, star by star.
 * @param band rows of a plane
 * @param places x and y of each star in the band, as doubles
 * @param kappa what is further from the ring's median than so many σ is left out, round by round
 * @param scratch room for 4·256 counts and twice as many floats as a square about the ring has pixels
 * @param out five doubles a star: sum and area of the circle, median and σ of the ring, pixels of the ring that have data; a star whose
 *   circle holds a pixel without data, or most of whose ring has none, has an area of 0
 */
export function light(
  band: usize,
  width: i32,
  height: i32,
  places: usize,
  count: i32,
  radius: f64,
  inner: f64,
  outer: f64,
  kappa: f64,
  scratch: usize,
  out: usize,
): void {
  const near = inner * inner;
  const far = outer * outer;
  const list = scratch + 4096;
  const side = <usize>Math.ceil(2 * outer + 2);
  const spare = list + ((side * side) << 2);
  for (let star = 0; star < count; star++) {
    const x = load<f64>(places + (<usize>star << 4));
    const y = load<f64>(places + (<usize>star << 4), 8);
    const to = out + <usize>star * 40;
    store<f64>(to, 0, 8);
    if (!circle(band, width, height, x, y, radius, to)) {
      store<f64>(to, 0, 8);
      continue;
    }
    let all = 0;
    let end = list;
    for (let j = <i32>Math.ceil(y - outer); j <= <i32>Math.floor(y + outer); j++) {
      const dy = <f64>j - y;
      const wide = along(far, dy);
      if (wide < 0) continue;
      const left = <i32>Math.ceil(x - wide);
      const right = <i32>Math.floor(x + wide);
      // Columns that lie within the inner circle; none where it does not reach the row.
      const hole = along(near, dy);
      let from = hole < 0 ? right + 1 : <i32>Math.floor(x - hole) + 1;
      let until = hole < 0 ? right + 1 : <i32>Math.ceil(x + hole);
      if (until < from) until = from;
      all += from - left + (right + 1 - until);
      if (j < 0 || j >= height) continue;
      const row = band + (<usize>(j * width) << 2);
      end = take(row, left, from - 1, width, end);
      end = take(row, until, right, width, end);
    }
    const n = <i32>((end - list) >> 2);
    if (n < 12 || 2 * n < all) {
      store<f64>(to, 0, 8);
      continue;
    }
    sort(list, n, spare, scratch);
    let first = 0;
    let last = n;
    let sigma: f64 = 0;
    for (let round = 0; round < 100; round++) {
      const centre = middle(list, first, last);
      sigma = 1.4826 * spread(list, first, last, centre);
      const low = bound(list, first, last, centre - kappa * sigma, true);
      const high = bound(list, first, last, centre + kappa * sigma, false);
      if (high - low === last - first) break;
      first = low;
      last = high;
    }
    store<f64>(to, middle(list, first, last), 16);
    store<f64>(to, sigma, 24);
    store<f64>(to, <f64>n, 32);
  }
}
