import { validityMask } from '@owl-loom/image/kernels/validity';
import { B3, smooth } from '@owl-loom/image/kernels/smooth';
import { type WasmKernels, wasmKernels } from '@owl-loom/image/kernels/wasm';
import { downsample2x, levelSize } from '@owl-loom/image/pyramid/pyramid';
import { medianMadInPlace } from '@owl-loom/image/stats/quickselect';

/** A pixel that stands above its neighbours in the smoothed image. */
export interface Peak {
  readonly x: number;
  readonly y: number;
  /** How far it stands above the background, in units of that difference's own scatter. */
  readonly significance: number;
}

/** Peaks, and the smoothed image in which they stand. */
export interface Peaks {
  readonly peaks: readonly Peak[];
  readonly smoothed: Float32Array;
}

/** Halvings before the background is smoothed: its Gaussian is then some nine pixels wide, more than stars are. */
const COARSE = 2;
/** Rows whose pixels tell the scatter hold about so many. */
const SAMPLED = 200_000;

/** The background row by row: a coarse smoothed picture with straight lines between its pixels. */
class BackgroundGrid {
  private readonly coarse: Float32Array;
  private readonly width: number;
  private readonly height: number;
  /** One coarse row with its ends doubled: the outer half of the outermost pixels has nothing beyond it. */
  private readonly line: Float32Array;

  constructor(smoothed: Float32Array, width: number, height: number) {
    let plane = smoothed;
    for (let level = 0; level < COARSE; level++) {
      plane = downsample2x(plane, levelSize(width, level), levelSize(height, level));
    }
    [this.width, this.height] = [levelSize(width, COARSE), levelSize(height, COARSE)];
    for (const step of [1, 2]) plane = smooth(plane, this.width, this.height, B3, step, validityMask(plane));
    this.coarse = plane;
    this.line = new Float32Array(this.width + 2);
  }

  /** The coarse row under a row of the full picture, its ends doubled. */
  private coarseRow(y: number): Float32Array {
    const { coarse, width, height, line } = this;
    const v = Math.min(height - 1, Math.max(0, (y + 0.5) / 2 ** COARSE - 0.5));
    const bottom = Math.floor(v);
    const [a, b] = [bottom * width, Math.min(height - 1, bottom + 1) * width];
    const t = v - bottom;
    for (let c = 0; c < width; c++) line[c + 1] = coarse[a + c] + t * (coarse[b + c] - coarse[a + c]);
    line[0] = line[1];
    line[width + 1] = line[width];
    return line;
  }

  /** Fills a row of the full picture. */
  row(y: number, out: Float32Array): void {
    const line = this.coarseRow(y);
    const n = out.length;
    // Between the middles of two coarse pixels lie four of the picture, the first two columns before the first middle.
    for (let c = 0, x = -2; x < n; c++, x += 4) {
      const from = line[c];
      const rise = line[c + 1] - from;
      for (let k = 0; k < 4; k++) if (x + k >= 0 && x + k < n) out[x + k] = from + ((2 * k + 1) / 8) * rise;
    }
  }

  /**
   * {@link row} in the kernels' memory.
   * @param coarse room for {@link coarseLength} floats
   * @param out room for four times as many; the row begins at the third
   */
  rowSimd(wasm: WasmKernels, y: number, coarse: number, out: number): void {
    const line = this.coarseRow(y);
    wasm.floats(coarse, line.length).set(line);
    wasm.run.between(coarse, this.width, out);
  }

  get coarseLength(): number {
    return this.line.length;
  }
}

/** Where there is no data there is no peak, whatever the neighbours spread there. */
function holesOf(values: Float32Array, smoothed: Float32Array): void {
  for (let i = 0; i < values.length; i++) if (values[i] !== values[i]) smoothed[i] = Number.NaN;
}

/** Pixels between which neither noise nor stars have much in common. */
const FAR = 5;

/**
 * Noise of the smoothed image, that which neighbours share as well: 1.4826 × MAD of each pixel's difference from the mean of four about it,
 * which takes out gas and slopes; rows spread over the height stand for all.
 */
function scatterOf(smoothed: Float32Array, width: number, height: number): number {
  const rows = Math.max(1, Math.floor(SAMPLED / width));
  const step = Math.max(1, Math.floor((height - 2 * FAR) / rows));
  const values: number[] = [];
  for (let y = FAR; y < height - FAR; y += step) {
    for (let x = FAR; x < width - FAR; x++) {
      const i = y * width + x;
      const about = smoothed[i - FAR] + smoothed[i + FAR] + smoothed[i - FAR * width] + smoothed[i + FAR * width];
      const d = smoothed[i] - about / 4;
      if (d === d) values.push(d);
    }
  }
  if (values.length === 0) return Number.NaN;
  // The mean of four adds a quarter of one's variance.
  return medianMadInPlace(Float32Array.from(values)).sigma / Math.sqrt(1.25);
}

/**
 * Peaks over the local background. The image is smoothed a little first, so that a wide star has one peak; what counts is how far a peak
 * stands above the scatter of the smoothed image itself, which tells noise that neighbours share as well as white noise.
 * @param threshold in units of that scatter
 */
export function findPeaks(values: Float32Array, width: number, height: number, threshold: number): Peaks {
  const there = validityMask(values);
  const smoothed = smooth(values, width, height, B3, 1, there);
  if (there) holesOf(values, smoothed);
  const ground = new BackgroundGrid(smoothed, width, height);
  const scatter = scatterOf(smoothed, width, height);
  const peaks: Peak[] = [];
  if (!(scatter > 0)) return { peaks, smoothed };
  const min = threshold * scatter;
  const take = (x: number, y: number, level: number): void => {
    if (x > 1 && x < width - 2) peaks.push({ x, y, significance: (smoothed[y * width + x] - level) / scatter });
  };
  const wasm = wasmKernels();
  if (wasm) peaksSimd(wasm, smoothed, width, height, ground, min, take);
  else peaksPlain(smoothed, width, height, ground, min, take);
  return { peaks, smoothed };
}

type Take = (x: number, y: number, level: number) => void;

function peaksPlain(
  smoothed: Float32Array,
  width: number,
  height: number,
  ground: BackgroundGrid,
  min: number,
  take: Take,
): void {
  const line = new Float32Array(width);
  for (let y = 2; y < height - 2; y++) {
    ground.row(y, line);
    for (let x = 1; x < width - 1; x++) {
      if (smoothed[y * width + x] - line[x] > min && isPeak(smoothed, width, x, y)) take(x, y, line[x]);
    }
  }
}

function peaksSimd(
  wasm: WasmKernels,
  smoothed: Float32Array,
  width: number,
  height: number,
  ground: BackgroundGrid,
  min: number,
  take: Take,
): void {
  wasm.resetArena();
  const rows = [0, 1, 2].map(() => wasm.alloc(width));
  const coarse = wasm.alloc(ground.coarseLength);
  const level = wasm.alloc(4 * ground.coarseLength);
  const out = wasm.alloc(width);
  const put = (y: number) => wasm.floats(rows[y % 3], width).set(smoothed.subarray(y * width, (y + 1) * width));
  put(1);
  put(2);
  for (let y = 2; y < height - 2; y++) {
    put(y + 1);
    ground.rowSimd(wasm, y, coarse, level);
    // The row begins two floats after what was laid out for it.
    const line = level + 8;
    const n = wasm.run.peaks(rows[(y - 1) % 3], rows[y % 3], rows[(y + 1) % 3], line, width, min, out);
    if (n === 0) continue;
    const levels = wasm.floats(line, width);
    for (const x of new Int32Array(wasm.run.memory.buffer, out, n)) take(x, y, levels[x]);
  }
}

/** True where no pixel of the 3x3 about it is greater; of equal ones the first in reading order is taken. */
function isPeak(plane: Float32Array, width: number, x: number, y: number): boolean {
  const v = plane[y * width + x];
  for (let j = -1; j <= 1; j++) {
    for (let i = -1; i <= 1; i++) {
      const other = plane[(y + j) * width + x + i];
      const before = j < 0 || (j === 0 && i < 0);
      if (before ? !(v > other) : !(v >= other)) return false;
    }
  }
  return true;
}
