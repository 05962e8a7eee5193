// The kernels that run as WebAssembly with SIMD, in AssemblyScript. `node tools/kernels.mjs` compiles them into `../simd-bytes.ts`.
// The host lays out the memory from `floor()` on; nothing here allocates.
export { fromBytes, fromFloats, fromShorts, halve, toFloats } from './bytes';
export { cubicRow, gather, means, spread } from './cells';
export { columns, difference, holed, part, ratio, rows } from './smooth';
export { hueShares, labColours, workColours } from './oklab';
export { between, peaks } from './peaks';
export { formula, narrow, widen } from './formula';
export { light } from './light';
export { lay, mix, weigh, weighPresent } from './lay';
export { layColours } from './lay-colours';
export { resample } from './resample';
export { rgba } from './rgba';
export { near, pairs } from './pairs';
export { atLeast, greatest, present } from './present';
export { shapes } from './shape';
export { offSurface } from './surface';
export { bins, collect, equal, moments } from './tally';
export { affine, stretch, stretchHue } from './tone';

/** The first byte that the host may use. */
export function floor(): usize {
  return __heap_base;
}
