import type { Apply } from './kind';

/** `add + multiply · x`, one pair a plane, or one for all. */
export function affine(add: readonly number[], multiply: readonly number[]): Apply {
  return (inputs, out) => {
    const input = inputs[0];
    for (let p = 0; p < out.planes.length; p++) {
      const from = input.planes[p];
      const to = out.planes[p];
      const a = add[p % add.length];
      const b = multiply[p % multiply.length];
      for (let i = 0; i < to.length; i++) to[i] = a + b * from[i];
    }
  };
}
