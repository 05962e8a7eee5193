import type { Graph } from '@owl-loom/engine/graph';
import type { ChangeRef } from './protocol';
import { planeOf, type Raster } from '@owl-loom/image/raster/raster';

/** The least change that a picture of 8 bits can show. */
const SEEN = 1 / 255;

/**
 * What a change comes to, and what it was before: of a layer the cloth up to it and the cloth below, nothing for the lowest, which lies on
 * black; of a step its image and what comes into it.
 */
export function changeEndpoints(
  { byPath }: Graph,
  { path, before }: ChangeRef,
): { after: number; before: number | undefined } | undefined {
  if (before !== undefined) {
    const [from, to] = [byPath.get(before), byPath.get(path)];
    return from === undefined || to === undefined ? undefined : { after: to, before: from };
  }
  const after = byPath.get(`${path}@cloth`);
  const [, list, index] = /^(.*)\[(\d+)\]$/.exec(path) ?? [];
  if (after === undefined || list === undefined) return undefined;
  return { after, before: byPath.get(`${list}[${Number(index) - 1}]@cloth`) };
}

/**
 * Where an image differs from the one before it by more than 1/255 in any plane, or has data where that has none: 1 there, 0 elsewhere, no
 * data where it has none itself.
 * @param before of the same pixels; black where there is none
 */
export function changedPixels(before: Raster | undefined, after: Raster): Float32Array {
  const out = new Float32Array(after.planes[0].length);
  const count = Math.max(after.planes.length, before?.planes.length ?? 1);
  for (let p = 0; p < count; p++) {
    const to = planeOf(after, p);
    const from = before && planeOf(before, p);
    for (let i = 0; i < out.length; i++) {
      const [a, b] = [to[i], from ? from[i] : 0];
      if (a !== a) out[i] = Number.NaN;
      // Written so that no data before counts as a change.
      else if (!(Math.abs(a - b) <= SEEN)) out[i] = 1;
    }
  }
  return out;
}

/** Share of the pixels with data that are 1; null where none has. */
export function shareOf(touched: Float32Array): number | null {
  let [seen, with1] = [0, 0];
  for (const v of touched) {
    if (v !== v) continue;
    seen++;
    if (v === 1) with1++;
  }
  return seen > 0 ? with1 / seen : null;
}
