import { cubic } from '@owl-loom/image/kernels/grid';
import { type WasmKernels, wasmKernels } from '@owl-loom/image/kernels/wasm';
import { toFullSize } from '@owl-loom/image/geometry/level-position';
import { contains, type Rect, union } from '@owl-loom/image/geometry/rect';
import { type Model, modelAt } from './model';

/** Spacing of the lattice on which a model is worked out; between its points a cubic is truer than any sample. */
const LATTICE = 32;

interface Lattice {
  /** In lattice points. */
  readonly rect: Rect;
  readonly values: Float64Array;
}

/** Points of models worked out already: a picture asks for the same ones again with every change that comes after the gradient. */
const known = new WeakMap<Model, Lattice>();

/** The model at lattice points, those of a rectangle among them; what was asked for before is not worked out again. */
function latticeWith(model: Model, rect: Rect): Lattice {
  const before = known.get(model);
  if (before && contains(before.rect, rect)) return before;
  const whole = before ? union(before.rect, rect) : rect;
  const values = new Float64Array(whole.width * whole.height);
  for (let r = 0; r < whole.height; r++) {
    for (let c = 0; c < whole.width; c++) {
      const [x, y] = [whole.x + c, whole.y + r];
      values[r * whole.width + c] =
        before && contains(before.rect, { x, y, width: 1, height: 1 })
          ? before.values[(y - before.rect.y) * before.rect.width + x - before.rect.x]
          : modelAt(model, x * LATTICE, y * LATTICE);
    }
  }
  const made = { rect: whole, values };
  known.set(model, made);
  return made;
}

/** How a surface is taken off: the level that stays, and whether it is divided out. */
export interface SurfaceRemoval {
  readonly kept: number;
  readonly divides: boolean;
}

/** Lattice columns of one row of pixels, in the row's height. */
interface Row {
  readonly lattice: Float64Array;
  /** Place of the first pixel in them, and from one pixel to the next. */
  readonly u0: number;
  readonly du: number;
}

/**
 * Takes a model off the pixels of a level's window: `x − (surface − kept)`, or `x · kept / surface` where that is to be divided out and not as
 * good as nothing. The lattice is that of full-size pixels, so that every window and level sees one surface.
 * @param source pixels of the window
 * @param out room for what is left
 */
export function removeSurface(
  model: Model,
  rect: Rect,
  level: number,
  source: Float32Array,
  taking: SurfaceRemoval,
  out: Float32Array,
): void {
  const at = (i: number) => toFullSize(i, level) / LATTICE;
  const x0 = Math.floor(at(rect.x)) - 1;
  const y0 = Math.floor(at(rect.y)) - 1;
  const width = Math.floor(at(rect.x + rect.width - 1)) + 3 - x0;
  const height = Math.floor(at(rect.y + rect.height - 1)) + 3 - y0;
  const { rect: from, values } = latticeWith(model, { x: x0, y: y0, width, height });
  const row: Row = { lattice: new Float64Array(width), u0: at(rect.x) - x0, du: 2 ** level / LATTICE };
  const wasm = wasmKernels();
  for (let r = 0; r < rect.height; r++) {
    const v = at(rect.y + r);
    const top = (Math.floor(v) - 1 - from.y) * from.width + x0 - from.x;
    const [w0, w1, w2, w3] = cubic(v - Math.floor(v));
    const [first, second, third, fourth] = [0, 1, 2, 3].map((k) => top + k * from.width);
    for (let c = 0; c < width; c++)
      row.lattice[c] =
        w0 * values[first + c] + w1 * values[second + c] + w2 * values[third + c] + w3 * values[fourth + c];
    const [start, end] = [r * rect.width, (r + 1) * rect.width];
    const [pixels, left] = [source.subarray(start, end), out.subarray(start, end)];
    if (wasm) rowOff(wasm, row, pixels, taking, left);
    else rowOffPlain(row, pixels, taking, left);
  }
}

/** Pixels of a row that are brought at a time, a multiple of the lattice's spacing. */
const PIECE = 8192;

function rowOff(
  wasm: WasmKernels,
  { lattice, u0, du }: Row,
  source: Float32Array,
  taking: SurfaceRemoval,
  out: Float32Array,
): void {
  const { kept, divides } = taking;
  const { buffer } = wasm.run.memory;
  for (let i = 0; i < source.length; i += PIECE) {
    const n = Math.min(PIECE, source.length - i);
    const isHome = source.buffer === buffer && out.buffer === buffer;
    const from = isHome ? source.byteOffset + 4 * i : wasm.stagingAddress;
    const to = isHome ? out.byteOffset + 4 * i : wasm.stagingAddress + 4 * PIECE + 64;
    if (!isHome) wasm.floats(from, n).set(source.subarray(i, i + n));
    const u = u0 + i * du;
    const first = Math.floor(u) - 1;
    const columns = wasm.stagingAddress + 8 * PIECE + 128;
    const used = lattice.subarray(first, Math.floor(u + (n - 1) * du) + 3);
    wasm.doubles(columns, used.length).set(used);
    wasm.run.offSurface(from, n, u - first, du, columns, kept, divides, to);
    if (!isHome) out.set(wasm.floats(to, n), i);
  }
}

/** The same in plain TypeScript: the reference. */
export function rowOffPlain(
  { lattice, u0, du }: Row,
  source: Float32Array,
  taking: SurfaceRemoval,
  out: Float32Array,
): void {
  const { kept, divides } = taking;
  for (let c = 0; c < source.length; c++) {
    const u = u0 + c * du;
    const left = Math.floor(u);
    const t = u - left;
    const [a, b, d, e] = [lattice[left - 1], lattice[left], lattice[left + 1], lattice[left + 2]];
    const [p1, p2, p3] = [0.5 * (d - a), a - 2.5 * b + 2 * d - 0.5 * e, 1.5 * (b - d) + 0.5 * (e - a)];
    const surface = b + t * (p1 + t * (p2 + t * p3));
    if (!divides) out[c] = source[c] - (surface - kept);
    // A surface that dips to nothing cannot be divided by; there the pixel stays.
    else out[c] = surface > 1e-6 * Math.abs(kept) ? (source[c] * kept) / surface : source[c];
  }
}
