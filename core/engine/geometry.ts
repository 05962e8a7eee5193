import { type Affine, IDENTITY, atLevel, compose, invert, isWholePixels, mapRect } from '../align/affine';
import { copyWhole, marginOf, resample } from '../kernels/lanczos';
import type { Rect } from '../raster/rect';
import type { Kernel } from '../engine/kernel';
import type { Figure, FigureSpec } from '../figures/index';

/** One move of an image: where its pixels go, once its figures are measured. */
export interface Move {
  readonly figures: readonly FigureSpec[];
  readonly map: (figures: readonly Figure[]) => Affine;
  /** What the report says of it. */
  readonly describe?: (figures: readonly Figure[]) => unknown;
  /** Everything besides the figures on which the map depends. */
  readonly params: unknown;
}

/** How an image came to lie where it does: an image that has not been moved, and the moves since. */
export interface Geometry {
  /** Node of the image before the first move. */
  readonly node: number;
  readonly extent: Rect;
  readonly moves: readonly Move[];
}

/** All moves as one map of full-size pixels. */
function mapOf(moves: readonly Move[], figures: readonly Figure[]): Affine {
  let at = 0;
  return moves.reduce((map, move) => {
    const own = figures.slice(at, at + move.figures.length);
    at += move.figures.length;
    return compose(map, move.map(own));
  }, IDENTITY);
}

/** The kernel that makes all moves in one resampling; its only input is the unmoved image, its figures are those of the moves in order. */
export function movesKernel(moves: readonly Move[]): Kernel {
  const back = (figures: readonly Figure[], level: number): Affine => {
    const map = mapOf(moves, figures);
    return invert(atLevel(map, level));
  };
  return {
    needs: (rect, level, _input, figures) => {
      const map = back(figures, level);
      return mapRect(map, rect, isWholePixels(map) ? 0 : marginOf(map));
    },
    bind: (figures, level) => {
      const map = back(figures, level);
      const move = isWholePixels(map) ? copyWhole : resample;
      return ([input], out) => out.planes.forEach((to, p) => move(input.planes[p], input.rect, map, to, out.rect));
    },
    describe: (figures) => {
      const last = moves[moves.length - 1];
      return last.describe?.(figures.slice(figures.length - last.figures.length));
    },
  };
}

/** Where an image can have data after all moves, as far as that is known before anything is measured. */
export function movedExtent(geometry: Geometry, frame: Rect): Rect {
  const fixed = geometry.moves.every((move) => move.figures.length === 0);
  return fixed ? mapRect(mapOf(geometry.moves, []), geometry.extent) : frame;
}
