import { wasmKernels } from '../kernels/wasm';

/** BITPIX of FITS 4.0 table 8. */
export type Bitpix = 8 | 16 | 32 | 64 | -32 | -64;

/** How stored numbers become physical ones: `zero + factor · stored`; a stored integer equal to `blank` is no data. */
export interface Scaling {
  readonly factor: number;
  readonly zero: number;
  readonly blank?: number;
}

/**
 * Big-endian pixels to float64, unscaled.
 * @param bytes `count · |bitpix| / 8` bytes
 */
export function decodeStored(bytes: Uint8Array, bitpix: Bitpix, count: number): Float64Array {
  const out = new Float64Array(count);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  switch (bitpix) {
    case 8:
      for (let i = 0; i < count; i++) out[i] = bytes[i];
      break;
    case 16:
      for (let i = 0; i < count; i++) out[i] = view.getInt16(2 * i);
      break;
    case 32:
      for (let i = 0; i < count; i++) out[i] = view.getInt32(4 * i);
      break;
    case 64:
      for (let i = 0; i < count; i++) out[i] = view.getInt32(8 * i) * 4294967296 + view.getUint32(8 * i + 4);
      break;
    case -32:
      for (let i = 0; i < count; i++) out[i] = view.getFloat32(4 * i);
      break;
    case -64:
      for (let i = 0; i < count; i++) out[i] = view.getFloat64(8 * i);
      break;
  }
  return out;
}

/**
 * Stored to physical values in place, blanks and infinities to NaN.
 * @param integer whether `blank` applies
 */
export function applyScaling(values: Float64Array, scaling: Scaling, integer: boolean): void {
  const { factor, zero, blank } = scaling;
  // Left alone where there is nothing to scale: even −0 stays what it is.
  const plain = factor === 1 && zero === 0;
  for (let i = 0; i < values.length; i++) {
    const stored = values[i];
    if ((integer && stored === blank) || !Number.isFinite(stored)) values[i] = Number.NaN;
    else if (!plain) values[i] = zero + factor * stored;
  }
}

/** Numbers over a divisor, in single precision. A plain loop: the array's own way of making one from another takes thirty times as long. */
export function toFloat32Divided(values: Float64Array, divisor: number): Float32Array {
  const out = new Float32Array(values.length);
  for (let i = 0; i < values.length; i++) out[i] = values[i] / divisor;
  return out;
}

/** Pixels that are brought into the kernels' memory at a time. */
const PIECE = 65_536;

/**
 * Big-endian pixels to float32 over a divisor, scaled, blanks and infinities to NaN.
 * @param bytes `count · |bitpix| / 8` bytes
 */
export function decodePixels(
  bytes: Uint8Array,
  bitpix: Bitpix,
  count: number,
  scaling: Scaling,
  divisor: number,
): Float32Array {
  const wasm = wasmKernels();
  if (!wasm || !isPlain(bitpix, scaling, divisor)) {
    const values = decodeStored(bytes, bitpix, count);
    applyScaling(values, scaling, bitpix > 0);
    return toFloat32Divided(values, divisor);
  }
  const size = Math.abs(bitpix) / 8;
  wasm.resetArena();
  const [from, to] = [wasm.alloc(PIECE), wasm.alloc(PIECE)];
  const out = new Float32Array(count);
  const memory = new Uint8Array(wasm.run.memory.buffer);
  const { zero, blank } = scaling;
  const integers = bitpix === 8 ? wasm.run.fromBytes : wasm.run.fromShorts;
  for (let at = 0; at < count; at += PIECE) {
    const n = Math.min(PIECE, count - at);
    memory.set(bytes.subarray(at * size, (at + n) * size), from);
    if (bitpix === -32) wasm.run.fromFloats(from, n, divisor, to);
    else integers(from, n, zero, blank ?? 0, blank === undefined ? 0 : 1, divisor, to);
    out.set(wasm.floats(to, n), at);
  }
  return out;
}

/** Whether the kernels know this form: floats as they are, and small integers with a whole zero, which single precision holds. */
function isPlain(bitpix: Bitpix, { factor, zero }: Scaling, divisor: number): boolean {
  if (factor !== 1 || Math.fround(divisor) !== divisor) return false;
  return bitpix === -32
    ? zero === 0
    : (bitpix === 8 || bitpix === 16) && Number.isInteger(zero) && Math.abs(zero) < 2 ** 20;
}

/**
 * The divisor that brings integers to 0–1: the greatest value of their type, or 1 where BSCALE or BZERO make them real numbers.
 */
export function integerDivisor(bitpix: Bitpix, scaling: Scaling): number | undefined {
  if (bitpix < 0 || scaling.factor !== 1) return undefined;
  const half = 2 ** (bitpix - 1);
  if (bitpix === 8) return scaling.zero === 0 ? 255 : scaling.zero === -128 ? 127 : undefined;
  if (scaling.zero === 0) return half - 1;
  return scaling.zero === half ? 2 * half - 1 : undefined;
}
