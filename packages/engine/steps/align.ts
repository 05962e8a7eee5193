import { alignWcs } from '@owl-loom/algorithms/registration/align';
import { type Affine, determinant } from '@owl-loom/image/geometry/affine';
import type { Wcs } from '@owl-loom/image/fits/wcs';
import { UserError } from '@owl-loom/base/errors';
import { expectKind } from '../measurements/index';
import type { ImageInfo } from '../node-kernel';
import { implementStep } from './step-implementation';
import { align as spec } from '@owl-loom/recipe/steps/align';

/** A matrix as the report and the command give it. */
export const affineMatrix = (m: Affine): number[][] => [
  [m.xx, m.xy, m.tx],
  [m.yx, m.yy, m.ty],
];

function wcsOf(image: ImageInfo, which: string, path: string): Wcs {
  const { wcs } = image;
  if (!wcs)
    throw new UserError(
      'align-no-wcs',
      `No usable WCS for ${which}: missing in the header, or lost by an earlier step. Align by stars or by structures.`,
      path,
    );
  if ('trouble' in wcs)
    throw new UserError('align-bad-wcs', `The WCS of ${which} cannot be used: ${wcs.trouble}. Align by stars.`, path);
  return wcs;
}

/** A map pinned by `hold: { matrix: [m00, m01, tx, m10, m11, ty] }`. */
function heldMap(value: unknown, path: string): Affine | undefined {
  if (value === undefined) return undefined;
  if (!Array.isArray(value) || value.length !== 6)
    throw new UserError(
      'hold-matrix',
      'A pinned matrix has six numbers: m00, m01, tx, m10, m11, ty.',
      `${path}.hold.matrix`,
    );
  const [xx, xy, tx, yx, yy, ty] = value as number[];
  const map = { xx, xy, tx, yx, yy, ty };
  if (!(Math.abs(determinant(map)) > 1e-9))
    throw new UserError('hold-matrix', 'The pinned matrix is singular.', `${path}.hold.matrix`);
  return map;
}

/** Brings an image onto another strand's pixels: by its stars, by the structures that both show, or by the files' own WCS. */
export const alignStep = implementStep(spec, {
  version: 1,
  move: (p, { input, others, origin, hold, path, withStars }) => {
    const held = heldMap(hold?.matrix, path);
    if (held)
      return {
        figures: [],
        map: () => held,
        describe: () => ({ by: 'held' as const, matrix: affineMatrix(held) }),
        params: held,
      };
    if (p.by === 'wcs') {
      const found = alignWcs(
        wcsOf(input, 'this strand', `${path}.by`),
        wcsOf(others[0], p.to, `${path}.to`),
        origin,
        p.model,
      );
      return {
        figures: [],
        map: () => found.map,
        describe: () => ({
          by: 'wcs' as const,
          matrix: affineMatrix(found.map),
          rms: found.rms,
          mirrored: found.mirrored,
        }),
        params: found.map,
      };
    }
    const nodes =
      p.by === 'structures'
        ? ([input.node, others[0].node] as const)
        : ([withStars(input).node, withStars(others[0]).node] as const);
    return {
      figures: [{ kind: 'align', nodes, model: p.model, ...(p.by === 'structures' && { by: p.by }) }],
      map: ([figure]) => expectKind('align', figure).map,
      describe: ([figure]) => {
        const { map, rms, matched, mirrored, correlation, certainty } = expectKind('align', figure);
        const quality = p.by === 'structures' ? { correlation, certainty } : { matched };
        return { by: p.by, matrix: affineMatrix(map), rms, ...quality, mirrored };
      },
      params: p,
    };
  },
});
