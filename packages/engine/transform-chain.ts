import {
  type Affine,
  IDENTITY,
  affineAtLevel,
  compose,
  invertAffine,
  isPixelAligned,
  mapRect,
} from '@owl-loom/image/geometry/affine';
import { copyPixelAligned, lanczosMargin, resample } from '@owl-loom/image/kernels/lanczos';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { NodeKernel } from './node-kernel';
import type { Measurement, MeasurementSpec } from './measurements/index';

/** One move of an image: where its pixels go, once its measurements are taken. */
export interface GeometricMove<R = unknown> {
  readonly figures: readonly MeasurementSpec[];
  readonly map: (figures: readonly Measurement[]) => Affine;
  /** What the report says of it. */
  readonly describe?: (figures: readonly Measurement[]) => R;
  /** Everything besides the measurements on which the map depends. */
  readonly params: unknown;
}

/** How an image came to lie where it does: an image that has not been moved, and the moves since. */
export interface TransformChain {
  /** Node of the image before the first move. */
  readonly node: number;
  readonly extent: Rect;
  readonly moves: readonly GeometricMove[];
}

/** All moves as one map of full-size pixels. */
function composeMoves(moves: readonly GeometricMove[], figures: readonly Measurement[]): Affine {
  let at = 0;
  return moves.reduce((map, move) => {
    const own = figures.slice(at, at + move.figures.length);
    at += move.figures.length;
    return compose(map, move.map(own));
  }, IDENTITY);
}

/** The kernel that makes all moves in one resampling; its only input is the unmoved image, its measurements are those of the moves in order. */
export function resampleKernel(moves: readonly GeometricMove[]): NodeKernel {
  const back = (figures: readonly Measurement[], level: number): Affine => {
    const map = composeMoves(moves, figures);
    return invertAffine(affineAtLevel(map, level));
  };
  return {
    inputRoi: (rect, level, _input, figures) => {
      const map = back(figures, level);
      return mapRect(map, rect, isPixelAligned(map) ? 0 : lanczosMargin(map));
    },
    prepare: (figures, level) => {
      const map = back(figures, level);
      const move = isPixelAligned(map) ? copyPixelAligned : resample;
      return ([input], out) => out.planes.forEach((to, p) => move(input.planes[p], input.rect, map, to, out.rect));
    },
    report: (figures) => {
      const last = moves[moves.length - 1];
      return last.describe?.(figures.slice(figures.length - last.figures.length));
    },
  };
}

/** Where an image can have data after all moves, as far as that is known before anything is measured. */
export function transformedExtent(geometry: TransformChain, frame: Rect): Rect {
  const fixed = geometry.moves.every((move) => move.figures.length === 0);
  return fixed ? mapRect(composeMoves(geometry.moves, []), geometry.extent) : frame;
}
