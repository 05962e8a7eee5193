import type { Measurement } from './measurements/index';
import { runOnPlanes } from '@owl-loom/image/kernels/planes';
import { wasmKernels } from '@owl-loom/image/kernels/wasm';
import type { PixelFunction } from '@owl-loom/image/pixel-function';
import type { NodeKernel, LinearMap } from './node-kernel';

/** `a + b·x`, one pair a plane, or one for all. */
export function applyLinearMap({ a, b }: LinearMap): PixelFunction {
  const wasm = wasmKernels();
  return ([input], out) => {
    out.planes.forEach((to, p) => {
      const from = input.planes[p];
      const [add, by] = [a[p % a.length], b[p % b.length]];
      if (wasm) runOnPlanes(wasm, [from], [to], (n, [source], [target]) => wasm.run.affine(source, n, add, by, target));
      else for (let i = 0; i < to.length; i++) to[i] = add + by * from[i];
    });
  };
}

/** A kernel that is nothing but `a + b·x`. */
export const linearKernel = <R = unknown>(
  lines: (figures: readonly Measurement[]) => LinearMap,
  describe?: NodeKernel<R>['report'],
): NodeKernel<R> => ({
  prepare: (figures) => applyLinearMap(lines(figures)),
  linearMap: lines,
  ...(describe && { report: describe }),
});

/** `1 − x`. */
export const ONE_MINUS_KERNEL: NodeKernel = linearKernel(() => ({ a: [1], b: [-1] }));
