import type { Affine } from '../geometry/affine';
import { copyPlane } from '../raster/raster';
import { intersect, isEmpty, type Rect } from '../geometry/rect';
import { LOBES, TABLE } from './lanczos-table';
import type { WasmKernels } from './wasm';

/** Side of the squares that the output is made in: what they need of the source stays in the cache. */
const SIDE = 256;

/** The table of weights in rows of eight, two of them 0. */
const EIGHTS = new Float32Array((TABLE.length / 6) * 8);
for (let i = 0; i < TABLE.length; i++) EIGHTS[Math.floor(i / 6) * 8 + (i % 6)] = TABLE[i];

/** `resamplePlain` of `./lanczos` in WebAssembly, in single precision where that one sums in double. */
export function resampleSimd(
  wasm: WasmKernels,
  source: Float32Array,
  sourceRect: Rect,
  back: Affine,
  out: Float32Array,
  outRect: Rect,
): void {
  wasm.resetArena();
  const tableAt = wasm.allocFrom(EIGHTS);
  const ownAt = wasm.alloc(128);
  const max = (a: number, b: number) => Math.ceil(SIDE * (Math.abs(a) + Math.abs(b))) + 2 * LOBES + 4;
  const fromAt = wasm.alloc(max(back.xx, back.xy) * max(back.yx, back.yy));
  const outAt = wasm.alloc(SIDE * SIDE);
  for (let y = 0; y < outRect.height; y += SIDE) {
    for (let x = 0; x < outRect.width; x += SIDE) {
      const tile = {
        x: outRect.x + x,
        y: outRect.y + y,
        width: Math.min(SIDE, outRect.width - x),
        height: Math.min(SIDE, outRect.height - y),
      };
      const need = intersect(reached(back, tile), sourceRect);
      const made = wasm.floats(outAt, tile.width * tile.height);
      if (isEmpty(need)) made.fill(Number.NaN);
      else {
        copyPlane(source, sourceRect, wasm.floats(fromAt, need.width * need.height), need);
        const tx = back.xx * tile.x + back.xy * tile.y + back.tx - need.x;
        const ty = back.yx * tile.x + back.yy * tile.y + back.ty - need.y;
        wasm.run.resample(
          fromAt,
          need.width,
          need.height,
          tableAt,
          ownAt,
          back.xx,
          back.xy,
          tx,
          back.yx,
          back.yy,
          ty,
          outAt,
          tile.width,
          tile.height,
        );
      }
      copyPlane(made, tile, out, outRect);
    }
  }
}

/** The source pixels that the pixels of a rectangle are made of. */
function reached(back: Affine, { x, y, width, height }: Rect): Rect {
  const xs = [x, x + width - 1].flatMap((u) => [y, y + height - 1].map((v) => back.xx * u + back.xy * v + back.tx));
  const ys = [x, x + width - 1].flatMap((u) => [y, y + height - 1].map((v) => back.yx * u + back.yy * v + back.ty));
  const left = Math.floor(Math.min(...xs)) - LOBES;
  const bottom = Math.floor(Math.min(...ys)) - LOBES;
  return {
    x: left,
    y: bottom,
    width: Math.floor(Math.max(...xs)) + LOBES + 2 - left,
    height: Math.floor(Math.max(...ys)) + LOBES + 2 - bottom,
  };
}
