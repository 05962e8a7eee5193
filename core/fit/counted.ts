import type { Pixels } from '../kernels/tally';
import { type Simd, simd } from '../kernels/wasm';
import { intersect, type Rect } from '../raster/rect';
import { saturationOf } from '../stats/saturation';
import { type FitInput, type Line, PairSums } from './pairs';

/** Pixels that are brought into the kernels' memory at a time. */
const PIECE = 65_536;
/** Tiles across the picture, for errors by leaving one out. */
const TILES = 8;

/** A line about which pairs are kept, and how far from it, in coordinates about an origin. */
export interface Reach {
  readonly line: Line;
  /** Where the residuals' middle lies. */
  readonly centre: number;
  readonly reach: number;
  /** How much wider the reach grows with the distance from the origin, as a slope. */
  readonly widening: number;
}

/** Sums over the pairs near a line, tile by tile and in all. */
export interface TileSums {
  readonly tiles: readonly PairSums[];
  readonly total: PairSums;
}

/** The pixels of two planes that count in a fit: finite and unsaturated in both, in the region, within the range. */
export class CountedPairs {
  private readonly region: Rect;
  /** Least and greatest of the target, then of the reference. */
  readonly ranges: readonly [number, number, number, number];
  /** How many count. */
  readonly count: number;

  constructor(readonly input: FitInput) {
    const { target, reference, width, height, low = -Infinity, high = Infinity } = input;
    this.region = input.region ? intersect(input.region, { x: 0, y: 0, width, height }) : { x: 0, y: 0, width, height };
    this.ranges = [low, Math.min(saturationOf(target), high), low, Math.min(saturationOf(reference), high)];
    this.count = this.counted();
  }

  /** Whether a pair of values counts. */
  counts(u: number, v: number): boolean {
    const [lowU, highU, lowV, highV] = this.ranges;
    return u >= lowU && u <= highU && v >= lowV && v <= highV;
  }

  /** Whether a pixel of the planes counts. */
  countsAt(i: number): boolean {
    const { width, target, reference } = this.input;
    const { x, y, width: w, height: h } = this.region;
    const [px, py] = [i % width, Math.floor(i / width)];
    return px >= x && px < x + w && py >= y && py < y + h && this.counts(target[i], reference[i]);
  }

  /** The pixels of one plane that count, row by row of the region. */
  side(which: 'target' | 'reference'): Pixels {
    const { width, height } = this.region;
    const [own, other] = which === 'target' ? (['target', 'reference'] as const) : (['reference', 'target'] as const);
    const [a, b, c, d] = this.ranges;
    const ranges = which === 'target' ? [a, b, c, d] : [c, d, a, b];
    const wasm = simd();
    const beside = wasm ? undefined : new Float32Array(PIECE);
    return {
      length: width * height,
      fill: (at, piece) => {
        const { length } = piece;
        // A single pixel, as samples are taken, is not worth the way there.
        const inKernels = wasm && piece.buffer === wasm.run.memory.buffer;
        const partner = inKernels ? wasm.floats(wasm.brought, length) : (beside ?? new Float32Array(length));
        this.copy(own, at, piece);
        this.copy(other, at, partner);
        if (inKernels) wasm.run.pairs(piece.byteOffset, wasm.brought, length, wasm.numbers(ranges));
        else maskPlain(piece, partner, ranges);
      },
    };
  }

  /** Pixels of the region, counted along its rows. */
  private copy(which: 'target' | 'reference', at: number, out: Float32Array): void {
    const plane = this.input[which];
    const { x, y, width } = this.region;
    for (let done = 0; done < out.length; ) {
      const column = (at + done) % width;
      const row = y + Math.floor((at + done) / width);
      // Rows of the whole picture lie one after another.
      const n = width === this.input.width ? out.length - done : Math.min(out.length - done, width - column);
      const from = row * this.input.width + x + column;
      out.set(plane.subarray(from, from + n), done);
      done += n;
    }
  }

  private counted(): number {
    const { length } = this.side('target');
    const wasm = simd();
    let count = 0;
    for (let at = 0; at < length; at += PIECE) {
      const n = Math.min(PIECE, length - at);
      wasm?.begin();
      const pieces = [0, 1].map(() => (wasm ? wasm.floats(wasm.room(PIECE), n) : new Float32Array(n)));
      this.copy('target', at, pieces[0]);
      this.copy('reference', at, pieces[1]);
      if (wasm) count += wasm.run.pairs(pieces[0].byteOffset, pieces[1].byteOffset, n, wasm.numbers(this.ranges));
      else for (let i = 0; i < n; i++) if (this.counts(pieces[0][i], pieces[1][i])) count++;
    }
    return count;
  }

  /** Whether the pixels that count differ among themselves in a plane. */
  varies(which: 'target' | 'reference'): boolean {
    const pixels = this.side(which);
    const piece = new Float32Array(PIECE);
    let first = Number.NaN;
    for (let at = 0; at < pixels.length; at += PIECE) {
      const part = piece.subarray(0, Math.min(PIECE, pixels.length - at));
      pixels.fill(at, part);
      for (const v of part) {
        if (v !== v) continue;
        if (first !== first) first = v;
        else if (v !== first) return true;
      }
    }
    return false;
  }

  /** Segments of a row that lie in one tile each, of every `rowStep`-th row of the region. */
  private *segments(rowStep: number): Generator<{ at: number; n: number; tile: number }> {
    const { x, y, width, height } = this.region;
    const side = Math.max(1, Math.ceil(width / TILES));
    const tall = Math.max(1, Math.ceil(height / TILES));
    for (let r = 0; r < height; r += rowStep) {
      for (let c = 0, t = 0; c < width; c += side, t++) {
        const n = Math.min(side, width - c);
        yield { at: (y + r) * this.input.width + x + c, n, tile: Math.floor(r / tall) * TILES + t };
      }
    }
  }

  /** Sums over the pairs near a line, of every `rowStep`-th row. */
  near(reach: Reach, origin: { x: number; y: number }, rowStep: number): TileSums {
    const tiles = Array.from({ length: TILES * TILES }, () => new PairSums());
    const wasm = simd();
    if (wasm) this.nearSimd(wasm, reach, origin, rowStep, tiles);
    else for (const { at, n, tile } of this.segments(rowStep)) nearPlain(this, reach, origin, at, n, tiles[tile]);
    return { tiles, total: tiles.reduce((sum, tile) => sum.merge(tile), new PairSums()) };
  }

  private nearSimd(
    wasm: Simd,
    { line, centre, reach, widening }: Reach,
    origin: { x: number; y: number },
    rowStep: number,
    tiles: readonly PairSums[],
  ): void {
    const { target, reference } = this.input;
    wasm.begin();
    const longest = Math.ceil(this.region.width / TILES) + 16;
    const [from, to, sums] = [wasm.room(longest), wasm.room(longest), wasm.room(12)];
    const ranges = wasm.put(this.ranges);
    const spec = wasm.put([origin.x, origin.y, line.a, line.b, centre, reach ** 2, widening ** 2]);
    const { buffer } = wasm.run.memory;
    const floats = new Float32Array(buffer);
    const doubles = new Float64Array(buffer, sums, 6);
    for (const { at, n, tile } of this.segments(rowStep)) {
      floats.set(target.subarray(at, at + n), from / 4);
      floats.set(reference.subarray(at, at + n), to / 4);
      doubles.fill(0);
      if (wasm.run.pairs(from, to, n, ranges) === 0) continue;
      wasm.run.near(from, to, n, spec, sums);
      tiles[tile].addSums(doubles[0], doubles[1], doubles[2], doubles[3], doubles[4], doubles[5]);
    }
  }

  /** Number and sum of squares about a level of one plane's counted pixels up to a top, tile by tile. */
  squares(which: 'target' | 'reference', level: number, top: number): { counts: Float64Array; sums: Float64Array } {
    const counts = new Float64Array(TILES * TILES);
    const sums = new Float64Array(TILES * TILES);
    const { target, reference } = this.input;
    const plane = this.input[which];
    const wasm = simd();
    if (!wasm) {
      for (const { at, n, tile } of this.segments(1)) {
        for (let i = at; i < at + n; i++) {
          if (!(plane[i] <= top) || !this.counts(target[i], reference[i])) continue;
          counts[tile]++;
          sums[tile] += (plane[i] - level) ** 2;
        }
      }
      return { counts, sums };
    }
    wasm.begin();
    const longest = Math.ceil(this.region.width / TILES) + 16;
    const [from, to, found] = [wasm.room(longest), wasm.room(longest), wasm.room(6)];
    const ranges = wasm.put(this.ranges);
    const { buffer } = wasm.run.memory;
    const floats = new Float32Array(buffer);
    const doubles = new Float64Array(buffer, found, 3);
    for (const { at, n, tile } of this.segments(1)) {
      floats.set(target.subarray(at, at + n), from / 4);
      floats.set(reference.subarray(at, at + n), to / 4);
      if (wasm.run.pairs(from, to, n, ranges) === 0) continue;
      doubles.fill(0);
      wasm.run.moments(which === 'target' ? from : to, n, level, top, found);
      counts[tile] += doubles[0];
      sums[tile] += doubles[2];
    }
    return { counts, sums };
  }
}

function maskPlain(piece: Float32Array, partner: Float32Array, [lowA, highA, lowB, highB]: readonly number[]): void {
  for (let i = 0; i < piece.length; i++) {
    const [a, b] = [piece[i], partner[i]];
    if (!(a >= lowA && a <= highA && b >= lowB && b <= highB)) piece[i] = Number.NaN;
  }
}

/** The sums of one segment in plain TypeScript: the reference. */
export function nearPlain(
  pairs: CountedPairs,
  { line, centre, reach, widening }: Reach,
  origin: { x: number; y: number },
  at: number,
  n: number,
  sums: PairSums,
): void {
  const { target, reference } = pairs.input;
  for (let i = at; i < at + n; i++) {
    if (!pairs.counts(target[i], reference[i])) continue;
    const x = target[i] - origin.x;
    const y = reference[i] - origin.y;
    const r = y - line.a - line.b * x - centre;
    if (r * r <= reach * reach + widening * widening * x * x) sums.add(x, y);
  }
}
