import type { PixelStream } from '@owl-loom/image/kernels/log-histogram';
import { type WasmKernels, wasmKernels } from '@owl-loom/image/kernels/wasm';
import { intersect, type Rect } from '@owl-loom/image/geometry/rect';
import { saturationLevel } from '@owl-loom/image/stats/saturation';
import { maskExcludedReference } from './mask-reference';
import { sumsNearLineReference, type LineCorridor } from './line-corridor';
import { type FitInput, PairSums } from './pairs';
import { RowSelection } from './rows';

/** Pixels that are looked at at a time. */
const PIECE = 65_536;
/** Tiles across the picture, for errors by leaving one out. */
const TILES = 8;

/** A level from which a plane's pixels are measured, and the top up to which they count. */
export interface SignalRange {
  readonly level: number;
  readonly top: number;
}

/** Number and sum of squares, tile by tile. */
export interface SquareSums {
  readonly counts: Float64Array;
  readonly sums: Float64Array;
}

/** Sums over the pairs near a line, tile by tile and in all. */
export interface TileSums {
  readonly tiles: readonly PairSums[];
  readonly total: PairSums;
}

/** Every pair, wherever it lies. */
const ALL: LineCorridor = { line: { a: 0, b: 0 }, centre: 0, reach: Number.MAX_VALUE, widening: 0 };
const ORIGIN = { x: 0, y: 0 } as const;

/** Lays out what the kernel is told of a reach. */
const nearSpec = (
  wasm: WasmKernels,
  { line, centre, reach, widening }: LineCorridor,
  { x, y }: { x: number; y: number },
): number => wasm.allocFrom([x, y, line.a, line.b, centre, reach ** 2, widening ** 2]);

/** Adds what the kernel has summed up. */
function takeIn(wasm: WasmKernels, sums: number, into: PairSums): void {
  const [n, x, y, xx, xy, yy] = wasm.doubles(sums, 6);
  into.addSums(n, x, y, xx, xy, yy);
}

/** The pixels of two planes that count in a fit: finite and unsaturated in both, in the region, within the range. */
export class SelectedPairs {
  private readonly region: Rect;
  /** Least and greatest of the target, then of the reference. */
  readonly ranges: readonly [number, number, number, number];
  /** How many count. */
  readonly count: number;
  /** What counts of each row of the region: mostly the other plane need not be looked at again. */
  private readonly rows: RowSelection;

  constructor(readonly input: FitInput) {
    const { target, reference, width, height, low = -Infinity, high = Infinity } = input;
    this.region = input.region ? intersect(input.region, { x: 0, y: 0, width, height }) : { x: 0, y: 0, width, height };
    this.ranges = [low, Math.min(saturationLevel(target), high), low, Math.min(saturationLevel(reference), high)];
    this.rows = this.counted();
    this.count = this.rows.counts.reduce((sum, n) => sum + n, 0);
  }

  /** Whether a pair of values counts. */
  isSelected(u: number, v: number): boolean {
    const [lowU, highU, lowV, highV] = this.ranges;
    return u >= lowU && u <= highU && v >= lowV && v <= highV;
  }

  /** Whether a pixel of the planes counts. */
  countsAt(i: number): boolean {
    const { width, target, reference } = this.input;
    const { x, y, width: w, height: h } = this.region;
    const [px, py] = [i % width, Math.floor(i / width)];
    return px >= x && px < x + w && py >= y && py < y + h && this.isSelected(target[i], reference[i]);
  }

  /** The pixels of one plane that count, row by row of the region. */
  side(which: 'target' | 'reference'): PixelStream {
    const { width, height } = this.region;
    const [own, other] = which === 'target' ? (['target', 'reference'] as const) : (['reference', 'target'] as const);
    const [a, b, c, d] = this.ranges;
    const ranges = which === 'target' ? [a, b, c, d] : [c, d, a, b];
    const wasm = wasmKernels();
    return { length: width * height, fill: (at, piece) => this.fill(own, other, ranges, at, piece, wasm) };
  }

  /** Fills a piece of one plane, row by row, what does not count taken out. */
  private fill(
    own: 'target' | 'reference',
    other: 'target' | 'reference',
    ranges: readonly number[],
    at: number,
    piece: Float32Array,
    wasm: WasmKernels | undefined,
  ): void {
    const { width } = this.region;
    for (let done = 0; done < piece.length; ) {
      const [row, column] = [Math.floor((at + done) / width), (at + done) % width];
      const part = piece.subarray(done, Math.min(piece.length, done + width - column));
      done += part.length;
      const from = this.startOf(row) + column;
      part.set(this.input[own].subarray(from, from + part.length));
      if (this.rows.mask(row, column, part)) continue;
      const partner = this.input[other].subarray(from, from + part.length);
      // A single pixel, as samples are taken, is not worth the way into the kernels' memory.
      if (wasm && piece.buffer === wasm.run.memory.buffer) {
        wasm.floats(wasm.stagingAddress, part.length).set(partner);
        wasm.run.pairs(part.byteOffset, wasm.stagingAddress, part.length, wasm.numbers(ranges));
      } else maskExcludedReference(part, partner, ranges);
    }
  }

  /** Looks at every pair once. */
  private counted(): RowSelection {
    const { width, height } = this.region;
    const rows = new RowSelection(width, Math.max(0, height));
    const wasm = wasmKernels();
    if (wasm) {
      wasm.resetArena();
      const [from, to] = [wasm.alloc(width), wasm.alloc(width)];
      const ranges = wasm.allocFrom(this.ranges);
      for (let row = 0; row < height; row++) {
        this.bring(wasm, row, from, to);
        rows.note(row, wasm.run.pairs(from, to, width, ranges), wasm.floats(from, width));
      }
      return rows;
    }
    const left = new Float32Array(width);
    for (let row = 0; row < height; row++) {
      const at = this.startOf(row);
      left.set(this.input.target.subarray(at, at + width));
      maskExcludedReference(left, this.input.reference.subarray(at, at + width), this.ranges);
      rows.note(
        row,
        left.reduce((n, v) => n + (v === v ? 1 : 0), 0),
        left,
      );
    }
    return rows;
  }

  /** Index of the first pixel of a row of the region. */
  private startOf(row: number): number {
    return (this.region.y + row) * this.input.width + this.region.x;
  }

  /** Brings a row of both planes into the kernels' memory. */
  private bring(wasm: WasmKernels, row: number, from: number, to: number): void {
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
    wasm: WasmKernels,
    rowStep: number,
    deed: (target: number, reference: number, n: number, tile: number) => void,
  ): void {
    const { width, height } = this.region;
    const [from, to] = [wasm.alloc(width), wasm.alloc(width)];
    const ranges = wasm.allocFrom(this.ranges);
    const { columns } = this;
    for (let row = 0; row < height; row += rowStep) {
      if (this.rows.counts[row] === 0) continue;
      this.bring(wasm, row, from, to);
      const both = [from, to].map((address) => wasm.floats(address, width));
      if (!both.every((plane) => this.rows.mask(row, 0, plane))) wasm.run.pairs(from, to, width, ranges);
      const first = this.tileOf(row);
      for (const [t, { at, n }] of columns.entries()) deed(from + 4 * at, to + 4 * at, n, first + t);
    }
  }

  /** Sums over the pairs near a line, of every `rowStep`-th row. */
  sumsNearLine(reach: LineCorridor, origin: { x: number; y: number }, rowStep: number): TileSums {
    const tiles = Array.from({ length: TILES * TILES }, () => new PairSums());
    const wasm = wasmKernels();
    if (wasm) this.nearSimd(wasm, reach, origin, rowStep, tiles);
    else {
      for (let row = 0; row < this.region.height; row += rowStep) {
        const [start, first] = [this.startOf(row), this.tileOf(row)];
        for (const [t, { at, n }] of this.columns.entries())
          sumsNearLineReference(this, reach, origin, start + at, n, tiles[first + t]);
      }
    }
    return { tiles, total: tiles.reduce((sum, tile) => sum.merge(tile), new PairSums()) };
  }

  private nearSimd(
    wasm: WasmKernels,
    reach: LineCorridor,
    origin: { x: number; y: number },
    rowStep: number,
    tiles: readonly PairSums[],
  ): void {
    wasm.resetArena();
    const sums = wasm.putDoubles(new Float64Array(6 * tiles.length));
    const spec = nearSpec(wasm, reach, origin);
    this.alongRows(wasm, rowStep, (from, to, n, tile) => wasm.run.near(from, to, n, spec, sums + 48 * tile));
    for (const [t, tile] of tiles.entries()) takeIn(wasm, sums + 48 * t, tile);
  }

  /** Number and sum of squares about a level of each plane's counted pixels up to a top, tile by tile; and sums over all pairs. */
  squares(target: SignalRange, reference: SignalRange): { target: SquareSums; reference: SquareSums; all: PairSums } {
    const tiles = TILES * TILES;
    const made = (): SquareSums => ({ counts: new Float64Array(tiles), sums: new Float64Array(tiles) });
    const found = { target: made(), reference: made(), all: new PairSums() };
    const wasm = wasmKernels();
    if (!wasm) {
      for (let row = 0; row < this.region.height; row++) {
        const [start, first] = [this.startOf(row), this.tileOf(row)];
        for (const [t, { at, n }] of this.columns.entries()) {
          this.squaresPlain('target', target, start + at, n, first + t, found.target);
          this.squaresPlain('reference', reference, start + at, n, first + t, found.reference);
          sumsNearLineReference(this, ALL, ORIGIN, start + at, n, found.all);
        }
      }
      return found;
    }
    wasm.resetArena();
    const sums = [0, 1].map(() => wasm.putDoubles(new Float64Array(3 * tiles)));
    const all = wasm.putDoubles(new Float64Array(6));
    const spec = nearSpec(wasm, ALL, ORIGIN);
    this.alongRows(wasm, 1, (from, to, n, tile) => {
      wasm.run.near(from, to, n, spec, all);
      wasm.run.moments(from, n, target.level, target.top, sums[0] + 24 * tile);
      wasm.run.moments(to, n, reference.level, reference.top, sums[1] + 24 * tile);
    });
    for (const [k, side] of [found.target, found.reference].entries()) {
      for (let t = 0; t < tiles; t++) [side.counts[t], , side.sums[t]] = wasm.doubles(sums[k] + 24 * t, 3);
    }
    takeIn(wasm, all, found.all);
    return found;
  }

  private squaresPlain(
    which: 'target' | 'reference',
    { level, top }: SignalRange,
    at: number,
    n: number,
    tile: number,
    into: SquareSums,
  ): void {
    const { target, reference } = this.input;
    const plane = this.input[which];
    for (let i = at; i < at + n; i++) {
      if (!(plane[i] <= top) || !this.isSelected(target[i], reference[i])) continue;
      into.counts[tile]++;
      into.sums[tile] += (plane[i] - level) ** 2;
    }
  }
}
