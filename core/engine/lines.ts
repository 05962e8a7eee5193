import type { Figure } from '../figures/index';
import { overPlanes } from '../kernels/planes';
import { simd } from '../kernels/wasm';
import type { Apply, Kernel, Lines } from './kernel';

/** `a + b·x`, one pair a plane, or one for all. */
export function applyLines({ a, b }: Lines): Apply {
  const wasm = simd();
  return ([input], out) => {
    out.planes.forEach((to, p) => {
      const from = input.planes[p];
      const [add, by] = [a[p % a.length], b[p % b.length]];
      if (wasm) overPlanes(wasm, [from], [to], (n, [source], [target]) => wasm.run.affine(source, n, add, by, target));
      else for (let i = 0; i < to.length; i++) to[i] = add + by * from[i];
    });
  };
}

/** A kernel that is nothing but `a + b·x`. */
export const linesKernel = (lines: (figures: readonly Figure[]) => Lines, describe?: Kernel['describe']): Kernel => ({
  bind: (figures) => applyLines(lines(figures)),
  lines,
  ...(describe && { describe }),
});

/** `1 − x`. */
export const INVERSE: Kernel = linesKernel(() => ({ a: [1], b: [-1] }));
