import { wasmKernels } from '../kernels/wasm';
import { copyPlane, type Raster } from '../raster/raster';
import type { Rect } from '../geometry/rect';

/** Side of a pyramid tile, in pixels of its level. */
export const TILE = 512;

/** Size of a full-size length at a level: halved `level` times, rounded up. */
export const levelSize = (full: number, level: number): number => Math.max(1, Math.ceil(full / 2 ** level));

/** How many levels a picture has: the last one fits in one tile of 256 pixels. */
export function levelCount(width: number, height: number): number {
  let level = 0;
  while (Math.max(levelSize(width, level), levelSize(height, level)) > 256) level++;
  return level + 1;
}

/** The level's pixels that a full-size rectangle touches. */
export function rectAtLevel(full: Rect, level: number): Rect {
  const n = 2 ** level;
  const x = Math.floor(full.x / n);
  const y = Math.floor(full.y / n);
  return {
    x,
    y,
    width: Math.ceil((full.x + full.width) / n) - x,
    height: Math.ceil((full.y + full.height) / n) - y,
  };
}

/** A level's rectangle in full-size pixels. */
export function rectAtFullSize({ x, y, width, height }: Rect, level: number): Rect {
  const n = 2 ** level;
  return { x: n * x, y: n * y, width: n * width, height: n * height };
}

/** The finest level at which a rectangle of full-size pixels holds no more pixels than these. */
export const levelForPixels = ({ width, height }: Rect, pixels: number): number =>
  Math.max(0, Math.ceil(Math.log2((width * height) / pixels) / 2));

/**
 * The next level of a plane: each pixel the mean of the up to four that are there, NaN where none is.
 * @param plane pixels of the finer level, rows from the foot up
 */
export function downsample2x(plane: Float32Array, width: number, height: number): Float32Array {
  const wasm = wasmKernels();
  if (!wasm || width < 2 || height < 2) return halvePlain(plane, width, height);
  const [w, h] = [levelSize(width, 1), levelSize(height, 1)];
  const out = new Float32Array(w * h);
  wasm.resetArena();
  const [lower, upper, to] = [wasm.alloc(width), wasm.alloc(width), wasm.alloc(w)];
  const floats = new Float32Array(wasm.run.memory.buffer);
  const whole = 2 * Math.floor(width / 2);
  for (let y = 0; 2 * y + 1 < height; y++) {
    const start = 2 * y * width;
    floats.set(plane.subarray(start, start + width), lower / 4);
    floats.set(plane.subarray(start + width, start + 2 * width), upper / 4);
    wasm.run.halve(lower, upper, whole, to);
    out.set(floats.subarray(to / 4, to / 4 + whole / 2), y * w);
  }
  // A last column or row that stands alone.
  const edge = (x: number, y: number, across: number, up: number): void => {
    const from = { x, y, width: across, height: up };
    const part = new Float32Array(across * up);
    copyPlane(plane, { x: 0, y: 0, width, height }, part, from);
    const place = { x: x / 2, y: y / 2, width: levelSize(across, 1), height: levelSize(up, 1) };
    copyPlane(halvePlain(part, across, up), place, out, { x: 0, y: 0, width: w, height: h });
  };
  if (whole < width) edge(whole, 0, 1, height);
  if (height % 2 === 1) edge(0, height - 1, width, 1);
  return out;
}

/** {@link downsample2x} in plain TypeScript: the reference. */
export function halvePlain(plane: Float32Array, width: number, height: number): Float32Array {
  const w = levelSize(width, 1);
  const h = levelSize(height, 1);
  const out = new Float32Array(w * h);
  for (let y = 0; y < h; y++) {
    const upper = Math.min(2 * y + 1, height - 1) * width;
    const lower = 2 * y * width;
    const single = 2 * y + 1 >= height;
    for (let x = 0; x < w; x++) {
      const left = 2 * x;
      const alone = left + 1 >= width;
      let sum = 0;
      let n = 0;
      const a = plane[lower + left];
      if (a === a) {
        sum += a;
        n++;
      }
      if (!alone) {
        const b = plane[lower + left + 1];
        if (b === b) {
          sum += b;
          n++;
        }
      }
      if (!single) {
        const c = plane[upper + left];
        if (c === c) {
          sum += c;
          n++;
        }
        if (!alone) {
          const d = plane[upper + left + 1];
          if (d === d) {
            sum += d;
            n++;
          }
        }
      }
      out[y * w + x] = n ? sum / n : Number.NaN;
    }
  }
  return out;
}

/** A window of the next level, from one that begins anywhere. */
export const downsampleRaster2x = ({ rect, planes }: Raster): Raster => ({
  rect: {
    x: Math.floor(rect.x / 2),
    y: Math.floor(rect.y / 2),
    width: levelSize(rect.width, 1),
    height: levelSize(rect.height, 1),
  },
  planes: planes.map((plane) => downsample2x(plane, rect.width, rect.height)),
});
