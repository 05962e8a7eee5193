import { type WasmKernels, wasmKernels } from './wasm';

/** Bins on either side of a fine histogram's centre: 32 octaves of 512. */
export const BINS_PER_SIDE = 16_384;
/** Bits of a number in single precision that lie below a bin's. */
export const BIN_BITS = 14;

/** Pixels that are brought into the kernels' memory at a time. */
const PIECE = 65_536;

/** Pixels that can be gone through piece by piece, as often as wanted: a plane, or those of a plane that count. */
export interface PixelStream {
  readonly length: number;
  /**
   * Fills a piece.
   * @param at first of its pixels
   */
  fill(at: number, piece: Float32Array): void;
}

/** A whole plane. */
export const allOf = (plane: Float32Array): PixelStream => ({
  length: plane.length,
  fill: (at, piece) => piece.set(plane.subarray(at, at + piece.length)),
});

/** What a fine histogram holds. */
export interface LogHistogram {
  readonly centre: number;
  /** Upper bits of the distance at which the second bin begins. */
  readonly base: number;
  readonly counts: Uint32Array;
  readonly count: number;
  readonly min: number;
  readonly max: number;
  readonly sum: number;
}

const word = new Int32Array(1);
const float = new Float32Array(word.buffer);

/** The upper bits of a distance, by which bins are numbered. */
export function bitsOf(distance: number): number {
  float[0] = distance;
  return (word[0] & 0x7fffffff) >> BIN_BITS;
}

/** The distance at which a bin of these upper bits begins. */
export function distanceAt(bits: number): number {
  word[0] = bits << BIN_BITS;
  return float[0];
}

/** The bin of a value. */
export function binOf(value: number, centre: number, base: number): number {
  float[0] = value - Math.fround(centre);
  const bits = word[0];
  const key = Math.min(BINS_PER_SIDE - 1, Math.max(0, ((bits & 0x7fffffff) >> BIN_BITS) - base));
  return (bits < 0 ? -1 - key : key) + BINS_PER_SIDE;
}

/** Counts pixels in bins that grow with their distance from a centre; NaN counts nowhere. */
export function countBins(pixels: PixelStream, centre: number, base: number): LogHistogram {
  const wasm = wasmKernels();
  return wasm ? binsSimd(wasm, pixels, centre, base) : binsPlain(pixels, centre, base);
}

function* piecesOf({ length }: PixelStream, size = PIECE): Generator<{ at: number; n: number }> {
  for (let at = 0; at < length; at += size) yield { at, n: Math.min(size, length - at) };
}

function binsSimd(wasm: WasmKernels, pixels: PixelStream, centre: number, base: number): LogHistogram {
  wasm.resetArena();
  const from = wasm.alloc(PIECE);
  const bins = wasm.allocFrom(new Uint32Array(2 * BINS_PER_SIDE));
  const ends = wasm.alloc(4);
  wasm.floats(ends, 4).set([Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY, 0, 0]);
  const { buffer } = wasm.run.memory;
  new Uint32Array(buffer, bins, 2 * BINS_PER_SIDE).fill(0);
  let count = 0;
  for (const { at, n } of piecesOf(pixels)) {
    pixels.fill(at, wasm.floats(from, n));
    count += wasm.run.bins(from, n, centre, base, bins, ends);
  }
  const [min, max] = wasm.floats(ends, 2);
  const [sum] = new Float64Array(buffer, ends + 8, 1);
  return {
    centre: Math.fround(centre),
    base,
    counts: new Uint32Array(buffer, bins, 2 * BINS_PER_SIDE).slice(),
    count,
    min,
    max,
    sum,
  };
}

/** {@link countBins} in plain TypeScript: the reference. */
export function binsPlain(pixels: PixelStream, centre: number, base: number): LogHistogram {
  const counts = new Uint32Array(2 * BINS_PER_SIDE);
  const piece = new Float32Array(PIECE);
  let [count, min, max, sum] = [0, Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY, 0];
  for (const { at, n } of piecesOf(pixels)) {
    pixels.fill(at, piece.subarray(0, n));
    for (let i = 0; i < n; i++) {
      const v = piece[i];
      if (v !== v) continue;
      counts[binOf(v, centre, base)]++;
      count++;
      sum += v;
      if (v < min) min = v;
      if (v > max) max = v;
    }
  }
  return { centre: Math.fround(centre), base, counts, count, min, max, sum };
}

/** Pixels in brackets, and sums up to a top about a centre. */
export interface Collected {
  readonly values: Float32Array;
  readonly number: number;
  readonly sum: number;
  readonly squares: number;
}

/** Which pixels are collected, and which are added up. */
export interface CollectSpec {
  /** Lower and upper ends, both counted in, rising, none within another. */
  readonly brackets: readonly (readonly [number, number])[];
  /** How many may be collected. */
  readonly most: number;
  /** What the sums are taken about. */
  readonly centre: number;
  /** Higher pixels are not added up. */
  readonly top: number;
}

/** Collects the pixels that lie in one of a few brackets, and adds up those that lie no higher than a top. */
export function collectInRanges(pixels: PixelStream, wanted: CollectSpec): Collected {
  const wasm = wasmKernels();
  return wasm ? collectSimd(wasm, pixels, wanted) : collectPlain(pixels, wanted);
}

function collectSimd(wasm: WasmKernels, pixels: PixelStream, { brackets, most, centre, top }: CollectSpec): Collected {
  wasm.resetArena();
  const from = wasm.alloc(PIECE);
  const found = wasm.alloc(PIECE);
  const ends = wasm.allocFrom(brackets.flat());
  const sums = wasm.alloc(6);
  new Float64Array(wasm.run.memory.buffer, sums, 3).fill(0);
  const values = new Float32Array(most);
  let n = 0;
  for (const piece of piecesOf(pixels)) {
    pixels.fill(piece.at, wasm.floats(from, piece.n));
    wasm.run.moments(from, piece.n, centre, top, sums);
    const more = wasm.run.collect(from, piece.n, ends, brackets.length, found);
    values.set(wasm.floats(found, more), n);
    n += more;
  }
  const [number, sum, squares] = new Float64Array(wasm.run.memory.buffer, sums, 3);
  return { values: values.subarray(0, n), number, sum, squares };
}

/** {@link collectInRanges} in plain TypeScript: the reference. */
export function collectPlain(pixels: PixelStream, { brackets, most, centre, top }: CollectSpec): Collected {
  const values = new Float32Array(most);
  const piece = new Float32Array(PIECE);
  let [found, number, sum, squares] = [0, 0, 0, 0];
  for (const { at, n } of piecesOf(pixels)) {
    pixels.fill(at, piece.subarray(0, n));
    for (let i = 0; i < n; i++) {
      const v = piece[i];
      if (v <= top) {
        const d = Math.fround(v - Math.fround(centre));
        number++;
        sum += d;
        squares += d * d;
      }
      if (brackets.some(([low, high]) => v >= low && v <= high)) values[found++] = v;
    }
  }
  return { values: values.subarray(0, found), number, sum, squares };
}
