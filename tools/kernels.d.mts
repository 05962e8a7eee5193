/** What packages/image/kernels/simd-bytes.ts must hold. */
export function kernelsModule(): Promise<string>;
