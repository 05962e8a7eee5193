import { z } from 'zod';
import { UserError } from '../errors';
import { toFull, toLevel } from '../raster/levels';
import type { Rect } from '../raster/rect';
import { stepKind } from './kind';

/** A map of whole pixels: `x' = xx·x + xy·y + tx`, `y' = yx·x + yy·y + ty`, the four factors −1, 0 or 1. */
export interface GridMap {
  readonly xx: number;
  readonly xy: number;
  readonly yx: number;
  readonly yy: number;
  readonly tx: number;
  readonly ty: number;
}

/** Quarter turns run counter-clockwise as seen on the picture; the flip comes after the turn. */
export function turnAndFlip(turn: 0 | 90 | 180 | 270, flip: 'none' | 'horizontal' | 'vertical'): Omit<GridMap, 'tx' | 'ty'> {
  const [cos, sin] = { 0: [1, 0], 90: [0, 1], 180: [-1, 0], 270: [0, -1] }[turn];
  const fx = flip === 'horizontal' ? -1 : 1;
  const fy = flip === 'vertical' ? -1 : 1;
  // Adding 0 turns −0 into 0, which compares and prints as people expect.
  return { xx: fx * cos + 0, xy: -fx * sin + 0, yx: fy * sin + 0, yy: fy * cos + 0 };
}

/** The map that undoes another: for these factors the inverse is the transpose. */
export function inverse(m: GridMap): GridMap {
  const linear = { xx: m.xx, xy: m.yx, yx: m.xy, yy: m.yy };
  return { ...linear, tx: -(linear.xx * m.tx + linear.xy * m.ty) + 0, ty: -(linear.yx * m.tx + linear.yy * m.ty) + 0 };
}

/** Where a rectangle of pixels goes. */
export function mapRect(m: GridMap, r: Rect): Rect {
  const corner = (x: number, y: number) => [m.xx * x + m.xy * y + m.tx, m.yx * x + m.yy * y + m.ty];
  const [x0, y0] = corner(r.x, r.y);
  const [x1, y1] = corner(r.x + r.width - 1, r.y + r.height - 1);
  return { x: Math.min(x0, x1), y: Math.min(y0, y1), width: Math.abs(x1 - x0) + 1, height: Math.abs(y1 - y0) + 1 };
}

const params = z.strictObject({
  turn: z.union([z.literal(0), z.literal(90), z.literal(180), z.literal(270)]).default(0),
  flip: z.enum(['none', 'horizontal', 'vertical']).default('none'),
  degrees: z.number().default(0),
  dx: z.number().default(0),
  dy: z.number().default(0),
  size: z.number().positive().default(1),
});

/**
 * Moves an image by hand about the middle of its own picture: turn, then flip, then shift (dx to the right, dy up).
 * Where a quarter turn of a picture with one odd side would land between pixels, it lands on the pixel below.
 */
export const place = stepKind({
  do: 'place',
  version: 1,
  params,
  takes: { planes: 'either', domain: 'either' },
  gives: { domain: 'same' },
  build: (p, { input, origin, path }) => {
    for (const name of ['degrees', 'size', 'dx', 'dy'] as const) {
      const fine = name === 'size' ? p.size === 1 : name === 'degrees' ? p.degrees === 0 : Number.isInteger(p[name]);
      if (!fine) {
        throw new UserError('not-available', `place with ${name === 'size' || name === 'degrees' ? name : 'a fraction of a pixel'} is not available yet; whole pixels, quarter turns and flips are.`, `${path}.${name}`);
      }
    }
    const linear = turnAndFlip(p.turn, p.flip);
    const cx = origin.x + (origin.width - 1) / 2;
    const cy = origin.y + (origin.height - 1) / 2;
    const forward: GridMap = {
      ...linear,
      tx: Math.floor(cx - linear.xx * cx - linear.xy * cy + p.dx),
      ty: Math.floor(cy - linear.yx * cx - linear.yy * cy + p.dy),
    };
    const back = inverse(forward);
    const source = (x: number, y: number, level: number): [number, number] => {
      const fx = toFull(x, level);
      const fy = toFull(y, level);
      return [
        Math.round(toLevel(back.xx * fx + back.xy * fy + back.tx, level)),
        Math.round(toLevel(back.yx * fx + back.yy * fy + back.ty, level)),
      ];
    };
    return {
      kernel: {
        needs: (rect, level) => {
          const [x0, y0] = source(rect.x, rect.y, level);
          const [x1, y1] = source(rect.x + rect.width - 1, rect.y + rect.height - 1, level);
          return { x: Math.min(x0, x1), y: Math.min(y0, y1), width: Math.abs(x1 - x0) + 1, height: Math.abs(y1 - y0) + 1 };
        },
        bind: (_, level) => (inputs, out) => {
          const input0 = inputs[0];
          const [sx, sy] = source(out.rect.x, out.rect.y, level);
          const w = input0.rect.width;
          const start = (sy - input0.rect.y) * w + (sx - input0.rect.x);
          const alongX = back.xx + back.yx * w;
          const alongY = back.xy + back.yy * w;
          for (let q = 0; q < out.planes.length; q++) {
            const from = input0.planes[q];
            const to = out.planes[q];
            for (let r = 0; r < out.rect.height; r++) {
              let at = start + r * alongY;
              for (let c = 0; c < out.rect.width; c++, at += alongX) to[r * out.rect.width + c] = from[at];
            }
          }
        },
      },
      figures: [],
      planes: input.planes,
      extent: mapRect(forward, input.extent),
    };
  },
});
