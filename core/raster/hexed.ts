import { bytesToHex, hexToBytes } from '@noble/hashes/utils.js';

/** Numbers in single precision, little-endian, in hexadecimal: a list of tens of thousands would hold up whichever thread takes it. */
export function hexed(numbers: ArrayLike<number>): string {
  const view = new DataView(new ArrayBuffer(4 * numbers.length));
  for (let i = 0; i < numbers.length; i++) view.setFloat32(4 * i, numbers[i], true);
  return bytesToHex(new Uint8Array(view.buffer));
}

/** The numbers again. */
export function unhexed(text: string): Float32Array {
  const bytes = hexToBytes(text);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const numbers = new Float32Array(bytes.length >> 2);
  for (let i = 0; i < numbers.length; i++) numbers[i] = view.getFloat32(4 * i, true);
  return numbers;
}
