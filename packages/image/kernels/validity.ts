import { type WasmKernels, wasmKernels } from './wasm';

/** Pixels that go through the WebAssembly at once. */
const PIECE = 16_384;

/** Where a plane has data: 1 and 0; undefined where it has data everywhere. */
export function validityMask(plane: Float32Array): Float32Array | undefined {
  const wasm = wasmKernels();
  if (wasm ? !holedSimd(wasm, plane) : plane.every((v) => v === v)) return undefined;
  const there = new Float32Array(plane.length);
  for (let i = 0; i < plane.length; i++) if (plane[i] === plane[i]) there[i] = 1;
  return there;
}

/** True where a plane holds NaN. */
function holedSimd(wasm: WasmKernels, plane: Float32Array): boolean {
  wasm.resetArena();
  const room = wasm.floats(wasm.alloc(PIECE), PIECE);
  for (let i = 0; i < plane.length; i += PIECE) {
    const piece = plane.subarray(i, i + PIECE);
    // The last group of four may reach beyond a short piece: what lies there must not look absent.
    if (piece.length < PIECE) room.fill(0);
    room.set(piece);
    if (wasm.run.holed(room.byteOffset, piece.length)) return true;
  }
  return false;
}

/**
 * values − less, pixel by pixel, where a third plane has data and NaN where it has none.
 * @param less 0 everywhere where nothing is given
 * @param into where it is put: `values` themselves, where no one wants them any more, spare the making of a new plane
 */
export function maskedDifference(
  values: Float32Array,
  less: Float32Array | undefined,
  where: Float32Array,
  into: Float32Array = new Float32Array(values.length),
): Float32Array {
  const wasm = wasmKernels();
  return wasm ? differenceSimd(wasm, values, less, where, into) : differencePlain(values, less, where, into);
}

/** {@link maskedDifference} in plain TypeScript: what the WebAssembly is held to. */
export function differencePlain(
  values: Float32Array,
  less: Float32Array | undefined,
  where: Float32Array,
  out: Float32Array = new Float32Array(values.length),
): Float32Array {
  for (let i = 0; i < out.length; i++) out[i] = where[i] === where[i] ? values[i] - (less ? less[i] : 0) : Number.NaN;
  return out;
}

/** {@link maskedDifference} in WebAssembly. */
export function differenceSimd(
  wasm: WasmKernels,
  values: Float32Array,
  less: Float32Array | undefined,
  where: Float32Array,
  out: Float32Array = new Float32Array(values.length),
): Float32Array {
  wasm.resetArena();
  const nothing = new Float32Array(PIECE);
  const [a, b, c] = [wasm.allocFrom(nothing), wasm.allocFrom(nothing), wasm.allocFrom(nothing)];
  const [va, vb, vc] = [a, b, c].map((at) => wasm.floats(at, PIECE));
  for (let i = 0; i < out.length; i += PIECE) {
    const length = Math.min(PIECE, out.length - i);
    va.set(values.subarray(i, i + length));
    if (less) vb.set(less.subarray(i, i + length));
    vc.set(where.subarray(i, i + length));
    wasm.run.difference(a, b, c, length);
    out.set(va.subarray(0, length), i);
  }
  return out;
}
