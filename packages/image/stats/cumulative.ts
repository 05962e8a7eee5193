import { type LogHistogram, binOf, distanceAt, BINS_PER_SIDE } from '../kernels/log-histogram';
import { partitionPoint, KAPPA } from './sorted';

/** The running sums of a fine histogram, and where its bins end. */
export class CumulativeHistogram {
  /** Pixels below each edge. */
  readonly below = new Float64Array(2 * BINS_PER_SIDE + 1);
  readonly edges = new Float64Array(2 * BINS_PER_SIDE + 1);

  constructor(readonly bins: LogHistogram) {
    const { centre, base, counts } = bins;
    for (let k = 1; k <= BINS_PER_SIDE; k++) {
      const distance = distanceAt(base + k);
      this.edges[BINS_PER_SIDE + k] = centre + distance;
      this.edges[BINS_PER_SIDE - k] = centre - distance;
    }
    this.edges[BINS_PER_SIDE] = centre;
    // What lies beyond the outermost bins has fallen into them.
    this.edges[0] = Math.min(this.edges[0], bins.min);
    this.edges[2 * BINS_PER_SIDE] = Math.max(this.edges[2 * BINS_PER_SIDE], bins.max);
    for (let i = 0; i < counts.length; i++) this.below[i + 1] = this.below[i] + counts[i];
  }

  /** How many pixels lie below a value, those of its own bin by a straight line. */
  at(value: number): number {
    if (!(value > this.bins.min)) return 0;
    if (value >= this.bins.max) return this.bins.count;
    const bin = binOf(value, this.bins.centre, this.bins.base);
    const width = this.edges[bin + 1] - this.edges[bin];
    const share = width > 0 ? (value - this.edges[bin]) / width : 0;
    return this.below[bin] + Math.min(1, Math.max(0, share)) * this.bins.counts[bin];
  }

  /** The bin that holds the pixel of a rank, counted from 0. */
  binAt(rank: number): number {
    return partitionPoint(0, 2 * BINS_PER_SIDE - 1, (bin) => this.below[bin + 1] > rank);
  }

  /** The value below which so many pixels lie. */
  valueAt(number: number): number {
    const bin = this.binAt(Math.min(this.bins.count - 1, Math.max(0, Math.floor(number))));
    const n = this.bins.counts[bin];
    const share = n > 0 ? Math.min(1, Math.max(0, (number - this.below[bin]) / n)) : 0;
    return this.edges[bin] + share * (this.edges[bin + 1] - this.edges[bin]);
  }
}

/** The sigma clipping on a histogram: the ranks that are kept, from the first to before the last, and the spread. */
export function sigmaClipHistogram(sums: CumulativeHistogram): { first: number; last: number; sigma: number } {
  const { min, max, count } = sums.bins;
  let [low, high] = [min, max];
  let [first, last] = [0, count];
  let sigma = 0;
  for (let round = 0; round < 100 && high > low; round++) {
    const half = (last - first) / 2;
    const centre = sums.valueAt(first + half);
    const within = (reach: number) =>
      Math.min(last, sums.at(centre + reach)) - Math.max(first, sums.at(centre - reach)) >= half;
    let [near, far] = [0, Math.max(high - centre, centre - low)];
    for (let i = 0; i < 60 && far - near > 1e-7 * far; i++) {
      const middle = (near + far) / 2;
      if (within(middle)) far = middle;
      else near = middle;
    }
    sigma = 1.4826 * far;
    const [nextLow, nextHigh] = [Math.max(low, centre - KAPPA * sigma), Math.min(high, centre + KAPPA * sigma)];
    const settled = nextLow - low + (high - nextHigh) <= 1e-6 * sigma;
    [low, high] = [nextLow, nextHigh];
    [first, last] = [Math.max(first, sums.at(low)), high >= max ? last : Math.min(last, sums.at(high))];
    if (settled) break;
  }
  return { first: Math.floor(first), last: Math.max(Math.floor(first) + 1, Math.ceil(last)), sigma };
}
