import type { Pixels } from '../kernels/tally';
import { type Simd, simd } from '../kernels/wasm';
import { intersect, type Rect } from '../raster/rect';
import { saturationOf } from '../stats/saturation';
import { maskPlain } from './mask-plain';
import { nearPlain, type Reach } from './near-plain';
import { type FitInput, PairSums } from './pairs';

/** Pixels that are brought into the kernels' memory at a time. */
const PIECE = 65_536;
/** Tiles across the picture, for errors by leaving one out. */
const TILES = 8;

/** A level from which a plane's pixels are measured, and the top up to which they count. */
export interface Upto {
  readonly level: number;
  readonly top: number;
}

/** Number and sum of squares, tile by tile. */
export interface Squares {
  readonly counts: Float64Array;
  readonly sums: Float64Array;
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
  /** How many count in each row of the region: where all do, the other plane need not be looked at again. */
  private readonly inRow: Uint32Array;

  constructor(readonly input: FitInput) {
    const { target, reference, width, height, low = -Infinity, high = Infinity } = input;
    this.region = input.region ? intersect(input.region, { x: 0, y: 0, width, height }) : { x: 0, y: 0, width, height };
    this.ranges = [low, Math.min(saturationOf(target), high), low, Math.min(saturationOf(reference), high)];
    this.inRow = this.counted();
    this.count = this.inRow.reduce((sum, n) => sum + n, 0);
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
        this.copy(own, at, piece);
        if (this.allCount(at, length)) return;
        // A single pixel, as samples are taken, is not worth the way there.
        const inKernels = wasm && piece.buffer === wasm.run.memory.buffer;
        const partner = inKernels ? wasm.floats(wasm.brought, length) : (beside ?? new Float32Array(length));
        this.copy(other, at, partner);
        if (inKernels) wasm.run.pairs(piece.byteOffset, wasm.brought, length, wasm.numbers(ranges));
        else maskPlain(piece, partner, ranges);
      },
    };
  }

  /** Whether all pixels of a piece of the region lie in rows that count as a whole. */
  private allCount(at: number, length: number): boolean {
    const { width } = this.region;
    const last = Math.floor((at + length - 1) / width);
    for (let row = Math.floor(at / width); row <= last; row++) if (this.inRow[row] < width) return false;
    return true;
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

  private counted(): Uint32Array {
    const { width, height } = this.region;
    const inRow = new Uint32Array(Math.max(0, height));
    const wasm = simd();
    if (wasm) {
      wasm.begin();
      const [from, to] = [wasm.room(width), wasm.room(width)];
      const ranges = wasm.put(this.ranges);
      for (let row = 0; row < height; row++) {
        this.bring(wasm, row, from, to);
        inRow[row] = wasm.run.pairs(from, to, width, ranges);
      }
      return inRow;
    }
    const { target, reference } = this.input;
    for (let row = 0; row < height; row++) {
      const at = this.startOf(row);
      for (let i = at; i < at + width; i++) if (this.counts(target[i], reference[i])) inRow[row]++;
    }
    return inRow;
  }

  /** Index of the first pixel of a row of the region. */
  private startOf(row: number): number {
    return (this.region.y + row) * this.input.width + this.region.x;
  }

  /** Brings a row of both planes into the kernels' memory. */
  private bring(wasm: Simd, row: number, from: number, to: number): void {
    const { target, reference } = this.input;
    const [at, { width }] = [this.startOf(row), this.region];
    wasm.floats(from, width).set(target.subarray(at, at + width));
    wasm.floats(to, width).set(reference.subarray(at, at + width));
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

  /** The tiles' columns: where each begins in a row of the region, and how long it is. */
  private get columns(): { at: number; n: number }[] {
    const { width } = this.region;
    const side = Math.max(1, Math.ceil(width / TILES));
    return Array.from({ length: Math.ceil(width / side) }, (_, t) => ({
      at: t * side,
      n: Math.min(side, width - t * side),
    }));
  }

  /** The first tile of a row. */
  private tileOf(row: number): number {
    return Math.floor(row / Math.max(1, Math.ceil(this.region.height / TILES))) * TILES;
  }

  /**
   * Goes through every `rowStep`-th row in the kernels' memory, what does not count taken out, tile by tile.
   */
  private alongRows(
    wasm: Simd,
    rowStep: number,
    deed: (target: number, reference: number, n: number, tile: number) => void,
  ): void {
    const { width, height } = this.region;
    const [from, to] = [wasm.room(width), wasm.room(width)];
    const ranges = wasm.put(this.ranges);
    const { columns } = this;
    for (let row = 0; row < height; row += rowStep) {
      if (this.inRow[row] === 0) continue;
      this.bring(wasm, row, from, to);
      if (this.inRow[row] < width) wasm.run.pairs(from, to, width, ranges);
      const first = this.tileOf(row);
      for (const [t, { at, n }] of columns.entries()) deed(from + 4 * at, to + 4 * at, n, first + t);
    }
  }

  /** Sums over the pairs near a line, of every `rowStep`-th row. */
  near(reach: Reach, origin: { x: number; y: number }, rowStep: number): TileSums {
    const tiles = Array.from({ length: TILES * TILES }, () => new PairSums());
    const wasm = simd();
    if (wasm) this.nearSimd(wasm, reach, origin, rowStep, tiles);
    else {
      for (let row = 0; row < this.region.height; row += rowStep) {
        const [start, first] = [this.startOf(row), this.tileOf(row)];
        for (const [t, { at, n }] of this.columns.entries())
          nearPlain(this, reach, origin, start + at, n, tiles[first + t]);
      }
    }
    return { tiles, total: tiles.reduce((sum, tile) => sum.merge(tile), new PairSums()) };
  }

  private nearSimd(
    wasm: Simd,
    { line, centre, reach, widening }: Reach,
    origin: { x: number; y: number },
    rowStep: number,
    tiles: readonly PairSums[],
  ): void {
    wasm.begin();
    const sums = wasm.putDoubles(new Float64Array(6 * tiles.length));
    const spec = wasm.put([origin.x, origin.y, line.a, line.b, centre, reach ** 2, widening ** 2]);
    this.alongRows(wasm, rowStep, (from, to, n, tile) => wasm.run.near(from, to, n, spec, sums + 48 * tile));
    for (const [t, tile] of tiles.entries()) {
      const [n, x, y, xx, xy, yy] = wasm.doubles(sums + 48 * t, 6);
      tile.addSums(n, x, y, xx, xy, yy);
    }
  }

  /** Number and sum of squares about a level of each plane's counted pixels up to a top, tile by tile. */
  squares(target: Upto, reference: Upto): { target: Squares; reference: Squares } {
    const tiles = TILES * TILES;
    const made = (): Squares => ({ counts: new Float64Array(tiles), sums: new Float64Array(tiles) });
    const found = { target: made(), reference: made() };
    const wasm = simd();
    if (!wasm) {
      for (let row = 0; row < this.region.height; row++) {
        const [start, first] = [this.startOf(row), this.tileOf(row)];
        for (const [t, { at, n }] of this.columns.entries()) {
          this.squaresPlain('target', target, start + at, n, first + t, found.target);
          this.squaresPlain('reference', reference, start + at, n, first + t, found.reference);
        }
      }
      return found;
    }
    wasm.begin();
    const sums = [0, 1].map(() => wasm.putDoubles(new Float64Array(3 * tiles)));
    this.alongRows(wasm, 1, (from, to, n, tile) => {
      wasm.run.moments(from, n, target.level, target.top, sums[0] + 24 * tile);
      wasm.run.moments(to, n, reference.level, reference.top, sums[1] + 24 * tile);
    });
    for (const [k, side] of [found.target, found.reference].entries()) {
      for (let t = 0; t < tiles; t++) [side.counts[t], , side.sums[t]] = wasm.doubles(sums[k] + 24 * t, 3);
    }
    return found;
  }

  private squaresPlain(
    which: 'target' | 'reference',
    { level, top }: Upto,
    at: number,
    n: number,
    tile: number,
    into: Squares,
  ): void {
    const { target, reference } = this.input;
    const plane = this.input[which];
    for (let i = at; i < at + n; i++) {
      if (!(plane[i] <= top) || !this.counts(target[i], reference[i])) continue;
      into.counts[tile]++;
      into.sums[tile] += (plane[i] - level) ** 2;
    }
  }
}
