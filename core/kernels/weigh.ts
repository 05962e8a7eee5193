import { overPlanes } from './planes';
import { simd } from './wasm';

/**
 * target = add + Σ factors[k]·planes[k], pixel by pixel; NaN where any plane has none.
 * @returns whether any pixel is NaN
 */
export function weigh(
  planes: readonly Float32Array[],
  factors: readonly number[],
  add: number,
  target: Float32Array,
): boolean {
  const wasm = simd();
  if (!wasm || planes.length > MOST) return weighPlain(planes, factors, add, target);
  let holes = false;
  overPlanes(wasm, planes, [target], (n, from, [to]) => {
    const pointers = wasm.pointers(from);
    holes = wasm.run.weigh(pointers, wasm.numbers(factors), planes.length, n, add, to) === 1 || holes;
  });
  return holes;
}

/** Planes that the kernels' memory holds pieces of at a time. */
const MOST = 24;

/** {@link weigh} in plain TypeScript, in double precision: the reference. */
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
export interface Part {
  readonly factor: number;
  readonly add: number;
  /** What it counts where shares are taken of the planes present. */
  readonly weight: number;
}

/**
 * Fills the pixels that are NaN by the sum over the planes that have data there, `Σ (add + factor·x)`, over the sum of their weights where
 * shares are taken. Those that are there stay as they are, so that no pixel hangs on whether another has a hole.
 * @param marks is set to 1 where only some of the planes have data
 */
export function weighPresent(
  planes: readonly Float32Array[],
  parts: readonly Part[],
  share: boolean,
  target: Float32Array,
  marks: Float32Array,
): void {
  const wasm = simd();
  if (!wasm || planes.length > MOST) {
    weighPresentPlain(planes, parts, share, target, marks);
    return;
  }
  const numbers = [...parts.map((p) => p.factor), ...parts.map((p) => p.add), ...parts.map((p) => p.weight)];
  overPlanes(wasm, [...planes, target, marks], [target, marks], (n, from, [to, marked]) => {
    // Target and marks are brought as inputs as well: what stands in them stays.
    const [before, held] = from.slice(planes.length);
    if (before !== to) wasm.floats(to, n).set(wasm.floats(before, n));
    wasm.run.weighPresent(wasm.pointers(from), wasm.numbers(numbers), planes.length, n, share ? 1 : 0, to, held);
    if (held !== marked) wasm.floats(marked, n).set(wasm.floats(held, n));
  });
}

/** {@link weighPresent} in plain TypeScript, in double precision: the reference. */
export function weighPresentPlain(
  planes: readonly Float32Array[],
  parts: readonly Part[],
  share: boolean,
  target: Float32Array,
  marks: Float32Array,
): void {
  for (let i = 0; i < target.length; i++) {
    if (target[i] === target[i]) continue;
    let [sum, weight, there] = [0, 0, 0];
    for (let k = 0; k < planes.length; k++) {
      const x = planes[k][i];
      if (x !== x) continue;
      there++;
      sum += parts[k].add + parts[k].factor * x;
      weight += parts[k].weight;
    }
    target[i] = there === 0 ? Number.NaN : share ? sum / weight : sum;
    if (there > 0 && there < planes.length) marks[i] = 1;
  }
}
