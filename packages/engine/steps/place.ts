import type { z } from 'zod';
import { type Affine, isPixelAligned } from '@owl-loom/image/geometry/affine';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { implementStep } from './step-implementation';
import { type params, place as spec } from '@owl-loom/recipe/steps/place';

/** Quarter turns run counter-clockwise as seen on the picture; the flip comes after the turn. */
export function turnAndFlip(
  turn: 0 | 90 | 180 | 270,
  flip: 'none' | 'horizontal' | 'vertical' | 'both',
): Pick<Affine, 'xx' | 'xy' | 'yx' | 'yy'> {
  const [cos, sin] = { 0: [1, 0], 90: [0, 1], 180: [-1, 0], 270: [0, -1] }[turn];
  const fx = flip === 'horizontal' || flip === 'both' ? -1 : 1;
  const fy = flip === 'vertical' || flip === 'both' ? -1 : 1;
  // Adding 0 turns −0 into 0, which compares and prints as people expect.
  return { xx: fx * cos + 0, xy: -fx * sin + 0, yx: fy * sin + 0, yy: fy * cos + 0 };
}

/** A map about the middle of a rectangle of pixels, with a shift after it. */
function aboutMiddle(
  linear: Pick<Affine, 'xx' | 'xy' | 'yx' | 'yy'>,
  { x, y, width, height }: Rect,
  dx: number,
  dy: number,
): Affine {
  const cx = x + (width - 1) / 2;
  const cy = y + (height - 1) / 2;
  return { ...linear, tx: cx - linear.xx * cx - linear.xy * cy + dx, ty: cy - linear.yx * cx - linear.yy * cy + dy };
}

/**
 * The map of a placing by hand: quarter turn, flip, free turn (degrees, counter-clockwise as seen), size, shift (dx to the right, dy up).
 * Where quarter turns, flips and whole shifts alone would land between pixels, they land on the pixel below, so that nothing is blurred.
 */
export function placeMap(p: z.output<typeof params>, origin: Rect): Affine {
  const quarter = turnAndFlip(p.turn, p.flip);
  if (p.degrees === 0 && p.size === 1) {
    const map = aboutMiddle(quarter, origin, p.dx, p.dy);
    const whole = { ...map, tx: Math.floor(map.tx), ty: Math.floor(map.ty) };
    return Number.isInteger(p.dx) && Number.isInteger(p.dy) && isPixelAligned(whole) ? whole : map;
  }
  const angle = (p.degrees * Math.PI) / 180;
  const [cos, sin] = [p.size * Math.cos(angle), p.size * Math.sin(angle)];
  const linear = {
    xx: cos * quarter.xx - sin * quarter.yx,
    xy: cos * quarter.xy - sin * quarter.yy,
    yx: sin * quarter.xx + cos * quarter.yx,
    yy: sin * quarter.xy + cos * quarter.yy,
  };
  return aboutMiddle(linear, origin, p.dx, p.dy);
}

/** Moves an image by hand about the middle of its own picture; see {@link placeMap}. */
export const placeStep = implementStep(spec, {
  version: 2,
  move: (p, { origin }) => ({ figures: [], map: () => placeMap(p, origin), params: [p, origin] }),
});
