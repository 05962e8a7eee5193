import { stagingAddressOf, runOnPlanes, PIECE } from './planes';
import { wasmKernels } from './wasm';

/**
 * target = add + Σ factors[k]·planes[k], pixel by pixel; NaN where any plane has none.
 * @returns whether any pixel is NaN
 */
export function weightedSum(
  planes: readonly Float32Array[],
  factors: readonly number[],
  add: number,
  target: Float32Array,
): boolean {
  const wasm = wasmKernels();
  if (!wasm || planes.length > MOST) return weighPlain(planes, factors, add, target);
  let holes = false;
  runOnPlanes(wasm, planes, [target], (n, from, [to]) => {
    const pointers = wasm.pointers(from);
    holes = wasm.run.weigh(pointers, wasm.numbers(factors), planes.length, n, add, to) === 1 || holes;
  });
  return holes;
}

/** Planes that the kernels' memory holds pieces of at a time. */
const MOST = 24;

/** {@link weightedSum} in plain TypeScript, in double precision: the reference. */
export function weighPlain(
  planes: readonly Float32Array[],
  factors: readonly number[],
  add: number,
  target: Float32Array,
): boolean {
  let holes = false;
  for (let i = 0; i < target.length; i++) {
    let sum = add;
    for (let k = 0; k < planes.length; k++) sum += factors[k] * planes[k][i];
    if (sum !== sum) holes = true;
    target[i] = sum;
  }
  return holes;
}

/** A plane's part in a sum over what is there. */
export interface Term {
  readonly factor: number;
  readonly add: number;
  /** What it counts where shares are taken of the planes present. */
  readonly weight: number;
}

/** Pixels that only some of the planes cover: 1 where one was found. */
export type Marks = () => Float32Array;

/**
 * The sum over the planes that have data at each pixel, `Σ (add + factor·x)`, over the sum of their weights where shares are taken. Where all
 * have data no pixel hangs on whether another has a hole: it is the plain sum.
 * @param marks is asked for where there is a hole, and set to 1 where only some of the planes have data
 * @returns how many pixels were marked that had not been
 */
export function weightedSumOfValid(
  planes: readonly Float32Array[],
  parts: readonly Term[],
  share: boolean,
  target: Float32Array,
  marks: Marks,
): number {
  const wasm = wasmKernels();
  if (!wasm || planes.length > MOST) return weighPresentPlain(planes, parts, share, target, marks);
  const { factors, add } = whole(parts, share);
  const numbers = [...parts.map((p) => p.factor), ...parts.map((p) => p.add), ...parts.map((p) => p.weight)];
  let marked = 0;
  runOnPlanes(wasm, planes, [target], (n, from, [to], at) => {
    const [pointers, count] = [wasm.pointers(from), planes.length];
    const holes = wasm.run.weigh(pointers, wasm.numbers(factors), count, n, add, to) === 1;
    // What a single plane lacks no other has.
    if (!holes || count === 1) return;
    const step = Math.min(n, PIECE);
    for (let i = 0; i < n; i += step) {
      const length = Math.min(step, n - i);
      const held = stagingAddressOf(wasm, count + 1);
      const own = marks().subarray(at + i, at + i + length);
      wasm.floats(held, length).set(own);
      const shifted = wasm.pointers(from.map((address) => address + 4 * i));
      marked += wasm.run.weighPresent(shifted, wasm.numbers(numbers), count, length, share ? 1 : 0, to + 4 * i, held);
      own.set(wasm.floats(held, length));
    }
  });
  return marked;
}

/** Factors and sum of adds where all planes are there. */
function whole(parts: readonly Term[], share: boolean): { factors: number[]; add: number } {
  const total = (of: (part: Term) => number) => parts.reduce((sum, part) => sum + of(part), 0);
  const over = share ? 1 / total((part) => part.weight) : 1;
  return { factors: parts.map((part) => part.factor * over), add: total((part) => part.add) * over };
}

/** {@link weightedSumOfValid} in plain TypeScript, in double precision: the reference. */
export function weighPresentPlain(
  planes: readonly Float32Array[],
  parts: readonly Term[],
  share: boolean,
  target: Float32Array,
  marks: Marks,
): number {
  let marked = 0;
  for (let i = 0; i < target.length; i++) {
    let [sum, weight, there] = [0, 0, 0];
    for (let k = 0; k < planes.length; k++) {
      const x = planes[k][i];
      if (x !== x) continue;
      there++;
      sum += parts[k].add + parts[k].factor * x;
      weight += parts[k].weight;
    }
    target[i] = there === 0 ? Number.NaN : share ? sum / weight : sum;
    if (there === 0 || there === planes.length || marks()[i] === 1) continue;
    marks()[i] = 1;
    marked++;
  }
  return marked;
}
