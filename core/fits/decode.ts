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
