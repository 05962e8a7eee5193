import { type WasmKernels, wasmKernels } from '@owl-loom/image/kernels/wasm';
import { type Raster, cropPlane } from '@owl-loom/image/raster/raster';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { PixelFunction, Tally } from '@owl-loom/image/pixel-function';

/** Pixels that a run of pointwise nodes works on at a time: all its scratch stays in the processor's cache. */
export const STRIP = 8192;

/** One node of a run. */
interface StripStep {
  readonly index: number;
  readonly inputs: readonly number[];
  readonly planes: 1 | 3;
  readonly apply: PixelFunction;
  readonly tally: Tally;
}

/** Pointwise nodes of one rectangle, inputs first. */
interface StripRun {
  readonly rect: Rect;
  /** Where pixels are counted: what only neighbours need is counted where it is asked for itself. */
  readonly counted: Rect;
  readonly steps: readonly StripStep[];
  /** Images that the run reads, all of its rectangle. */
  readonly inputs: ReadonlyMap<number, Raster>;
  /** Images that are read elsewhere, to be filled. */
  readonly outs: ReadonlyMap<number, Raster>;
}

const uncounted = (): void => undefined;

/** Pieces of whole rows, or of one row where a row is longer than a strip; none lies on both sides of where counting begins or ends. */
function* pieces(rect: Rect, counted: Rect): Generator<{ strip: Rect; counts: boolean }> {
  const rows = Math.max(1, Math.floor(STRIP / rect.width));
  const end = rect.y + rect.height;
  const edges = [counted.y, counted.y + counted.height];
  for (let y = rect.y; y < end; ) {
    const next = Math.min(y + rows, end, ...edges.filter((edge) => edge > y));
    const counts = y >= counted.y && next <= counted.y + counted.height;
    for (let x = rect.x; x < rect.x + rect.width; x += STRIP) {
      yield { strip: { x, y, width: Math.min(STRIP, rect.x + rect.width - x), height: next - y }, counts };
    }
    y = next;
  }
}

/** Scratch of a run: planes of a strip, handed on from node to node as soon as nobody reads them any more. */
class Scratch {
  private readonly free: Float32Array[] = [];

  constructor(private readonly wasm: WasmKernels | undefined) {
    wasm?.beginStrips();
  }

  take(): Float32Array {
    // In the kernels' own memory where there is room: what lies there need not be brought.
    return this.free.pop() ?? this.wasm?.allocStrip(STRIP) ?? new Float32Array(STRIP);
  }

  give(planes: readonly Float32Array[]): void {
    this.free.push(...planes);
  }
}

/** Which node's turn ends the life of each of the run's images. */
function lastReaders(steps: readonly StripStep[]): Map<number, number[]> {
  const last = new Map<number, number>();
  for (const step of steps) {
    last.set(step.index, step.index);
    for (const input of step.inputs) last.set(input, step.index);
  }
  const ends = new Map<number, number[]>();
  for (const [image, reader] of last) ends.set(reader, [...(ends.get(reader) ?? []), image]);
  return ends;
}

/** Runs through pointwise nodes strip by strip, so that what one leaves behind is still in the cache when the next one reads it. */
export function runFusedStrips({ rect, counted, steps, inputs, outs }: StripRun): void {
  const wasm = wasmKernels();
  const scratch = new Scratch(wasm);
  const ends = lastReaders(steps);
  for (const { strip, counts } of pieces(rect, counted)) {
    const size = strip.width * strip.height;
    const done = new Map<number, Raster>();
    const held = new Map<number, readonly Float32Array[]>();
    const inputOf = (index: number): Raster => {
      const here = done.get(index);
      if (here) return here;
      const image = inputs.get(index);
      if (!image) throw new Error('a strip lacks its input');
      const raster = { rect: strip, planes: image.planes.map((plane) => cropPlane(plane, rect, strip)) };
      done.set(index, raster);
      return raster;
    };
    for (const { index, inputs: from, planes, apply, tally } of steps) {
      const out = outs.get(index);
      const own = out ? undefined : Array.from({ length: planes }, () => scratch.take());
      if (own) held.set(index, own);
      const target: Raster = {
        rect: strip,
        planes: out
          ? out.planes.map((plane) => cropPlane(plane, rect, strip))
          : (own ?? []).map((plane) => plane.subarray(0, size)),
      };
      apply(from.map(inputOf), target, counts ? tally : uncounted);
      done.set(index, target);
      for (const image of ends.get(index) ?? []) scratch.give(held.get(image) ?? []);
    }
  }
}
