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
