/** What core/kernels/simd-bytes.ts must hold. */
export function kernelsModule(): Promise<string>;
