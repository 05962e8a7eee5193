/**
 * Float32 bits as a signed integer that sorts as the numbers do. Signed 32-bit arithmetic throughout: anything wider is many times
 * slower in the engines that run this.
 */
const ordered = (bits: number): number => bits ^ ((bits >> 31) & 0x7fffffff);

const scratchBits = new Int32Array(1);
const scratchFloat = new Float32Array(scratchBits.buffer);

function toFloat(key: number): number {
  scratchBits[0] = ordered(key);
  return scratchFloat[0];
}

/** Keeps values from `low` to `high`, both counted in, and only those that a mask keeps; NaN is never counted. */
export interface Within {
  readonly low?: number;
  readonly high?: number;
  /** 1 where a value counts, one for each. */
  readonly mask?: Uint8Array;
}

/** From this many values on, a sample shows where to look first. */
const MANY = 200_000;
const SAMPLE = 32_768;
/** Below this many values sorting them is the quickest. */
const FEW = 20_000;

/**
 * One exact quantile in a single pass: a sorted sample gives a bracket that almost surely holds it, the pass counts what lies below the
 * bracket and keeps what lies inside.
 * @returns undefined where the bracket missed or the values are too much alike for one to be small
 */
function bracketed(
  values: Float32Array,
  q: number,
  low: number,
  high: number,
  mask: Uint8Array | undefined,
): number | undefined {
  const stride = Math.floor(values.length / SAMPLE);
  const sample = new Float32Array(SAMPLE);
  let m = 0;
  for (let i = 0; i < SAMPLE; i++) {
    // A scattered step keeps the sample out of the columns of the picture.
    const k = i * stride + ((Math.imul(i, 40503) & 0xffff) % stride);
    const v = values[k];
    if (v >= low && v <= high && !(mask && mask[k] === 0)) sample[m++] = v;
  }
  if (m < 4096) return undefined;
  const sorted = sample.subarray(0, m).sort();
  const middle = q * (m - 1);
  const slack = Math.ceil(4.5 * Math.sqrt(m * q * (1 - q))) + 8;
  const from = Math.floor(middle) - slack;
  const to = Math.ceil(middle) + slack;
  const lowest = from < 0 ? low : Math.max(low, sorted[from]);
  const highest = to >= m ? high : Math.min(high, sorted[to]);
  const kept = new Float32Array(Math.ceil(values.length * 0.1));
  let n = 0;
  let below = 0;
  let count = 0;
  for (let i = 0; i < values.length; i++) {
    const v = values[i];
    if (!(v >= low && v <= high) || (mask && mask[i] === 0)) continue;
    n++;
    if (v < lowest) below++;
    else if (v <= highest) {
      if (count === kept.length) return undefined;
      kept[count++] = v;
    }
  }
  const rank = q * (n - 1);
  const first = Math.floor(rank) - below;
  const second = Math.ceil(rank) - below;
  if (first < 0 || second >= count) return undefined;
  const inside = kept.subarray(0, count).sort();
  return inside[first] + (inside[second] - inside[first]) * (rank - Math.floor(rank));
}

/**
 * Exact quantiles, whatever the number of values.
 * A rank between two values is interpolated, so that the median of an even count is the mean of the middle two.
 * @param at quantiles, each 0 to 1
 * @returns NaN for each where no value counts
 */
export function quantiles(values: Float32Array, at: readonly number[], within: Within = {}): number[] {
  const low = within.low ?? Number.NEGATIVE_INFINITY;
  const high = within.high ?? Number.POSITIVE_INFINITY;
  const { mask } = within;
  if (values.length < FEW) return bySorting(values, at, low, high, mask);
  if (values.length < MANY) return byBits(values, at, low, high, mask);
  return at.map((q) => bracketed(values, q, low, high, mask) ?? byBits(values, [q], low, high, mask)[0]);
}

function bySorting(
  values: Float32Array,
  at: readonly number[],
  low: number,
  high: number,
  mask: Uint8Array | undefined,
): number[] {
  const sorted = values.filter((v, i) => v >= low && v <= high && !(mask && mask[i] === 0)).sort();
  if (sorted.length === 0) return at.map(() => Number.NaN);
  return at.map((q) => {
    const rank = Math.min(1, Math.max(0, q)) * (sorted.length - 1);
    const first = sorted[Math.floor(rank)];
    return first + (sorted[Math.ceil(rank)] - first) * (rank - Math.floor(rank));
  });
}

/** Exact quantiles in two passes: by the upper, then the lower half of the float's bits. */
function byBits(
  values: Float32Array,
  at: readonly number[],
  low: number,
  high: number,
  mask: Uint8Array | undefined,
): number[] {
  const bits = new Int32Array(values.buffer, values.byteOffset, values.length);
  const upper = new Uint32Array(65536);
  let count = 0;
  for (let i = 0; i < values.length; i++) {
    const v = values[i];
    if (!(v >= low && v <= high) || (mask && mask[i] === 0)) continue;
    upper[(ordered(bits[i]) >> 16) + 32768]++;
    count++;
  }
  if (count === 0) return at.map(() => Number.NaN);

  const ranks = at.flatMap((q) => {
    const rank = Math.min(1, Math.max(0, q)) * (count - 1);
    return [Math.floor(rank), Math.ceil(rank)];
  });
  const bins = ranks.map((rank) => locate(upper, rank));
  const slots = new Map([...new Set(bins.map((b) => b.bin))].map((bin, i) => [bin, i]));
  const slotOf = new Int8Array(65536).fill(-1);
  for (const [bin, slot] of slots) slotOf[bin] = slot;
  const lower = Array.from(slots, () => new Uint32Array(65536));
  for (let i = 0; i < values.length; i++) {
    const v = values[i];
    if (!(v >= low && v <= high) || (mask && mask[i] === 0)) continue;
    const key = ordered(bits[i]);
    const slot = slotOf[(key >> 16) + 32768];
    if (slot >= 0) lower[slot][key & 0xffff]++;
  }
  const exact = bins.map(({ bin, rest }) => {
    const inner = locate(lower[slots.get(bin) ?? 0], rest);
    return toFloat(((bin - 32768) << 16) | inner.bin);
  });
  return at.map((q, i) => {
    const rank = Math.min(1, Math.max(0, q)) * (count - 1);
    const t = rank - Math.floor(rank);
    const [a, b] = [exact[2 * i], exact[2 * i + 1]];
    return t === 0 ? a : a + (b - a) * t;
  });
}

function locate(counts: Uint32Array, rank: number): { bin: number; rest: number } {
  let before = 0;
  for (let bin = 0; bin < counts.length; bin++) {
    if (before + counts[bin] > rank) return { bin, rest: rank - before };
    before += counts[bin];
  }
  return { bin: counts.length - 1, rest: 0 };
}

/** The exact median; NaN where no value counts. */
export const median = (values: Float32Array, within: Within = {}): number => quantiles(values, [0.5], within)[0];
