/**
 * Adds bytes to a FITS checksum: the 32-bit ones'-complement sum of big-endian words (FITS 4.0 §4.4.2.7).
 * @param bytes a whole number of 4-byte words
 */
export function addToChecksum(bytes: Uint8Array, sum = 0): number {
  let high = sum >>> 16;
  let low = sum & 0xffff;
  for (let i = 0; i < bytes.length; i += 4) {
    high += (bytes[i] << 8) | bytes[i + 1];
    low += (bytes[i + 2] << 8) | bytes[i + 3];
    // Carries are folded well before a double loses whole numbers.
    if ((i & 0xffff) === 0) [high, low] = fold(high, low);
  }
  [high, low] = fold(high, low);
  return ((high << 16) | low) >>> 0;
}

/** Two sums together, in ones' complement. */
export function addChecksums(a: number, b: number): number {
  const sum = a + b;
  return sum > 0xffffffff ? sum - 0xffffffff : sum;
}

function fold(high: number, low: number): [number, number] {
  let h = high;
  let l = low;
  let highCarry = Math.floor(h / 65536);
  let lowCarry = Math.floor(l / 65536);
  while (highCarry || lowCarry) {
    h = (h % 65536) + lowCarry;
    l = (l % 65536) + highCarry;
    highCarry = Math.floor(h / 65536);
    lowCarry = Math.floor(l / 65536);
  }
  return [h, l];
}

const EXCLUDED = [0x3a, 0x3b, 0x3c, 0x3d, 0x3e, 0x3f, 0x40, 0x5b, 0x5c, 0x5d, 0x5e, 0x5f, 0x60];

/**
 * The 16 characters of a CHECKSUM card for a sum (FITS 4.0 appendix J).
 * @param complement whether to code the complement, as the CHECKSUM card does
 */
export function encodeChecksum(sum: number, complement = true): string {
  const value = complement ? ~sum >>> 0 : sum;
  const ascii = new Array<number>(16);
  for (let i = 0; i < 4; i++) {
    const byte = (value >>> (24 - 8 * i)) & 0xff;
    const quotient = (byte >> 2) + 0x30;
    const ch = [quotient + (byte % 4), quotient, quotient, quotient];
    for (let check = true; check; ) {
      check = false;
      for (const bad of EXCLUDED) {
        for (let j = 0; j < 4; j += 2) {
          if (ch[j] === bad || ch[j + 1] === bad) {
            ch[j]++;
            ch[j + 1]--;
            check = true;
          }
        }
      }
    }
    for (let j = 0; j < 4; j++) ascii[4 * j + i] = ch[j];
  }
  return String.fromCharCode(...Array.from({ length: 16 }, (_, i) => ascii[(i + 15) % 16]));
}
