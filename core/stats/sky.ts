import { median } from './quantile';

/** A sky level with the spread of the pixels that made it. */
export interface Sky {
  readonly sky: number;
  /** 1.4826 × MAD of the pixels kept, in the image's units. */
  readonly sigma: number;
  /** Pixels kept. */
  readonly used: number;
}

/** Bins of the histogram: fewer where there are few pixels, since every round of clipping walks through all of them. */
const binsFor = (pixels: number): number => 2 ** Math.min(16, Math.max(11, Math.ceil(Math.log2(pixels)) - 1));

const KAPPA = 3;

interface Histogram {
  readonly counts: Uint32Array;
  readonly low: number;
  readonly width: number;
}

function histogram(values: Float32Array, low: number, high: number, mask: Uint8Array | undefined): Histogram {
  const bins = binsFor(values.length);
  const counts = new Uint32Array(bins);
  const width = (high - low) / bins;
  const per = 1 / width;
  for (let i = 0; i < values.length; i++) {
    const v = values[i];
    if (v >= low && v <= high && !(mask && mask[i] === 0)) counts[Math.min(bins - 1, Math.floor((v - low) * per))]++;
  }
  return { counts, low, width };
}

/** The value below which `rank` of the counted pixels lie, from bin `first` on, interpolated within its bin. */
function valueAt(h: Histogram, first: number, last: number, rank: number): number {
  let before = 0;
  for (let bin = first; bin <= last; bin++) {
    const n = h.counts[bin];
    if (before + n >= rank && n > 0) return h.low + (bin + (rank - before) / n) * h.width;
    before += n;
  }
  return h.low + (last + 1) * h.width;
}

/** Half the width of the symmetric interval about `centre` that holds half of the counted pixels. */
function madAt(h: Histogram, first: number, last: number, centre: number, total: number): number {
  let inner = Math.floor((centre - h.low) / h.width);
  inner = Math.min(last, Math.max(first, inner));
  let held = h.counts[inner];
  let below = inner - 1;
  let above = inner + 1;
  let reach = 0.5;
  while (held < total / 2 && (below >= first || above <= last)) {
    if (below >= first) held += h.counts[below--];
    if (above <= last) held += h.counts[above++];
    reach++;
  }
  return reach * h.width;
}

/**
 * The sky: the sigma-clipped median. Pixels further than 3 σ from the median are left out, σ being 1.4826 × MAD, until none is.
 * The clipping runs on a histogram that is laid anew where it shrinks; the median that comes out is exact.
 * @param values NaN is left out
 * @param mask 1 where a value counts, one for each; all count where it is left out
 * @returns NaN and 0 pixels where nothing counts
 */
export function skyOf(values: Float32Array, mask?: Uint8Array): Sky {
  let low = Number.POSITIVE_INFINITY;
  let high = Number.NEGATIVE_INFINITY;
  for (let i = 0; i < values.length; i++) {
    const v = values[i];
    if (mask && mask[i] === 0) continue;
    if (v < low) low = v;
    if (v > high) high = v;
  }
  if (low > high) return { sky: Number.NaN, sigma: Number.NaN, used: 0 };
  if (low === high) return { sky: low, sigma: 0, used: countWithin(values, low, high, mask) };

  let sigma = 0;
  for (let pass = 0; pass < 12; pass++) {
    const h = histogram(values, low, high, mask);
    const clipped = clipWithin(h);
    sigma = clipped.sigma;
    const shrunk = (clipped.high - clipped.low) / (high - low);
    const settled = shrunk > 1 / 16;
    low = Math.max(low, clipped.low);
    high = Math.min(high, clipped.high);
    if (settled || high <= low) break;
  }
  return { sky: median(values, { low, high, mask }), sigma, used: countWithin(values, low, high, mask) };
}

function countWithin(values: Float32Array, low: number, high: number, mask: Uint8Array | undefined): number {
  let n = 0;
  for (let i = 0; i < values.length; i++) if (values[i] >= low && values[i] <= high && !(mask && mask[i] === 0)) n++;
  return n;
}

function clipWithin(h: Histogram): { low: number; high: number; sigma: number } {
  let first = 0;
  let last = h.counts.length - 1;
  let sigma = 0;
  for (let round = 0; round < 100; round++) {
    let total = 0;
    for (let bin = first; bin <= last; bin++) total += h.counts[bin];
    const centre = valueAt(h, first, last, total / 2);
    sigma = 1.4826 * madAt(h, first, last, centre, total);
    const nextFirst = Math.max(first, Math.floor((centre - KAPPA * sigma - h.low) / h.width));
    const nextLast = Math.min(last, Math.floor((centre + KAPPA * sigma - h.low) / h.width));
    if (nextFirst === first && nextLast === last) break;
    first = nextFirst;
    last = nextLast;
  }
  return { low: h.low + first * h.width, high: h.low + (last + 1) * h.width, sigma };
}
