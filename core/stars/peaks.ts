import { presence } from '../kernels/absent';
import { B3, smooth } from '../kernels/smooth';
import { simd } from '../kernels/wasm';
import { halve, levelSize } from '../raster/levels';
import { spreadInPlace } from '../stats/select';

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
class Ground {
  private readonly coarse: Float32Array;
  private readonly width: number;
  private readonly height: number;
  /** One coarse row with its ends doubled: the outer half of the outermost pixels has nothing beyond it. */
  private readonly line: Float32Array;

  constructor(smoothed: Float32Array, width: number, height: number) {
    let plane = smoothed;
    for (let level = 0; level < COARSE; level++) {
      plane = halve(plane, levelSize(width, level), levelSize(height, level));
    }
    [this.width, this.height] = [levelSize(width, COARSE), levelSize(height, COARSE)];
    for (const step of [1, 2]) plane = smooth(plane, this.width, this.height, B3, step, presence(plane));
    this.coarse = plane;
    this.line = new Float32Array(this.width + 2);
  }

  /** Fills a row of the full picture. */
  row(y: number, out: Float32Array): void {
    const { coarse, width, height, line } = this;
    const v = Math.min(height - 1, Math.max(0, (y + 0.5) / 2 ** COARSE - 0.5));
    const foot = Math.floor(v);
    const [a, b] = [foot * width, Math.min(height - 1, foot + 1) * width];
    const t = v - foot;
    for (let c = 0; c < width; c++) line[c + 1] = coarse[a + c] + t * (coarse[b + c] - coarse[a + c]);
    line[0] = line[1];
    line[width + 1] = line[width];
    const n = out.length;
    // Between the middles of two coarse pixels lie four of the picture, the first two columns before the first middle.
    for (let c = 0, x = -2; x < n; c++, x += 4) {
      const from = line[c];
      const rise = line[c + 1] - from;
      if (x >= 0 && x + 3 < n) {
        out[x] = from + 0.125 * rise;
        out[x + 1] = from + 0.375 * rise;
        out[x + 2] = from + 0.625 * rise;
        out[x + 3] = from + 0.875 * rise;
      } else for (let k = 0; k < 4; k++) if (x + k >= 0 && x + k < n) out[x + k] = from + ((2 * k + 1) / 8) * rise;
    }
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
  return spreadInPlace(Float32Array.from(values)).sigma / Math.sqrt(1.25);
}

/**
 * Peaks over the local background. The image is smoothed a little first, so that a wide star has one peak; what counts is how far a peak
 * stands above the scatter of the smoothed image itself, which tells noise that neighbours share as well as white noise.
 * @param threshold in units of that scatter
 */
export function findPeaks(values: Float32Array, width: number, height: number, threshold: number): Peaks {
  const there = presence(values);
  const smoothed = smooth(values, width, height, B3, 1, there);
  if (there) holesOf(values, smoothed);
  const ground = new Ground(smoothed, width, height);
  const scatter = scatterOf(smoothed, width, height);
  const peaks: Peak[] = [];
  if (!(scatter > 0)) return { peaks, smoothed };
  const line = new Float32Array(width);
  const least = threshold * scatter;
  const take = (x: number, y: number): void => {
    const significance = (smoothed[y * width + x] - line[x]) / scatter;
    if (x > 1 && x < width - 2) peaks.push({ x, y, significance });
  };
  const wasm = simd();
  wasm?.begin();
  const rooms = wasm && Array.from({ length: 5 }, () => wasm.room(width));
  for (let y = 2; y < height - 2; y++) {
    ground.row(y, line);
    if (wasm && rooms) {
      const floats = new Float32Array(wasm.run.memory.buffer);
      for (let r = 0; r < 3; r++) floats.set(smoothed.subarray((y - 1 + r) * width, (y + r) * width), rooms[r] / 4);
      floats.set(line, rooms[3] / 4);
      const n = wasm.run.peaks(rooms[0], rooms[1], rooms[2], rooms[3], width, least, rooms[4]);
      for (const x of new Int32Array(wasm.run.memory.buffer, rooms[4], n)) take(x, y);
    } else {
      for (let x = 1; x < width - 1; x++) {
        if (smoothed[y * width + x] - line[x] > least && isPeak(smoothed, width, x, y)) take(x, y);
      }
    }
  }
  return { peaks, smoothed };
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
