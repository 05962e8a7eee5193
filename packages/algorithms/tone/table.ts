/**
 * Bits of a single-precision number below its octave and piece: the ten above them tell 1024 pieces to an octave. Between the ends of such
 * a piece a curve that bends as logarithms do is off by 5e-8 at most.
 */
const LOW = 13;
const bits = new DataView(new ArrayBuffer(4));

/** The number of the piece in which a number from 0 up lies, counted from 0. */
function pieceOf(t: number): number {
  bits.setFloat32(0, t);
  return bits.getUint32(0) >>> LOW;
}

/** Where a piece begins. */
function startOf(piece: number): number {
  bits.setUint32(0, piece << LOW);
  return bits.getFloat32(0);
}

/**
 * A rising curve on 0 to 1 as pieces of straight line, 1024 to an octave, as the kernels read it: a number's own bits say in which piece it
 * lies.
 * @param f takes 0 to 0 and 1 to 1; from 0 to `straight` it is a straight line as far as single precision tells
 * @returns the first piece's number and the count of pieces as integers, then two numbers a piece: a and b of `a + b·t`
 */
export function octaveTable(f: (t: number) => number, straight: number): Float32Array {
  const first = pieceOf(straight);
  const last = pieceOf(1);
  const count = last - first + 1;
  const out = new Float32Array(2 + 2 * count);
  new Uint32Array(out.buffer).set([first, count - 1]);
  let [t, v] = [0, 0];
  for (let k = 0; k < count - 1; k++) {
    const end = startOf(first + k + 1);
    const next = f(end);
    const slope = (next - v) / (end - t);
    out[2 + 2 * k] = v - slope * t;
    out[3 + 2 * k] = slope;
    [t, v] = [end, next];
  }
  // 1 itself, to the last digit.
  out[2 * count] = 1;
  return out;
}
