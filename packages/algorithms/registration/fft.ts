/** Complex numbers of a square grid, row by row. */
export interface Spectrum {
  readonly size: number;
  readonly re: Float64Array;
  readonly im: Float64Array;
}

interface Tables {
  readonly cos: Float64Array;
  readonly sin: Float64Array;
  /** Each place with its bits in reverse. */
  readonly reversed: Uint32Array;
}

function tablesOf(size: number, sign: 1 | -1): Tables {
  const reversed = new Uint32Array(size);
  for (let i = 1; i < size; i++) reversed[i] = (reversed[i >> 1] >> 1) | (i & 1 ? size >> 1 : 0);
  const angle = (_: unknown, k: number): number => (2 * Math.PI * k) / size;
  const angles = Float64Array.from({ length: size / 2 }, angle);
  return { cos: angles.map(Math.cos), sin: angles.map((a) => sign * Math.sin(a)), reversed };
}

/** Discrete Fourier transform of a row in place: radix 2 (Cooley & Tukey 1965). */
function transformRow(re: Float64Array, im: Float64Array, { cos, sin, reversed }: Tables): void {
  const count = re.length;
  for (let i = 1; i < count; i++) {
    const j = reversed[i];
    if (i >= j) continue;
    const [x, y] = [re[i], im[i]];
    re[i] = re[j];
    im[i] = im[j];
    re[j] = x;
    im[j] = y;
  }
  for (let half = 1; half < count; half *= 2) {
    const turn = count / (2 * half);
    for (let start = 0; start < count; start += 2 * half) {
      for (let k = 0, a = start, b = start + half, t = 0; k < half; k++, a++, b++, t += turn) {
        const x = re[b] * cos[t] - im[b] * sin[t];
        const y = re[b] * sin[t] + im[b] * cos[t];
        re[b] = re[a] - x;
        im[b] = im[a] - y;
        re[a] += x;
        im[a] += y;
      }
    }
  }
}

function transpose(values: Float64Array, size: number): void {
  for (let y = 1; y < size; y++)
    for (let x = 0; x < y; x++) {
      const [a, b] = [y * size + x, x * size + y];
      const v = values[a];
      values[a] = values[b];
      values[b] = v;
    }
}

/**
 * Two-dimensional discrete Fourier transform in place. Forwards it leaves the spectrum with rows and columns exchanged, back it takes it so.
 * @param spectrum of a size that is a power of two
 * @param sign −1 forwards, +1 back, which gives `size²` times what went in
 */
export function transform({ size, re, im }: Spectrum, sign: 1 | -1): void {
  if (size < 1 || (size & (size - 1)) !== 0) throw new Error('the size of a transform is a power of two');
  const tables = tablesOf(size, sign);
  const rows = (): void => {
    for (let y = 0; y < size; y++)
      transformRow(re.subarray(y * size, (y + 1) * size), im.subarray(y * size, (y + 1) * size), tables);
  };
  rows();
  transpose(re, size);
  transpose(im, size);
  rows();
}

/** One grid of real numbers, or two as real and imaginary part, with zeros about them, before they are transformed. */
export function padded(
  { width, height }: { width: number; height: number },
  size: number,
  first: Float32Array,
  second?: Float32Array,
): Spectrum {
  const laidOut = (values: Float32Array | undefined): Float64Array => {
    const out = new Float64Array(size * size);
    if (values) for (let y = 0; y < height; y++) out.set(values.subarray(y * width, (y + 1) * width), y * size);
    return out;
  };
  return { size, re: laidOut(first), im: laidOut(second) };
}

/**
 * Sums of products of two grids at all shifts: at (dx, dy) that of `a(x, y)·b(x + dx, y + dy)`, shifts counted modulo the size.
 * @param a spectrum of one real grid, or of two as real and imaginary part
 * @param b spectrum of a real grid
 * @returns the sums for the first grid of `a`, and for the second
 */
export function crossCorrelation(a: Spectrum, b: Spectrum): [Float64Array, Float64Array] {
  const { size } = a;
  const product: Spectrum = { size, re: new Float64Array(size * size), im: new Float64Array(size * size) };
  for (let i = 0; i < product.re.length; i++) {
    product.re[i] = a.re[i] * b.re[i] + a.im[i] * b.im[i];
    product.im[i] = a.re[i] * b.im[i] - a.im[i] * b.re[i];
  }
  transform(product, 1);
  const scaled = (values: Float64Array, by: number): Float64Array => values.map((v) => (v * by) / (size * size));
  return [scaled(product.re, 1), scaled(product.im, -1)];
}
