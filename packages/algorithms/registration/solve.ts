import { type Affine, IDENTITY } from '@owl-loom/image/geometry/affine';

export type AlignModel = 'shift' | 'similarity' | 'affine';

/** A point of the target and the point of the reference that it is, with a weight. */
export interface Pair {
  readonly x: number;
  readonly y: number;
  readonly u: number;
  readonly v: number;
  readonly weight: number;
}

/** Fewest pairs that fix a model. */
export const FEWEST_PAIRS: Record<AlignModel, number> = { shift: 1, similarity: 2, affine: 3 };

/** How far a map is from a pair, in pixels of the reference. */
export const pairResidual = (m: Affine, p: Pair): number =>
  Math.hypot(m.xx * p.x + m.xy * p.y + m.tx - p.u, m.yx * p.x + m.yy * p.y + m.ty - p.v);

function means(pairs: readonly Pair[]) {
  let [w, x, y, u, v] = [0, 0, 0, 0, 0];
  for (const p of pairs) {
    w += p.weight;
    x += p.weight * p.x;
    y += p.weight * p.y;
    u += p.weight * p.u;
    v += p.weight * p.v;
  }
  return { x: x / w, y: y / w, u: u / w, v: v / w };
}

/**
 * The map that brings the pairs together with the least weighted squares.
 * @param mirrored whether a similarity turns the picture over
 * @returns undefined where the pairs do not fix it
 */
export function fitTransform(pairs: readonly Pair[], model: AlignModel, mirrored: boolean): Affine | undefined {
  if (pairs.length < FEWEST_PAIRS[model]) return undefined;
  const c = means(pairs);
  let linear: Pick<Affine, 'xx' | 'xy' | 'yx' | 'yy'> = IDENTITY;
  if (model !== 'shift') {
    let [sxx, sxy, syy, sxu, syu, sxv, syv] = [0, 0, 0, 0, 0, 0, 0];
    for (const p of pairs) {
      const [x, y, u, v] = [p.x - c.x, p.y - c.y, p.u - c.u, p.v - c.v];
      sxx += p.weight * x * x;
      sxy += p.weight * x * y;
      syy += p.weight * y * y;
      sxu += p.weight * x * u;
      syu += p.weight * y * u;
      sxv += p.weight * x * v;
      syv += p.weight * y * v;
    }
    if (model === 'affine') {
      const d = sxx * syy - sxy * sxy;
      if (!(d > 1e-9 * sxx * syy)) return undefined;
      linear = {
        xx: (sxu * syy - syu * sxy) / d,
        xy: (syu * sxx - sxu * sxy) / d,
        yx: (sxv * syy - syv * sxy) / d,
        yy: (syv * sxx - sxv * sxy) / d,
      };
    } else {
      // A mirrored similarity is a plain one of the picture whose x runs the other way.
      const s = mirrored ? -1 : 1;
      const norm = sxx + syy;
      if (!(norm > 0)) return undefined;
      const cos = (s * sxu + syv) / norm;
      const sin = (s * sxv - syu) / norm;
      linear = { xx: s * cos, xy: -sin, yx: s * sin, yy: cos };
    }
  }
  return { ...linear, tx: c.u - linear.xx * c.x - linear.xy * c.y, ty: c.v - linear.yx * c.x - linear.yy * c.y };
}
