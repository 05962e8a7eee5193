/**
 * Rice decompression of one tile (FITS 4.0 §10.4.1): blocks of differences, each coded with its own split position.
 * @param bytes the tile as stored
 * @param count how many pixels it holds
 * @param blockSize pixels a block
 * @param width bytes a pixel: 1, 2 or 4
 * @returns signed pixels (unsigned for width 1), as they were stored
 * @throws RangeError where the stream ends before its pixels do
 */
export function riceDecode(bytes: Uint8Array, count: number, blockSize: number, width: 1 | 2 | 4): Int32Array {
  const fsBits = width === 4 ? 5 : width === 2 ? 4 : 3;
  const fsMax = width === 4 ? 25 : width === 2 ? 14 : 6;
  const bits = width * 8;
  const out = new Int32Array(count);
  let at = 0;
  let last = 0;
  for (let i = 0; i < width; i++) last = (last << 8) | bytes[at++];

  let buffer = bytes[at++];
  let held = 8;
  const need = (n: number) => {
    let value = 0;
    let left = n;
    while (left > 0) {
      if (held === 0) {
        if (at >= bytes.length) throw new RangeError('the compressed tile ends too soon');
        buffer = bytes[at++];
        held = 8;
      }
      const take = Math.min(left, held);
      held -= take;
      value = ((value << take) | ((buffer >>> held) & ((1 << take) - 1))) >>> 0;
      left -= take;
    }
    return value;
  };
  const zeros = () => {
    let n = 0;
    while (need(1) === 0) n++;
    return n;
  };
  const narrow =
    width === 4 ? (v: number) => v | 0 : width === 2 ? (v: number) => (v << 16) >> 16 : (v: number) => v & 0xff;

  for (let i = 0; i < count; ) {
    const end = Math.min(i + blockSize, count);
    const split = need(fsBits) - 1;
    for (; i < end; i++) {
      let code: number;
      if (split < 0) code = 0;
      else if (split === fsMax) code = need(bits);
      else {
        const high = zeros();
        code = ((high << split) | need(split)) >>> 0;
      }
      const difference = code & 1 ? ~(code >>> 1) : code >>> 1;
      last = narrow(last + difference);
      out[i] = last;
    }
  }
  return out;
}
